import type { Feel, Groove } from "../beat/feel";
import { GRID_TICKS, lineAfter, type LineGridName } from "../time/grid";
import type { Meter } from "../time/meter";
import { barTicks } from "../time/meter";
import { asTicks, type Ticks } from "../time/ticks";
import { wrap } from "../time/ticks";

/** A groove laid over the bars of a meter: its lines in a cycle, ascending from 0. */
export interface GrooveLines {
  readonly cycleTicks: Ticks;
  readonly at: readonly number[];
  readonly offsets: readonly number[];
  readonly velocities: readonly number[];
}

/** Lines of a groove in one of its bars. @example linesPerBar({ grid: "1/16", barTicks: 3840 }) // 16 */
export function linesPerBar({ grid, barTicks: bar }: Pick<Groove, "grid" | "barTicks">): number {
  return Math.ceil(bar / GRID_TICKS[grid]);
}

/** A groove starts anew at every bar: of a longer meter it fills the bar again from its first line, a shorter one cuts it. */
export function grooveLines(groove: Groove, meter: Meter): GrooveLines {
  const bar = barTicks(meter);
  const step = asTicks(GRID_TICKS[groove.grid]);
  const perBar = linesPerBar(groove);
  const at: number[] = [];
  const offsets: number[] = [];
  const velocities: number[] = [];
  const cycleTicks = asTicks(groove.bars * bar);
  for (let line = asTicks(0); line < cycleTicks; line = lineAfter(line, step, bar)) {
    const half = Math.floor(line / bar) * perBar;
    const { offsetTicks, velocity } = groove.lines[half + (((line % bar) / step) % perBar)]!;
    at.push(line);
    offsets.push(offsetTicks);
    velocities.push(velocity);
  }
  return { cycleTicks, at, offsets, velocities };
}

/** The value at a position between the lines of a cycle, straight from line to line and round its end. */
export function betweenLines({ cycleTicks, at }: GrooveLines, values: readonly number[], ticks: number): number {
  const inside = wrap(ticks, cycleTicks);
  let low = 0;
  let high = at.length;
  while (high - low > 1) {
    const middle = (low + high) >> 1;
    if (inside >= at[middle]!) low = middle;
    else high = middle;
  }
  const end = high === at.length ? cycleTicks : at[high]!;
  const share = (inside - at[low]!) / (end - at[low]!);
  return values[low]! + share * (values[high % at.length]! - values[low]!);
}

/**
 * The grid whose lines a pattern's groove moves; sixteenths where there is neither groove nor swing.
 * @example feelGrid({ swing: { ratio: 0.6, unit: "1/8" } }) // "1/8"
 */
export function feelGrid({ swing, groove }: Feel): LineGridName {
  return groove?.groove.grid ?? swing?.unit ?? "1/16";
}
