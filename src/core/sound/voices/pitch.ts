/** A MIDI note number of 69 is 440 Hz (ISO 16:1975), and twelve equal steps make an octave. */
const A4 = 69;

/** @example noteHertz(69) // 440 */
export function noteHertz(note: number): number {
  return 440 * semitoneRatio(note - A4);
}

/** @example semitoneRatio(12) // 2 */
export function semitoneRatio(semitones: number): number {
  return Math.fround(Math.pow(2, semitones / 12));
}
