import { earlyReachTicks, type GridName } from "../time/grid";
import { toLap } from "../time/lap";
import type { Ticks } from "../time/ticks";

/** Which lap a stroke belongs to and where in it; `playedTicks` is negative when it was early on the downbeat. */
export interface StrokePlace {
  readonly lap: number;
  readonly playedTicks: Ticks;
}

/**
 * Puts a stroke into the loop. Within half a step of the input grid before the loop's end, or before the end of the
 * count-in, it belongs to line 0 of the lap that follows.
 * @param transportTicks when it was played, from the first downbeat; negative in the count-in
 * @returns undefined for a stroke in the count-in that is not an early downbeat
 * @example placeStroke(-20 as Ticks, 7680 as Ticks, 3840 as Ticks, "1/16") // { lap: 0, playedTicks: -20 }
 */
export function placeStroke(
  transportTicks: Ticks,
  lengthTicks: Ticks,
  barTicks: Ticks,
  grid: GridName,
): StrokePlace | undefined {
  const { lap, loopTicks } = toLap(transportTicks, lengthTicks);
  const early = lengthTicks - loopTicks <= earlyReachTicks(grid, barTicks);
  const place = early
    ? { lap: lap + 1, playedTicks: (loopTicks - lengthTicks) as Ticks }
    : { lap, playedTicks: loopTicks };
  return place.lap < 0 ? undefined : place;
}
