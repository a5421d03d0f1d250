import type { Ticks } from "./ticks";

/**
 * A map of musical time onto itself that repeats every cycle: at `from[i]` of a cycle it is `to[i]`, straight between.
 * Both lists ascend from 0 to `cycleTicks`.
 */
export interface Warp {
  readonly cycleTicks: Ticks;
  readonly from: readonly number[];
  readonly to: readonly number[];
}

/** Where a position lands; order is kept, and every cycle's start stays where it is. */
export function warpTicks(warp: Warp | undefined, ticks: Ticks): Ticks {
  if (!warp) return ticks;
  const { cycleTicks, from, to } = warp;
  const cycle = Math.floor(ticks / cycleTicks) * cycleTicks;
  const inside = ticks - cycle;
  let index = 1;
  while (index < from.length - 1 && inside >= from[index]) index++;
  const share = (inside - from[index - 1]) / (from[index] - from[index - 1]);
  return (cycle + to[index - 1] + share * (to[index] - to[index - 1])) as Ticks;
}
