import { sameMeter, type Meter } from "../../time/meter";
import type { Paced } from "../pulse/pulse";

/** A stroke that was played without a click. */
export interface FreeHit {
  /** Seconds from any moment. */
  readonly time: number;
  /** General MIDI percussion key; of a part with pitch the note. */
  readonly note: number;
  /** It is a note of a part with pitch, no drum. */
  readonly tonal?: true;
  /** 1..127 */
  readonly velocity: number;
}

/** What may speak for a reading: what most bars have, what happens once, what comes again, where playing begins. */
export type ReadingReason =
  | "snareOnBacks"
  | "stickOnBacks"
  | "snareOnMiddle"
  | "crashOnDownbeat"
  | "kickOnDownbeat"
  | "drumComesIn"
  | "bassOnDownbeat"
  | "tomsLead"
  | "hatsLouderOnBeats"
  | "barsAlike"
  | "beginsOnDownbeat";

/** One guess at the tempo, the first downbeat and the length of what was played. */
export interface Reading extends Paced {
  readonly bars: number;
  readonly meter: Meter;
  /** Steps in a quarter: 4 are straight, 3 and 6 are triplets. */
  readonly perQuarter: number;
  /** How likely it is to be all right: tempo, first downbeat and length. Ratio 0..1. */
  readonly confidence: number;
  /** What speaks for it, the strongest first. */
  readonly reasons: readonly ReadingReason[];
}

/** Tempi so near are one. */
export const SAME_TEMPO = 0.03;

/**
 * True where two readings have one tempo and meter: they differ at most in where bars begin, and in length.
 * @example isLike({ bpm: 120, meter: { beats: 4, unit: 4 } }, { bpm: 60, meter: { beats: 4, unit: 4 } }) // false
 */
export function isLike(a: Pick<Reading, "bpm" | "meter">, b: Pick<Reading, "bpm" | "meter">): boolean {
  return sameMeter(a.meter, b.meter) && Math.abs(a.bpm / b.bpm - 1) < SAME_TEMPO;
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

/** The meters that are always thought of where none is known. */
export const LIKELY_METERS: readonly Meter[] = [
  { beats: 4, unit: 4 },
  { beats: 3, unit: 4 },
  { beats: 6, unit: 8 },
];

/** Meters that are thought of where the playing comes round with their bars and with no likelier ones. */
export const RARE_METERS: readonly Meter[] = [
  { beats: 5, unit: 4 },
  { beats: 7, unit: 8, groups: [2, 2, 3] },
  { beats: 7, unit: 8, groups: [3, 2, 2] },
  { beats: 7, unit: 8, groups: [2, 3, 2] },
  { beats: 12, unit: 8 },
];

/** True also for a copy of one, such as a worker is sent. @example isRare({ beats: 5, unit: 4 }) // true */
export function isRare(meter: Meter): boolean {
  return RARE_METERS.some((rare) => sameMeter(rare, meter));
}

export const THINKABLE_METERS = [...LIKELY_METERS, ...RARE_METERS];
