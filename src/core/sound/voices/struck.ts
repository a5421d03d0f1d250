import { addNoise, damp, saturate, silence } from "../signal/dsp";
import { addModes } from "../signal/modes";
import type { NoteContext, NoteVoice, RenderedNote } from "./note";
import { partials } from "./note";

/** Notes that die away by themselves: lower ones longer. */
function ringing(hertz: number, secondsAt100: number, shortest: number): number {
  return Math.max(shortest, secondsAt100 * Math.pow(100 / hertz, 0.45));
}

/** A round bass: a finger on a thick string, most of it the first two partials. */
export const keel: NoteVoice = ({ hertz, sampleRate, force, random }) => {
  const seconds = ringing(hertz, 2.2, 0.7);
  const samples = silence(seconds, sampleRate);
  const bright = 0.35 + 0.65 * force;
  const modes = partials(14, (n) => ({
    hertz: n * hertz,
    decaySeconds: seconds / (1 + 0.42 * (n - 1)),
    gain: n === 1 ? 1 : (0.75 * Math.pow(bright, n - 1)) / n,
  }));
  addModes(samples, modes, sampleRate);
  addNoise(samples, { gain: 0.06 * force, decaySeconds: 0.025, highHertz: 1400 }, sampleRate, random);
  saturate(samples, 0.5 + 0.5 * force);
  return { samples };
};

/** A tuned bar of wood under a soft mallet: the overtones of bars are tuned to 4 and 10 (Rossing, Fletcher; from memory). */
export const buoy: NoteVoice = ({ hertz, sampleRate, force, random }) => {
  const seconds = ringing(hertz, 1.6, 0.35);
  const samples = silence(seconds, sampleRate);
  const bar = [
    { ratio: 1, gain: 1, share: 1 },
    { ratio: 3.98, gain: 0.22 + 0.2 * force, share: 0.24 },
    { ratio: 9.9, gain: 0.1 * force, share: 0.08 },
  ];
  const modes = partials(bar.length, (n) => {
    const { ratio, gain, share } = bar[n - 1]!;
    return { hertz: ratio * hertz, decaySeconds: seconds * share, gain };
  });
  addModes(samples, modes, sampleRate);
  addNoise(samples, { gain: 0.22 * force, decaySeconds: 0.018, lowHertz: 300, highHertz: 3500 }, sampleRate, random);
  return { samples };
};

/** Where a string is plucked, as a share of its length: the partials that stand still there are missing. */
const PLUCKED_AT = 0.18;

/** A plucked wire: stiff, so that high partials lie a little above the series, and soon gone. */
export const rigging: NoteVoice = ({ hertz, sampleRate, force, random }) => {
  const seconds = ringing(hertz, 2.4, 0.5);
  const samples = silence(seconds, sampleRate);
  const modes = partials(28, (n) => ({
    hertz: n * hertz * Math.sqrt(1 + 0.00006 * (n * n - 1)),
    decaySeconds: seconds / (1 + 0.16 * (n - 1)),
    gain: (Math.abs(Math.sin(Math.PI * n * PLUCKED_AT)) * Math.pow(0.62 + 0.3 * force, n - 1)) / Math.sqrt(n),
  }));
  addModes(samples, modes, sampleRate);
  addNoise(samples, { gain: 0.09 * force, decaySeconds: 0.012, lowHertz: 900, highHertz: 5000 }, sampleRate, random);
  return { samples };
};

/** A tine under a small hammer: bell-like when it is struck hard, a flute when it is touched. */
export const cabin: NoteVoice = ({ hertz, sampleRate, force }: NoteContext): RenderedNote => {
  const seconds = ringing(hertz, 4.2, 0.9);
  const samples = silence(seconds, sampleRate);
  const modes = partials(7, (n) => ({
    hertz: n * hertz,
    decaySeconds: seconds / (1 + 0.7 * (n - 1)),
    gain: n === 1 ? 1 : (0.7 * Math.pow(0.2 + 0.5 * force, n - 1)) / n,
  }));
  const tine = partials(1, () => ({ hertz: 6.98 * hertz, decaySeconds: 0.22, gain: 0.16 * force }));
  addModes(samples, [...modes, ...tine], sampleRate);
  saturate(samples, 0.4 + 0.7 * force);
  damp(samples, seconds * 0.9, seconds, sampleRate);
  return { samples };
};
