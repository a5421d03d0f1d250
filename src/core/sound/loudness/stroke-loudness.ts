import { single, type Samples } from "../signal/dsp";
import { fromDb } from "../signal/gain";
import { KWeighting } from "./k-weighting";

/** By so much of a stroke ears tell how loud it was struck; what rings on after it says what was struck. */
const STRUCK_SECONDS = 0.15;
/** What ITU-R BS.1770 adds, so that a sine of 997 Hz at full scale on one side has -3.01 LKFS (from memory). */
const OFFSET_DB = 0.691;

/** The mean square of a stroke's beginning, as ears weigh it, on both sides. @param sides one that is heard on both, or two */
function strokeEnergy(sides: readonly Samples[], sampleRate: number, seconds: number): number {
  const frames = Math.round(seconds * sampleRate);
  const sum = sides.reduce(
    (energy, side) => energy + new KWeighting(sampleRate).energy(side, 0, Math.min(frames, side.length)),
    0,
  );
  return ((2 / sides.length) * sum) / frames;
}

/** How loud a stroke is: LUFS of its first 150 ms; -Infinity for silence. @param sides one that is heard on both, or left and right */
export function strokeLoudness(sides: readonly Samples[], sampleRate: number): number {
  return 10 * Math.log10(strokeEnergy(sides, sampleRate, STRUCK_SECONDS)) - OFFSET_DB;
}

/**
 * Makes a stroke so loud. The peak of noise is chance, its loudness is not.
 * @param lufs on both sides, of its first 150 ms
 * @param seconds of its first so many, for what needs longer to begin
 */
export function setLoudness<T extends readonly Samples[]>(
  sides: T,
  lufs: number,
  sampleRate: number,
  seconds = STRUCK_SECONDS,
): T {
  const energy = strokeEnergy(sides, sampleRate, seconds);
  if (energy === 0) return sides;
  // A square root is exact on every machine, a logarithm is not.
  const scale = single(fromDb(lufs + OFFSET_DB) / Math.sqrt(energy));
  for (const side of sides) for (let frame = 0; frame < side.length; frame++) side[frame]! *= scale;
  return sides;
}
