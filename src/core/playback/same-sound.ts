import type { ResolvedHit } from "../timing/resolved-hit";

/**
 * True where hits sound as others did.
 * @param ringsOut how long a hit was held changes nothing then, unless it was choked
 */
export function sameSound(before: readonly ResolvedHit[], now: readonly ResolvedHit[], ringsOut: boolean): boolean {
  if (before.length !== now.length) return false;
  return now.every((one, index) => one === before[index] || sameHit(one, before[index]!, ringsOut));
}

function sameHit(a: ResolvedHit, b: ResolvedHit, ringsOut: boolean): boolean {
  const held = !ringsOut || a.hit.choked === true;
  return (
    a.hit.id === b.hit.id &&
    a.hit.lane === b.hit.lane &&
    a.passId === b.passId &&
    a.ticks === b.ticks &&
    a.line === b.line &&
    a.duplicateOnLine === b.duplicateOnLine &&
    a.velocity === b.velocity &&
    a.hit.choked === b.hit.choked &&
    (!held || a.lengthTicks === b.lengthTicks)
  );
}
