import { noteName, type Scale } from "./scale";

/** Chords by the semitones above their root (common practice, no source). */
const QUALITIES: Readonly<Record<string, string>> = {
  "4 7": "",
  "3 7": "m",
  "3 6": "dim",
  "4 8": "aug",
  "2 7": "sus2",
  "5 7": "sus4",
  "4 7 11": "maj7",
  "4 7 10": "7",
  "3 7 10": "m7",
  "3 6 10": "m7♭5",
  "3 6 9": "dim7",
  "3 7 11": "m(maj7)",
  "4 8 11": "maj7♯5",
  "4 7 9": "6",
  "3 7 9": "m6",
};

/**
 * @param notes MIDI notes, the root first
 * @returns undefined for what has no usual name
 * @example chordName([60, 63, 67, 70]) // "Cm7"
 */
export function chordName([root, ...others]: readonly number[], scale?: Scale): string | undefined {
  if (root === undefined) return undefined;
  const quality = QUALITIES[others.map((note) => note - root).join(" ")];
  return quality === undefined ? undefined : `${noteName(root, scale).replace(/-?\d+$/, "")}${quality}`;
}
