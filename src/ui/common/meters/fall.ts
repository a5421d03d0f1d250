/** What a meter shows while nothing sounds, and below which it shows nothing. */
export const SILENT_DB = -48;
/** How fast a shown peak falls. */
const FALL_DB_PER_MS = 0.05;
/** A shown level falls slowly from peak to peak. @param levelDb what was shown before @param peak amplitude since then */
export function fall(levelDb: number, peak: number, elapsedMs: number): number {
  return Math.max(20 * Math.log10(peak + 1e-6), levelDb - elapsedMs * FALL_DB_PER_MS, SILENT_DB);
}

/** How much of a meter a level fills: ratio 0..1. */
export function levelShare(levelDb: number): number {
  return 1 - Math.min(0, levelDb) / SILENT_DB;
}
