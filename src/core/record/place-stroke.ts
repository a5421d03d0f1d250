import { earlyReachTicks, type GridName } from "../time/grid";
import { toLap } from "../time/lap";
import type { LoopSpan } from "../time/loop-span";
import type { Ticks } from "../time/ticks";

/** Which lap a stroke belongs to and where in its pattern; `early` when it was played before the lap it belongs to. */
export interface StrokePlace {
  readonly lap: number;
  /** From the pattern's start; negative when it was early on the pattern's downbeat. */
  readonly playedTicks: Ticks;
  readonly early: boolean;
}

/**
 * Puts a stroke into the loop. Within half a step of the input grid before the loop's end, or before the end of the
 * count-in, it belongs to the downbeat of the lap that follows.
 * @param transportTicks when it was played, from the first downbeat; negative in the count-in
 * @returns undefined for a stroke in the count-in that is not an early downbeat
 * @example placeStroke(-20 as Ticks, { startTicks: 0, lengthTicks: 7680 }, 3840 as Ticks, "1/16").playedTicks // -20
 */
export function placeStroke(
  transportTicks: Ticks,
  { startTicks, lengthTicks }: LoopSpan,
  barTicks: Ticks,
  grid: GridName,
): StrokePlace | undefined {
  const { lap, loopTicks } = toLap(transportTicks, lengthTicks);
  const toEnd = lengthTicks - loopTicks;
  const early = toEnd <= earlyReachTicks(grid, barTicks, (startTicks + lengthTicks) as Ticks);
  const place = early
    ? { lap: lap + 1, playedTicks: (startTicks - toEnd) as Ticks, early }
    : { lap, playedTicks: (startTicks + loopTicks) as Ticks, early };
  return place.lap < 0 ? undefined : place;
}
