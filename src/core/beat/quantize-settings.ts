import type { QuantizeSettings } from "./beat";

/** What is given as undefined goes. */
export type QuantizeChange = Partial<Pick<QuantizeSettings, "grid" | "strength" | "reach">> & {
  readonly [Key in "mix" | "adaptive" | "ends"]?: QuantizeSettings[Key] | undefined;
};

/**
 * True where both correct alike; a mix is the same only in the same order, which decides between equals.
 * @example sameQuantize({ grid: "1/8", strength: 1, reach: 1 }, { grid: "1/8", strength: 1, reach: 1 }) // true
 */
export function sameQuantize(a: QuantizeSettings, b: QuantizeSettings): boolean {
  return (
    a === b ||
    (a.grid === b.grid &&
      a.strength === b.strength &&
      a.reach === b.reach &&
      a.adaptive === b.adaptive &&
      a.ends === b.ends &&
      a.mix?.join() === b.mix?.join())
  );
}

/**
 * Settings with a change; an empty mix is none.
 * @example changeQuantize({ grid: "1/8", strength: 1, reach: 1 }, { strength: 0.6 }) // { grid: "1/8", strength: 0.6, reach: 1 }
 */
export function changeQuantize(settings: QuantizeSettings, change: QuantizeChange): QuantizeSettings {
  const { mix, adaptive, ends, ...rest } = { ...settings, ...change };
  const next = ends === undefined ? rest : { ...rest, ends };
  if (!mix || mix.length === 0 || next.grid === "off") return next;
  return { ...next, mix, ...(adaptive && { adaptive }) };
}
