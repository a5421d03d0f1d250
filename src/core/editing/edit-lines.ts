import type { Pattern, QuantizeSettings } from "../beat/beat";
import { patternLengthTicks } from "../beat/beat";
import { GRID_TICKS, gridLines } from "../time/grid";
import type { Meter } from "../time/meter";
import { barTicks } from "../time/meter";
import { asTicks, type Ticks } from "../time/ticks";
import { wrap } from "../time/ticks";
import { feelGrid } from "../timing/groove-lines";
import { gridsOf } from "../timing/quantize";

/** The lines of a loop on the straight grid, ascending from 0. */
export interface EditLines {
  readonly at: readonly Ticks[];
  readonly lengthTicks: Ticks;
}

/**
 * The lines along which hits are moved and written: those of the input grid, also of a mix; sixteenths where it is off.
 * @example editLines(pattern, { beats: 4, unit: 4 }, { grid: "1/8", strength: 1, reach: 1 }).at.length // 16
 */
export function editLines(pattern: Pattern, meter: Meter, settings: QuantizeSettings): EditLines {
  const lengthTicks = patternLengthTicks(pattern, meter);
  const grids = gridsOf(settings, feelGrid(pattern));
  const steps = (grids.length > 0 ? grids : (["1/16"] as const)).map((name) => asTicks(GRID_TICKS[name]));
  const all = new Set(steps.flatMap((step) => gridLines(step, barTicks(meter), lengthTicks)));
  return { at: [...all].sort((a, b) => a - b), lengthTicks };
}

/**
 * The lines beside a place: `before` <= place < `after`, which behind the last line is the loop's end.
 * @example linesBeside({ at: [0, 480, 960, 1440], lengthTicks: 1920 }, 500) // { before: 480, after: 960 }
 */
export function linesBeside(
  { at, lengthTicks }: EditLines,
  ticks: Ticks,
): { readonly before: Ticks; readonly after: Ticks } {
  const inside = wrap(ticks, lengthTicks);
  const round = ticks - inside;
  const index = lastAtOrBefore(at, inside);
  const after = at[index + 1] ?? lengthTicks;
  return { before: asTicks(at[index]! + round), after: asTicks(after + round) };
}

/**
 * The nearest line, of two equally near the later one; 0 <= it < the loop's length.
 * @example nearestLine({ at: [0, 480, 960, 1440], lengthTicks: 1920 }, 700) // 480
 */
export function nearestLine(lines: EditLines, ticks: Ticks): Ticks {
  const { before, after } = linesBeside(lines, ticks);
  return asTicks(wrap(ticks - before < after - ticks ? before : after, lines.lengthTicks));
}

/**
 * The line so many lines further, round the loop's ends.
 * @param by negative goes back; what lies on no line goes to the next
 * @example lineAway({ at: [0, 480, 960, 1440], lengthTicks: 1920 }, 480, 2) // 1440
 */
export function lineAway({ at, lengthTicks }: EditLines, ticks: Ticks, by: number): Ticks {
  const inside = asTicks(wrap(ticks, lengthTicks));
  const index = lastAtOrBefore(at, inside);
  const between = at[index] !== inside && by < 0 ? 1 : 0;
  return at[wrap(index + by + between, at.length)]!;
}

/** @returns the index of the last line at or before a place that is not below 0 */
function lastAtOrBefore(at: readonly Ticks[], ticks: number): number {
  let low = 0;
  let high = at.length;
  while (high - low > 1) {
    const middle = (low + high) >> 1;
    if (at[middle]! <= ticks) low = middle;
    else high = middle;
  }
  return low;
}
