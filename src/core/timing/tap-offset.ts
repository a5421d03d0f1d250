import { median, medianAbsoluteDeviation } from "simple-statistics";

/** Fewer taps say too little about a delay. */
export const MIN_OFFSETS = 8;
/** Taps further from the middle than this many robust spreads are slips. */
const SLIP_SPREADS = 3.5;
/** The median absolute deviation of a normal distribution times this is its standard deviation (Hampel 1974, from memory). */
const MAD_TO_DEVIATION = 1.4826;
/** No hand is steadier; keeps a row of machine taps from throwing all but the middle ones away. */
const LEAST_SPREAD_MS = 1;

/** How late a device's taps arrive. */
export interface TapOffset {
  readonly medianMs: number;
  readonly spreadMs: number;
  /** Taps that were counted, of all. */
  readonly used: number;
  readonly all: number;
}

/**
 * The delay of taps along to a click: their median once slips are left out. Missing taps do no harm.
 * @param offsetsMs tap minus the nearest click, positive when late
 * @returns undefined for fewer than eight taps
 * @example tapOffset([40, 42, 44, 41, 43, 42, 40, 44]).medianMs // 42
 */
export function tapOffset(offsetsMs: readonly number[]): TapOffset | undefined {
  if (offsetsMs.length < MIN_OFFSETS) return undefined;
  const sorted = [...offsetsMs];
  const middle = median(sorted);
  const spread = Math.max(LEAST_SPREAD_MS, MAD_TO_DEVIATION * medianAbsoluteDeviation(sorted));
  const used = sorted.filter((offset) => Math.abs(offset - middle) <= SLIP_SPREADS * spread);
  return {
    medianMs: median(used),
    spreadMs: MAD_TO_DEVIATION * medianAbsoluteDeviation(used),
    used: used.length,
    all: offsetsMs.length,
  };
}
