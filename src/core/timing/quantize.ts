import type { QuantizeSettings } from "../beat/beat";
import { gridTicks, lineAfter, lineBefore } from "../time/grid";
import type { Ticks } from "../time/ticks";

/** Where a played position is corrected to, and the line that pulled it; no line when it stays as played. */
export interface Quantized {
  readonly ticks: Ticks;
  readonly line: Ticks | undefined;
}

/**
 * Moves a played position towards the nearest grid line (exactly half way: the later one), by `strength` of the
 * distance. A hit further from it than `reach` of half the gap it lies in stays as played. The result is not rounded.
 * @param played ticks from the loop start, may be negative or beyond the end
 * @example quantize(250 as Ticks, { grid: "1/16", strength: 0.5, reach: 1 }, 3840 as Ticks) // { ticks: 245, line: 240 }
 */
export function quantize(played: Ticks, { grid, strength, reach }: QuantizeSettings, barTicks: Ticks): Quantized {
  return quantizeToStep(played, gridTicks(grid), strength, reach, barTicks);
}

/** The same for a grid that was looked up before, for thousands of hits; no step is "off". */
export function quantizeToStep(
  played: Ticks,
  step: Ticks | undefined,
  strength: number,
  reach: number,
  barTicks: Ticks,
): Quantized {
  if (step === undefined || strength === 0) return { ticks: played, line: undefined };
  const before = lineBefore(played, step, barTicks);
  const after = lineAfter(before, step, barTicks);
  const line = played - before < after - played ? before : after;
  const distance = played - line;
  if (Math.abs(distance) > (reach * (after - before)) / 2) return { ticks: played, line: undefined };
  // At full strength the line itself, so that no rounding of the sum is left over.
  return { ticks: strength === 1 ? line : ((line + distance * (1 - strength)) as Ticks), line };
}
