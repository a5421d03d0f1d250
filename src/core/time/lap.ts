import type { Ticks } from "./ticks";

/** Where a transport position falls in a loop: which trip round it (from 0), and how far into it. */
export interface LapPosition {
  readonly lap: number;
  readonly loopTicks: Ticks;
}

/**
 * @param transportTicks counted from the first downbeat; negative in the count-in, which is lap -1
 * @param lengthTicks the loop's length, > 0
 * @example toLap(7690 as Ticks, 7680 as Ticks) // { lap: 1, loopTicks: 10 }
 */
export function toLap(transportTicks: Ticks, lengthTicks: Ticks): LapPosition {
  const lap = Math.floor(transportTicks / lengthTicks);
  return { lap, loopTicks: (transportTicks - lap * lengthTicks) as Ticks };
}
