import type { QuantizeSettings } from "./beat";

/** Settings with a change; an empty mix is none. */
export function changeQuantize(settings: QuantizeSettings, change: Partial<QuantizeSettings>): QuantizeSettings {
  const { mix, adaptive, ends, ...rest } = { ...settings, ...change };
  const next = ends === undefined ? rest : { ...rest, ends };
  if (!mix || mix.length === 0 || next.grid === "off") return next;
  return { ...next, mix, ...(adaptive && { adaptive }) };
}
