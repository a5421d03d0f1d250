import { lineAfter, lineBefore } from "./grid";
import type { Ticks } from "./ticks";

/** The stretch of a pattern that goes round: all of it, or a region. Transport position 0 is its start. */
export interface LoopSpan {
  /** From the pattern's start, whole. */
  readonly startTicks: Ticks;
  /** > 0, whole. */
  readonly lengthTicks: Ticks;
}

/**
 * The first grid line of a running loop at or after a transport position. Lines stand where the pattern has them, start
 * anew at bars and at every lap, and go on backwards into the count-in.
 * @param position from the first downbeat, with its fraction; negative in the count-in
 * @returns a whole transport position
 * @example nextLoopLine(7300 as Ticks, 960 as Ticks, 3840 as Ticks, { startTicks: 0, lengthTicks: 7680 }) // 7680
 */
export function nextLoopLine(position: Ticks, stepTicks: Ticks, barTicks: Ticks, span: LoopSpan): Ticks {
  if (position < 0) return Math.min(0, lineFrom(position, stepTicks, barTicks, span)) as Ticks;
  const lapStart = Math.floor(position / span.lengthTicks) * span.lengthTicks;
  const inLap = lineFrom((position - lapStart) as Ticks, stepTicks, barTicks, span);
  if (inLap < span.lengthTicks) return (lapStart + inLap) as Ticks;
  return (lapStart + span.lengthTicks + lineFrom(0 as Ticks, stepTicks, barTicks, span)) as Ticks;
}

function lineFrom(loopTicks: Ticks, stepTicks: Ticks, barTicks: Ticks, { startTicks }: LoopSpan): number {
  const position = (startTicks + loopTicks) as Ticks;
  const before = lineBefore(position, stepTicks, barTicks);
  return (before === position ? before : lineAfter(before, stepTicks, barTicks)) - startTicks;
}

/**
 * Where in the pattern a running loop is, and in which lap.
 * @example patternTicksAt(4000, { startTicks: 960, lengthTicks: 1920 }) // 1120
 */
export function patternTicksAt(transportTicks: Ticks, { startTicks, lengthTicks }: LoopSpan): Ticks {
  const lap = transportTicks < 0 ? 0 : Math.floor(transportTicks / lengthTicks);
  return (startTicks + transportTicks - lap * lengthTicks) as Ticks;
}
