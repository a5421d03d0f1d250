import { fromDb, single, type Samples } from "./dsp";
import { KWeighting } from "./k-weighting";

/** By so much of a stroke ears tell how loud it was struck; what rings on after it says what was struck. */
const STRUCK_SECONDS = 0.15;
/** What ITU-R BS.1770 adds, so that a sine of 997 Hz at full scale on one side has -3.01 LKFS (from memory). */
const OFFSET_DB = 0.691;

/** The mean square of a stroke's beginning, as ears weigh it, on both sides. */
function strokeEnergy(samples: Samples, sampleRate: number): number {
  const frames = Math.round(STRUCK_SECONDS * sampleRate);
  const sum = new KWeighting(sampleRate).energy(samples, 0, Math.min(frames, samples.length));
  return (2 * sum) / frames;
}

/** How loud a stroke is that sounds on both sides: LUFS of its first 150 ms; -Infinity for silence. */
export function strokeLoudness(samples: Samples, sampleRate: number): number {
  return 10 * Math.log10(strokeEnergy(samples, sampleRate)) - OFFSET_DB;
}

/** Makes a stroke so loud. The peak of noise is chance, its loudness is not. @param lufs on both sides, of its first 150 ms */
export function setLoudness(samples: Samples, lufs: number, sampleRate: number): Samples {
  const energy = strokeEnergy(samples, sampleRate);
  if (energy === 0) return samples;
  // A square root is exact on every machine, a logarithm is not.
  const scale = single(fromDb(lufs + OFFSET_DB) / Math.sqrt(energy));
  for (let frame = 0; frame < samples.length; frame++) samples[frame]! *= scale;
  return samples;
}
