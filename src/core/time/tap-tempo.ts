import { median } from "simple-statistics";
import { TEMPO_RANGE, type Bpm } from "./tempo";
import { TICKS_PER_QUARTER } from "./ticks";

/** A pause longer than this many usual intervals, or than the slowest tempo, begins a new tempo. */
const PAUSE_INTERVALS = 2.6;
const LONGEST_MS = 3000;
/** An interval further from the middle one than this ratio is a slip, or a beat left out, and is not counted. */
const SLIP = 0.22;
export const MIN_TAPS = 3;
const MAX_TAPS = 16;

/** What a row of taps says. */
export interface TappedTempo {
  readonly bpm: Bpm;
  /** Half the width in which the counted intervals lie, as tempo. */
  readonly spreadBpm: number;
  readonly taps: number;
  readonly lastTapMs: number;
}

/** Adds a tap to a row, which starts anew after a pause. @example addTap([0, 500], 1000) // [0, 500, 1000] */
export function addTap(taps: readonly number[], timeMs: number): readonly number[] {
  const last = taps.at(-1);
  if (last === undefined || timeMs <= last) return [timeMs];
  const pause = taps.length < 2 ? LONGEST_MS : Math.min(LONGEST_MS, median(intervalsOf(taps)) * PAUSE_INTERVALS);
  return timeMs - last > pause ? [timeMs] : [...taps, timeMs].slice(-MAX_TAPS);
}

/**
 * The tempo of a row of taps: the median of the intervals once slips and beats left out are dropped.
 * @param pulseTicks what one tap stands for
 * @returns undefined for fewer than three taps
 * @example readTaps([0, 500, 1000], 960).bpm // 120
 */
export function readTaps(taps: readonly number[], pulseTicks: number): TappedTempo | undefined {
  if (taps.length < MIN_TAPS) return undefined;
  const all = intervalsOf(taps);
  const middle = median(all);
  const counted = all.filter((interval) => Math.abs(interval - middle) <= SLIP * middle);
  const toBpm = (intervalMs: number) => (60_000 / intervalMs) * (pulseTicks / TICKS_PER_QUARTER);
  const spreadBpm = (toBpm(Math.min(...counted)) - toBpm(Math.max(...counted))) / 2;
  const bpm = Math.min(TEMPO_RANGE.max, Math.max(TEMPO_RANGE.min, toBpm(median(counted))));
  return { bpm, spreadBpm, taps: taps.length, lastTapMs: taps.at(-1)! };
}

function intervalsOf(taps: readonly number[]): number[] {
  return taps.slice(1).map((tap, index) => tap - taps[index]!);
}
