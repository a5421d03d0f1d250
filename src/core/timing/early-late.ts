import type { Hit, Pass, Pattern, QuantizeSettings } from "../beat/beat";
import { openPasses, patternLengthTicks } from "../beat/beat";
import { remember } from "../remember";
import { GRID_TICKS } from "../time/grid";
import type { Meter } from "../time/meter";
import { barTicks } from "../time/meter";
import { asTicks, type Ticks } from "../time/ticks";
import { wrap } from "../time/ticks";
import type { Warp } from "../time/warp";
import { warpTicks } from "../time/warp";
import { feelOf } from "./feel-of";
import { isBeyond } from "./resolved-hit";
import { feelGrid } from "./groove-lines";
import { gridsOf, quantize } from "./quantize";

/** How the hits around one line were played. */
export interface LineFeel {
  readonly line: Ticks;
  /** Mean of played minus line; negative is early. */
  readonly meanTicks: number;
  readonly hits: number;
}

/** How far from the nearest line of a grid a hit was played, and which line that is. */
export interface LineMiss {
  /** On the straight grid, from the loop start; negative or at the loop's end where it belongs to the next lap. */
  readonly line: Ticks;
  /** Positive when late. */
  readonly missTicks: number;
}

/**
 * Played minus line. A hit that was played over a swing or groove is measured from where that puts the line.
 * @param steps distances of the grids whose lines count; at least one
 */
export function missOf(hit: Hit, steps: readonly Ticks[], barTicks: Ticks, warp: Warp | undefined): LineMiss {
  const straight = hit.played.straightTicks ?? hit.played.ticks;
  const line = hit.downbeatTicks ?? quantize(straight, steps, { strength: 1, reach: 1 }, barTicks).line!;
  const over = hit.played.straightTicks === undefined ? undefined : warp;
  return { line, missTicks: warpTicks(over, straight) - warpTicks(over, line) };
}

/**
 * For every line of a grid that has hits to be heard, how early or late they were played, whatever their own pass corrects.
 * @example earlyLate(pattern, meter, { grid: "1/8", strength: 1, reach: 1 }).length // 8
 */
export function earlyLate(pattern: Pattern, meter: Meter, settings: QuantizeSettings): readonly LineFeel[] {
  const steps = gridsOf(settings, feelGrid(pattern)).map((name) => asTicks(GRID_TICKS[name]));
  if (steps.length === 0) return [];
  const sums = new Map<number, LineSum>();
  const { bars, swing, groove, padAmounts } = pattern;
  const madeOf = [meter, bars, swing, groove, padAmounts, ...steps];
  for (const pass of openPasses(pattern))
    for (const [line, { sum, hits }] of passSums(pass, madeOf, () => sumByLine(pass, pattern, meter, steps))) {
      const known = sums.get(line);
      sums.set(line, { sum: (known?.sum ?? 0) + sum, hits: (known?.hits ?? 0) + hits });
    }
  return [...sums]
    .sort(([a], [b]) => a - b)
    .map(([line, { sum, hits }]) => ({ line: asTicks(line), meanTicks: sum / hits, hits }));
}

interface LineSum {
  readonly sum: number;
  readonly hits: number;
}

const passSums = remember<Pass, ReadonlyMap<number, LineSum>>();

/** How far the hits of a pass lie from their lines, line by line. */
function sumByLine(pass: Pass, pattern: Pattern, meter: Meter, steps: readonly Ticks[]): ReadonlyMap<number, LineSum> {
  const bar = barTicks(meter);
  const length = patternLengthTicks(pattern, meter);
  const feels = feelOf(pattern, meter);
  const sums = new Map<number, LineSum>();
  for (const hit of pass.hits) {
    if (isBeyond(hit, length) || hit.masked) continue;
    const { line, missTicks } = missOf(hit, steps, bar, feels(hit.lane).warp);
    const place = wrap(line, length);
    const entry = sums.get(place);
    sums.set(place, { sum: (entry?.sum ?? 0) + missTicks, hits: (entry?.hits ?? 0) + 1 });
  }
  return sums;
}
