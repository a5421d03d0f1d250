import type { Random } from "../../random";
import { highShelf, type Samples } from "../signal/dsp";
import { fromDb } from "../signal/gain";

/** A spot on a drum: what all strokes that meet it have in common. */
export interface StrikePoint {
  readonly sampleRate: number;
  readonly random: Random;
}

/** One stroke. */
export interface Excitation {
  /** Ratio 0..1; a harder stroke is brighter and longer, its level is set afterwards. */
  readonly force: number;
  readonly random: Random;
}

/** One that sounds on both sides, or left and right of one length. */
export type Channels = readonly Samples[];

/** Makes the strokes at one spot: what rings there is made once, and struck softer or harder. */
export type DrumVoice = (point: StrikePoint) => (stroke: Excitation) => Channels;

/** What a stroke is made with where nothing of it is made ahead. */
export type StrokeContext = Pick<StrikePoint, "sampleRate"> & Excitation;

/** Of a voice that makes all of a stroke each time. */
export function eachAnew(voice: (context: StrokeContext) => Samples): DrumVoice {
  return ({ sampleRate }) =>
    (stroke) => [voice({ ...stroke, sampleRate })];
}

/** What the softest stroke loses above the corner, dB: brightness grows by about a third from soft to hard (common practice, no source). */
const SOFT_DB = -11;
const SOFT_HERTZ = 3200;

/** The softer a stroke, the duller. @param samples of one with all force */
export function soften(samples: Samples, force: number, sampleRate: number): void {
  highShelf(samples, SOFT_HERTZ, SOFT_DB * (1 - force), sampleRate);
}

/**
 * What a partial's level at one spot is against its mean over all of them: up to 3 dB up or down.
 * @example spotGain(() => 0.5) // 1
 */
export function spotGain(spot: Random): number {
  return fromDb(3 * (2 * spot() - 1));
}

/** A factor near 1: the small difference between two strokes of one player. */
export function vary(random: Random, amount: number): number {
  return 1 + (random() * 2 - 1) * amount;
}
