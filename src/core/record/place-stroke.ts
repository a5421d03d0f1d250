import { earlyReachTicks, type GridName } from "../time/grid";
import { toLap } from "../time/lap";
import type { LoopSpan } from "../time/loop-span";
import { beatTicks, type Meter } from "../time/meter";
import { secondsToTicks, type Bpm } from "../time/tempo";
import { asSeconds, asTicks, type Ticks } from "../time/ticks";

/** Which lap a stroke belongs to and where in its pattern. */
export interface LoopPosition {
  /** Below 0 for what was played in the count-in and is not the first downbeat: a pick-up. */
  readonly lap: number;
  /** From the pattern's start; negative when it was early on the pattern's downbeat. */
  readonly playedTicks: Ticks;
  /** The first downbeat, where the stroke was so early on it that no grid would say so. */
  readonly downbeatTicks?: Ticks;
}

/** Before the very first downbeat nothing else can be meant for so long; common practice, no source. */
const LEAST_OPENING_SECONDS = asSeconds(0.15);

/**
 * How far ahead of the very first downbeat a stroke is taken for it: half a beat, and 150 ms at least.
 * @example openingReachTicks({ beats: 4, unit: 4 }, 120) // 480
 */
export function openingReachTicks(meter: Meter, bpm: Bpm): Ticks {
  return asTicks(Math.max(beatTicks(meter) / 2, secondsToTicks(LEAST_OPENING_SECONDS, bpm)));
}

/**
 * Puts a stroke into the loop. Within half a step of the input grid before the loop's end it belongs to the downbeat of the
 * lap that follows, and so it does within the opening reach before the first one. What is earlier in the count-in lies where
 * laps before the first one would have it.
 * @param transportTicks when it was played, from the first downbeat; negative in the count-in
 * @param openingTicks how far the first downbeat reaches, where nothing was played before it
 * @example placeStroke(-20 as Ticks, { startTicks: 0, lengthTicks: 7680 }, 3840 as Ticks, "1/16").playedTicks // -20
 */
export function placeStroke(
  transportTicks: Ticks,
  { startTicks, lengthTicks }: LoopSpan,
  barTicks: Ticks,
  grid: GridName,
  openingTicks = asTicks(0),
): LoopPosition {
  const { lap, loopTicks } = toLap(transportTicks, lengthTicks);
  const toEnd = lengthTicks - loopTicks;
  if (toEnd <= earlyReachTicks(grid, barTicks, asTicks(startTicks + lengthTicks)))
    return { lap: lap + 1, playedTicks: asTicks(startTicks - toEnd) };
  if (lap === -1 && toEnd <= openingTicks)
    return { lap: 0, playedTicks: asTicks(startTicks - toEnd), downbeatTicks: startTicks };
  return { lap, playedTicks: asTicks(startTicks + loopTicks) };
}
