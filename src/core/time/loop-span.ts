import { lineAfter, lineBefore } from "./grid";
import { asTicks, type Ticks } from "./ticks";

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
  if (position < 0) return asTicks(Math.min(0, lineFrom(position, stepTicks, barTicks, span)));
  const lapStart = Math.floor(position / span.lengthTicks) * span.lengthTicks;
  const inLap = lineFrom(asTicks(position - lapStart), stepTicks, barTicks, span);
  if (inLap < span.lengthTicks) return asTicks(lapStart + inLap);
  return asTicks(lapStart + span.lengthTicks + lineFrom(asTicks(0), stepTicks, barTicks, span));
}

function lineFrom(loopTicks: Ticks, stepTicks: Ticks, barTicks: Ticks, { startTicks }: LoopSpan): number {
  const position = asTicks(startTicks + loopTicks);
  const before = lineBefore(position, stepTicks, barTicks);
  return (before === position ? before : lineAfter(before, stepTicks, barTicks)) - startTicks;
}

/**
 * Where in the pattern a running loop is, and in which lap.
 * @example patternTicksAt(4000, { startTicks: 960, lengthTicks: 1920 }) // 1120
 */
export function patternTicksAt(transportTicks: Ticks, { startTicks, lengthTicks }: LoopSpan): Ticks {
  const lap = transportTicks < 0 ? 0 : Math.floor(transportTicks / lengthTicks);
  return asTicks(startTicks + transportTicks - lap * lengthTicks);
}
