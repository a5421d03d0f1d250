import type { Meter } from "../time/meter";
import type { Paced } from "./pulse";

/** A stroke that was played without a click. */
export interface FreeHit {
  /** Seconds from any moment. */
  readonly time: number;
  /** General MIDI percussion key. */
  readonly note: number;
  /** 1..127 */
  readonly velocity: number;
}

/** One guess at the tempo, the first downbeat and the length of what was played. */
export interface Reading extends Paced {
  readonly bars: number;
  readonly meter: Meter;
  /** Steps in a quarter: 4 are straight, 3 and 6 are triplets. */
  readonly perQuarter: number;
  /** Ratio 0..1 among the readings. */
  readonly confidence: number;
}

/** What the player says about a performance: every reading keeps to it. */
export interface ReadingHints {
  /** The length of a quarter note. */
  readonly quarterSeconds?: number | undefined;
  /** One of this tempo and meter stays among those that are shown, however unlikely the other hints make it. */
  readonly kept?: Pick<Reading, "bpm" | "meter">;
  /** A moment near the first downbeat. */
  readonly downbeat?: number | undefined;
  readonly bars?: number | undefined;
  /** The meter that is usual here: others must be clearly better. */
  readonly session?: Meter;
}

/** The meters that are thought of where none is known. */
export const LIKELY_METERS: readonly Meter[] = [
  { beats: 4, unit: 4 },
  { beats: 3, unit: 4 },
  { beats: 6, unit: 8 },
];
