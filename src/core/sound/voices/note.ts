import type { Random } from "../../random";
import type { Samples } from "../signal/dsp";
import { type Mode } from "../signal/modes";

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

/** Partials of a note up to the highest that a voice may have. @param most so many at the most @param partial by its number, from 1 */
export function partials(most: number, partial: (number: number) => Mode): readonly Mode[] {
  return Array.from({ length: most }, (_, index) => partial(index + 1)).filter(
    (mode) => mode.gain > 1e-4 && mode.hertz < HIGHEST_HERTZ,
  );
}
