import { median } from "simple-statistics";
import type { Ticks } from "../time/ticks";
import { swingMiss } from "../timing/fit-swing";
import { SWING_RANGE } from "../timing/swing";

/** A first search; the middle of the hits near the best of them is the answer. */
const SWING_RATIOS = Array.from({ length: 26 }, (_, index) => SWING_RANGE.min + index / 100);
/** Below this it is called straight. */
export const SWUNG_FROM = 0.53;
/** Hits further from the middle than this many robust spreads are slips. */
const SLIP_SPREADS = 3;

/**
 * Finds the place of the second note of swung pairs: the ratio from which the hits lie least far, then the middle of those that lie on it.
 * @param unit half a pair, ticks
 * @returns 0.5..0.75
 * @example bestSwing([0, 640, 960, 1600], 480, 3840) // 0.666666667
 */
export function bestSwing(positions: readonly Ticks[], unit: number, bar: Ticks): number {
  // Absolute distances: a few hits on other lines must not draw it away.
  const sums = SWING_RATIOS.map((ratio) =>
    positions.reduce((sum, ticks) => sum + Math.min(unit / 3, Math.abs(swingMiss(ticks, ratio, unit, bar))), 0),
  );
  const rough = SWING_RATIOS[sums.indexOf(Math.min(...sums))]!;
  const middles = positions
    .map((ticks) => (ticks - Math.floor(ticks / bar) * bar) % (2 * unit))
    .filter((inPair) => Math.abs(inPair - rough * 2 * unit) < unit / 3);
  if (middles.length === 0) return SWING_RANGE.min;
  const centre = median(middles);
  const slip = SLIP_SPREADS * Math.max(1, 1.4826 * median(middles.map((ticks) => Math.abs(ticks - centre))));
  const near = middles.filter((ticks) => Math.abs(ticks - centre) <= slip);
  const mean = near.reduce((sum, ticks) => sum + ticks, 0) / near.length;
  return Math.max(SWING_RANGE.min, Math.min(SWING_RANGE.max, mean / (2 * unit)));
}
