import type { QuantizeSettings } from "../beat/beat";
import { GRID_TICKS, gridTicks, isTriplet, lineAfter, lineBefore, type LineGridName } from "../time/grid";
import { asTicks, type Ticks } from "../time/ticks";
import { wrap } from "../time/ticks";

/** Where a played position is corrected to, and the line that pulled it; no line when it stays as played. */
export interface Quantized {
  readonly ticks: Ticks;
  readonly line: Ticks | undefined;
}

/** What of a pattern the lines depend on. */
export interface GridSurroundings {
  readonly barTicks: Ticks;
  /** The written beat, in which an adaptive mix decides. */
  readonly beatTicks: Ticks;
  readonly lengthTicks: Ticks;
  /** The lines that the grid "groove" stands for. */
  readonly feelGrid: LineGridName;
}

/** Corrects one position after the other. @param meant the line that pulls it, where that is not for the grid to say */
export type Quantizer = (start: Ticks, meant?: Ticks) => Quantized;

/**
 * Moves a played position towards the nearest grid line (exactly half way: the later one), by `strength` of the
 * distance. A hit further from it than `reach` of half the gap it lies in stays as played. The result is not rounded.
 * @param played ticks from the loop start, may be negative or beyond the end
 * @param steps the distances of the grids whose lines count; none is "off"
 * @example quantize(250 as Ticks, [240 as Ticks], { strength: 0.5, reach: 1 }, 3840 as Ticks) // { ticks: 245, line: 240 }
 */
export function quantize(
  played: Ticks,
  steps: readonly Ticks[],
  { strength, reach }: Pick<QuantizeSettings, "strength" | "reach">,
  barTicks: Ticks,
): Quantized {
  if (steps.length === 0 || strength === 0) return { ticks: played, line: undefined };
  const { before, after } = linesBeside(played, steps, barTicks);
  const line = played - before < after - played ? before : after;
  const distance = played - line;
  if (Math.abs(distance) > (reach * (after - before)) / 2) return { ticks: played, line: undefined };
  return pulled(played, line, strength);
}

function pulled(played: Ticks, line: Ticks, strength: number): Quantized {
  // At full strength the line itself, so that no rounding of the sum is left over.
  return { ticks: strength === 1 ? line : asTicks(line + (played - line) * (1 - strength)), line };
}

/** The lines of several grids together that a position lies between: before <= position < after. */
function linesBeside(position: Ticks, steps: readonly Ticks[], barTicks: Ticks) {
  let before = lineBefore(position, steps[0]!, barTicks);
  let after = lineAfter(before, steps[0]!, barTicks);
  for (let index = 1; index < steps.length; index++) {
    const own = lineBefore(position, steps[index]!, barTicks);
    before = asTicks(Math.max(before, own));
    after = asTicks(Math.min(after, lineAfter(own, steps[index]!, barTicks)));
  }
  return { before, after };
}

/**
 * The grids of some settings, the first one first; none for "off".
 * @example gridsOf({ grid: "1/8", strength: 1, reach: 1, mix: ["1/8T"] }, "1/16") // ["1/8", "1/8T"]
 */
export function gridsOf({ grid, mix = [] }: QuantizeSettings, feelGrid: LineGridName): readonly LineGridName[] {
  if (grid === "off") return [];
  return [...new Set([grid === "groove" ? feelGrid : grid, ...mix])];
}

/** How far from the lines of a grid the hits around a position lie: the sum of squares in its beat of the loop. */
export type GridMisses = (grid: LineGridName, position: Ticks) => number;

/** @param starts of all hits that are judged together; each grid is measured once, when it is first asked for */
export function gridMisses(starts: () => readonly Ticks[], surroundings: GridSurroundings): GridMisses {
  const { barTicks, beatTicks, lengthTicks } = surroundings;
  const beatOf = (start: Ticks) => Math.floor(wrap(start, lengthTicks) / beatTicks);
  const measured = new Map<LineGridName, Map<number, number>>();
  const measure = (grid: LineGridName) => {
    const sums = new Map<number, number>();
    for (const start of starts()) {
      const beat = beatOf(start);
      sums.set(beat, (sums.get(beat) ?? 0) + toLine(start, asTicks(GRID_TICKS[grid]), barTicks) ** 2);
    }
    measured.set(grid, sums);
    return sums;
  };
  return (grid, position) => (measured.get(grid) ?? measure(grid)).get(beatOf(position)) ?? 0;
}

/**
 * Settings made ready for many hits.
 * @param misses an adaptive mix takes, in each beat of the loop, the grid whose lines lie nearest to the hits there (least
 *   sum of squares; of equals the one that was named first)
 */
export function quantizer(
  settings: QuantizeSettings,
  { barTicks, feelGrid }: Pick<GridSurroundings, "barTicks" | "feelGrid">,
  misses: GridMisses,
): Quantizer {
  const grids = gridsOf(settings, feelGrid);
  const steps = grids.map((name) => asTicks(GRID_TICKS[name]));
  const pulls = steps.length > 0 && settings.strength > 0;
  const byMeant = (byGrid: (start: Ticks) => Quantized): Quantizer =>
    pulls ? (start, meant) => (meant === undefined ? byGrid(start) : pulled(start, meant, settings.strength)) : byGrid;
  if (!settings.adaptive || steps.length < 2) return byMeant((start) => quantize(start, steps, settings, barTicks));
  return byMeant((start) => {
    let nearest = 0;
    for (let index = 1; index < grids.length; index++)
      if (misses(grids[index]!, start) < misses(grids[nearest]!, start)) nearest = index;
    return quantize(start, [steps[nearest]!], settings, barTicks);
  });
}

function toLine(position: Ticks, step: Ticks, barTicks: Ticks): number {
  const before = lineBefore(position, step, barTicks);
  return Math.min(position - before, lineAfter(before, step, barTicks) - position);
}

/**
 * True for a line of a mix that only its triplets have: swing leaves it where it is.
 * @example isTripletLine(320, ["1/8", "1/8T"], 3840) // true
 */
export function isTripletLine(line: Ticks, grids: readonly LineGridName[], barTicks: Ticks): boolean {
  const inBar = wrap(line, barTicks);
  return grids.length > 1 && grids.every((name) => isTriplet(name) || inBar % gridTicks(name)! !== 0);
}
