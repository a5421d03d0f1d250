import type { Random } from "../../random";
import type { Mode, Samples } from "../dsp";
import { single } from "../dsp";

/** A MIDI note number of 69 is 440 Hz (ISO 16:1975), and twelve equal steps make an octave. */
const A4 = 69;
/** No voice has anything above: played an octave up, at the lowest rate, it still folds nothing back. */
export const HIGHEST_HERTZ = 9000;

/** What a note is made with. */
export interface NoteContext {
  readonly hertz: number;
  readonly sampleRate: number;
  /** Ratio 0..1; a harder one is brighter, its level is set afterwards. */
  readonly force: number;
  readonly random: Random;
}

/** A note as samples, and where it goes round, if it does. */
export interface RenderedNote {
  readonly samples: Samples;
  readonly loop?: readonly [startFrame: number, endFrame: number];
}

/** Makes one note. */
export type NoteVoice = (note: NoteContext) => RenderedNote;

/** @example noteHertz(69) // 440 */
export function noteHertz(note: number): number {
  return 440 * semitoneRatio(note - A4);
}

/** @example semitoneRatio(12) // 2 */
export function semitoneRatio(semitones: number): number {
  return single(Math.pow(2, semitones / 12));
}

/** Partials of a note up to the highest that a voice may have. @param partial by its number, from 1 */
export function partials(hertz: number, most: number, partial: (number: number) => Mode): readonly Mode[] {
  return Array.from({ length: most }, (_, index) => partial(index + 1)).filter(
    (mode) => mode.gain > 1e-4 && mode.hertz < HIGHEST_HERTZ && hertz > 0,
  );
}
