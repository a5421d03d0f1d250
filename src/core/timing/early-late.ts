import type { Pattern } from "../beat/beat";
import { patternLengthTicks } from "../beat/beat";
import type { GridName } from "../time/grid";
import { gridLines, gridTicks } from "../time/grid";
import type { Meter } from "../time/meter";
import { barTicks } from "../time/meter";
import type { Ticks } from "../time/ticks";
import { wrap } from "../time/ticks";
import { quantize } from "./quantize";

/** How the hits around one line were played. */
export interface LineFeel {
  readonly line: Ticks;
  /** Mean of played minus line; negative is early. */
  readonly meanTicks: number;
  readonly hits: number;
}

/** For every line of a grid that has hits, how early or late they were played, whatever their own pass corrects. */
export function earlyLate(pattern: Pattern, meter: Meter, grid: GridName): readonly LineFeel[] {
  const step = gridTicks(grid);
  if (step === undefined) return [];
  const bar = barTicks(meter);
  const length = patternLengthTicks(pattern, meter);
  const sums = new Map<number, { sum: number; hits: number }>();
  for (const pass of pattern.passes) {
    if (pass.muted) continue;
    for (const { playedTicks } of pass.hits) {
      if (playedTicks >= length) continue;
      const { line } = quantize(playedTicks, { grid, strength: 1, reach: 1 }, bar);
      const place = wrap(line!, length);
      const entry = sums.get(place) ?? { sum: 0, hits: 0 };
      sums.set(place, { sum: entry.sum + playedTicks - line!, hits: entry.hits + 1 });
    }
  }
  return gridLines(step, bar, length).flatMap((line) => {
    const entry = sums.get(line);
    return entry ? [{ line, meanTicks: entry.sum / entry.hits, hits: entry.hits }] : [];
  });
}
