import { CoreError } from "../core-error";
import type { Ticks } from "./ticks";
import { TICKS_PER_WHOLE } from "./ticks";

/** The grids with the distance of their lines: straight, triplet (T), dotted (D) and five in the time of four (Q). */
export const GRID_TICKS = {
  "1/2": TICKS_PER_WHOLE / 2,
  "1/4": TICKS_PER_WHOLE / 4,
  "1/8": TICKS_PER_WHOLE / 8,
  "1/16": TICKS_PER_WHOLE / 16,
  "1/32": TICKS_PER_WHOLE / 32,
  "1/64": TICKS_PER_WHOLE / 64,
  "1/2T": TICKS_PER_WHOLE / 3,
  "1/4T": TICKS_PER_WHOLE / 6,
  "1/8T": TICKS_PER_WHOLE / 12,
  "1/16T": TICKS_PER_WHOLE / 24,
  "1/32T": TICKS_PER_WHOLE / 48,
  "1/4D": (TICKS_PER_WHOLE / 8) * 3,
  "1/8D": (TICKS_PER_WHOLE / 16) * 3,
  "1/16D": (TICKS_PER_WHOLE / 32) * 3,
  "1/8Q": TICKS_PER_WHOLE / 10,
  "1/16Q": TICKS_PER_WHOLE / 20,
} as const;

/** A grid that has lines of its own. */
export type LineGridName = keyof typeof GRID_TICKS;
export const LINE_GRID_NAMES = Object.keys(GRID_TICKS) as LineGridName[];
/** "groove": the lines of the pattern's groove. "off": none. */
export type GridName = LineGridName | "groove" | "off";
export const GRID_NAMES: readonly GridName[] = [...LINE_GRID_NAMES, "groove", "off"];

/** True for lines that stand three in the time of two. @example isTriplet("1/8T") // true */
export function isTriplet(name: GridName): boolean {
  return name.endsWith("T");
}

/** Where no grid is set, early hits are still taken for the downbeat within half of this. */
const FALLBACK_GRID = "1/16";

/**
 * @returns the distance of a grid's lines; undefined for "off" and for "groove", which depends on the pattern
 * @example gridTicks("1/16") // 240
 */
export function gridTicks(name: GridName): Ticks | undefined {
  return name === "off" || name === "groove" ? undefined : (GRID_TICKS[name] as Ticks);
}

/** The grid whose lines are so far apart. @example gridOfTicks(320) // "1/8T" */
export function gridOfTicks(stepTicks: number): LineGridName | undefined {
  return LINE_GRID_NAMES.find((name) => GRID_TICKS[name] === stepTicks);
}

/**
 * @throws CoreError "bad-grid" when the text names no grid
 * @example parseGrid("1/16") // "1/16"
 */
export function parseGrid(text: string): GridName {
  const found = GRID_NAMES.find((name) => name === text);
  if (!found) throw new CoreError("bad-grid", `"${text}" is no grid; use one of ${GRID_NAMES.join(", ")}.`);
  return found;
}

/** The two lines a position lies between: `before` <= position < `after`. */
export interface LinePair {
  readonly before: Ticks;
  readonly after: Ticks;
}

/**
 * Lines start anew at every bar line, so that quarters in 7/8 keep the downbeat; the last gap may then be shorter.
 * @param position ticks from the loop start; negative before it
 * @example linesAround(500, 480, 3840) // { before: 480, after: 960 }
 * @throws CoreError "bad-grid" when a distance is not whole or not above 0
 */
export function linesAround(position: Ticks, stepTicks: Ticks, barTicks: Ticks): LinePair {
  if (!Number.isInteger(stepTicks) || stepTicks <= 0 || !Number.isInteger(barTicks) || barTicks <= 0) {
    throw new CoreError(
      "bad-grid",
      `Grid lines and bars must be whole ticks apart, above 0; got ${stepTicks}, ${barTicks}.`,
    );
  }
  const before = lineBefore(position, stepTicks, barTicks);
  return { before, after: lineAfter(before, stepTicks, barTicks) };
}

/**
 * The last line at or before a position; for whole distances above 0, unchecked because every hit asks.
 * @example lineBefore(500, 480, 3840) // 480
 */
export function lineBefore(position: Ticks, stepTicks: Ticks, barTicks: Ticks): Ticks {
  const bar = Math.floor(position / barTicks) * barTicks;
  return (bar + Math.floor((position - bar) / stepTicks) * stepTicks) as Ticks;
}

/** The line that follows a line. @example lineAfter(480, 480, 3840) // 960 */
export function lineAfter(line: Ticks, stepTicks: Ticks, barTicks: Ticks): Ticks {
  return Math.min(line + stepTicks, (Math.floor(line / barTicks) + 1) * barTicks) as Ticks;
}

/**
 * @returns all lines in [0, lengthTicks)
 * @example gridLines(960, 3360, 3360) // [0, 960, 1920, 2880]
 */
export function gridLines(stepTicks: Ticks, barTicks: Ticks, lengthTicks: Ticks): readonly Ticks[] {
  const perBar = Math.ceil(barTicks / stepTicks);
  const bars = Math.ceil(lengthTicks / barTicks);
  return Array.from(
    { length: bars * perBar },
    (_, index) => (Math.floor(index / perBar) * barTicks + (index % perBar) * stepTicks) as Ticks,
  ).filter((line) => line < lengthTicks);
}

/**
 * How far before a loop's end a hit already belongs to the downbeat that follows: half the distance from the line before,
 * that one included.
 * @param endTicks where the loop ends in its pattern
 * @example earlyReachTicks("1/16", 3840, 3840) // 120
 */
export function earlyReachTicks(name: GridName, barTicks: Ticks, endTicks: Ticks): Ticks {
  const step = gridTicks(name) ?? gridTicks(FALLBACK_GRID)!;
  const { before } = linesAround((endTicks - 1) as Ticks, step, barTicks);
  return ((endTicks - before) / 2) as Ticks;
}
