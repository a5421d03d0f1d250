import { ROOT_NAMES, SPELLINGS } from "./generated/spellings";

export { ROOT_NAMES };

/** Scales that the keys of a tonal part may play. */
export type ScaleName = keyof typeof SPELLINGS;
export const SCALE_NAMES = Object.keys(SPELLINGS) as readonly ScaleName[];

const SHARPS = ["C", "C#", "D", "D#", "E", "F", "F#", "G", "G#", "A", "A#", "B"] as const;

/** What each key plays: one note, or a chord of every second note of the scale. */
export const CHORD_SIZES = { triads: 3, sevenths: 4 } as const;

export interface Scale {
  /** 0 is C .. 11 is B */
  readonly root: number;
  readonly name: ScaleName;
  readonly chords?: keyof typeof CHORD_SIZES;
}

/** The steps of a scale above its root, in semitones. @example scaleSteps({ root: 2, name: "major" }) // [0, 2, 4, 5, 7, 9, 11] */
export function scaleSteps({ root, name }: Scale): readonly number[] {
  return spelling({ root, name }).map((note) => (chromaOf(note) - root + 12) % 12);
}

/** The notes of a scale as they are spelt: F major is F, G, A, Bb, C, D, E. */
function spelling({ root, name }: Scale): readonly string[] {
  return SPELLINGS[name][root]!;
}

/**
 * The notes that a key plays, counted from the first one on or above `base`.
 * @param key from 0 @param base MIDI note
 * @returns MIDI notes, the lowest first; those above 127 are left out
 * @example scaleNotes({ root: 9, name: "minor", chords: "triads" }, 0, 60) // [69, 72, 76]
 */
export function scaleNotes(scale: Scale, key: number, base: number): readonly number[] {
  const steps = scaleSteps(scale);
  const first = base + ((((scale.root - base) % 12) + 12) % 12);
  const degrees = Array.from({ length: scale.chords ? CHORD_SIZES[scale.chords] : 1 }, (_, at) => key + 2 * at);
  return degrees
    .map((degree) => first + 12 * Math.floor(degree / steps.length) + steps[degree % steps.length]!)
    .filter((note) => note <= 127);
}

/** @returns the name of a MIDI note, spelt as its scale has it; 60 is C4 (common practice, no source) @example noteName(61) // "C♯4" */
export function noteName(note: number, scale?: Scale): string {
  const spelt = scale && spelling(scale).find((one) => chromaOf(one) === note % 12);
  const name = spelt ?? SHARPS[note % 12]!;
  // A B sharp is in the octave of the C that it sounds as, a C flat in that of the B.
  return `${printed(name)}${Math.floor(note / 12) - 1}`;
}

/** @example printed("Bb") // "B♭" */
export function printed(name: string): string {
  return name.replaceAll("#", "♯").replaceAll("b", "♭");
}

const NATURALS: Readonly<Record<string, number>> = { C: 0, D: 2, E: 4, F: 5, G: 7, A: 9, B: 11 };

/** The place of a spelt note among the twelve: 10 for Bb. */
function chromaOf(name: string): number {
  const accidentals = [...name.slice(1)].reduce((sum, sign) => sum + (sign === "#" ? 1 : -1), 0);
  return (NATURALS[name[0]!]! + accidentals + 12) % 12;
}
