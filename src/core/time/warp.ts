import type { Ticks } from "./ticks";

/**
 * A map of musical time onto itself that repeats every cycle: at `from[i]` of a cycle it is `to[i]`, straight between.
 * `from` ascends from 0 to `cycleTicks`; `to` never falls and ends a cycle above its first value, which need not be 0.
 */
export interface Warp {
  readonly cycleTicks: Ticks;
  readonly from: readonly number[];
  readonly to: readonly number[];
}

/**
 * Where a position lands; order is kept.
 * @example warpTicks(swingWarp({ ratio: 2 / 3, unit: "1/8" }, { beats: 2, unit: 4 }), 480) // 640
 */
export function warpTicks(warp: Warp | undefined, ticks: Ticks): Ticks {
  if (!warp) return ticks;
  return through(warp.from, warp.to, 0, warp.cycleTicks, ticks);
}

/**
 * The inverse of warpTicks; where several positions land on one, the first of them.
 * @example unwarpTicks(swingWarp({ ratio: 2 / 3, unit: "1/8" }, { beats: 2, unit: 4 }), 640) // 480
 */
export function unwarpTicks(warp: Warp | undefined, ticks: Ticks): Ticks {
  if (!warp) return ticks;
  return through(warp.to, warp.from, warp.to[0]!, warp.cycleTicks, ticks);
}

function through(from: readonly number[], to: readonly number[], start: number, cycle: number, ticks: number): Ticks {
  const offset = Math.floor((ticks - start) / cycle) * cycle;
  const inside = ticks - offset;
  let low = 0;
  let high = from.length - 1;
  while (high - low > 1) {
    const middle = (low + high) >> 1;
    if (inside >= from[middle]!) low = middle;
    else high = middle;
  }
  const wide = from[high]! - from[low]!;
  const share = wide === 0 ? 0 : (inside - from[low]!) / wide;
  return (offset + to[low]! + share * (to[high]! - to[low]!)) as Ticks;
}
