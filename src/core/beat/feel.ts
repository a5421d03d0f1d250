import type { GridName } from "../time/grid";
import type { Ticks } from "../time/ticks";

/** Where the middle of two units is heard: ratio 0.5 (straight) to 0.75 of both. */
export interface Swing {
  readonly ratio: number;
  readonly unit: "1/8" | "1/16";
}

/** The grids on whose lines a groove can lie. */
export const GROOVE_GRIDS = ["1/8", "1/8T", "1/16", "1/16T"] as const satisfies readonly GridName[];
export type GrooveGrid = (typeof GROOVE_GRIDS)[number];

/** What a groove does to one line. */
export interface GrooveLine {
  /** Later where positive. */
  readonly offsetTicks: number;
  /** What the velocities around it are multiplied by: 0.5..1.5. */
  readonly velocity: number;
  /** Nothing was played on this line: it lies between its neighbours. */
  readonly interpolated?: true;
}

/** Offsets and accents for the lines of one or two bars, whatever the tempo. */
export interface Groove {
  readonly name: string;
  readonly description: string;
  readonly grid: GrooveGrid;
  readonly bars: 1 | 2;
  /** The length of the bars it was made for. */
  readonly barTicks: Ticks;
  /** As many as the grid has in its bars. */
  readonly lines: readonly GrooveLine[];
}

/** A groove on a pattern, with how much of it is taken: ratios 0..1. */
export interface GrooveSetting {
  readonly groove: Groove;
  readonly timing: number;
  readonly velocity: number;
}

/** Chance that is the same in every lap, until another seed is taken. */
export interface Looseness {
  /** The most a hit is moved, either way. */
  readonly ticks: number;
  /** The most a velocity changes, either way. */
  readonly velocity: number;
  readonly seed: number;
}

/** What moves the lines of a pattern and weighs what is on them. */
export interface Feel {
  /** Without it the pattern is straight. */
  readonly swing?: Swing;
  readonly groove?: GrooveSetting;
  readonly looseness?: Looseness;
  /** By pad, the share of swing and groove it takes, 0..1; all of it where a pad is not named. */
  readonly padAmounts?: Readonly<Record<number, number>>;
}
