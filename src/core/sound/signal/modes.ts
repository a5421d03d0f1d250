import { decayFactor, sineTurns, single, type Samples } from "./dsp";

/** Hoisted: looking up a global per sample is slow, above all in a test's sandbox. */
const { ceil, max, min } = Math;

/** One partial of a struck thing: frequency, the time in which it falls by 60 dB, its share, and its start phase. */
export interface Mode {
  readonly hertz: number;
  readonly decaySeconds: number;
  readonly gain: number;
  readonly turns?: number;
}

/** A decaying sine: every sample is `twice` the one before it, less `past` the one before that. */
interface Resonance {
  readonly twice: number;
  readonly past: number;
  readonly first: number;
  readonly second: number;
  readonly frames: number;
}

const SILENT: Resonance = { twice: 0, past: 0, first: 0, second: 0, frames: 0 };

function resonance({ hertz, decaySeconds, gain, turns = 0 }: Mode, sampleRate: number): Resonance {
  const decay = decayFactor(decaySeconds, sampleRate);
  const angle = (2 * Math.PI * hertz) / sampleRate;
  // By what is missing to 1, of which single precision keeps more for low tones than of the cosine itself.
  const cosine = 1 - single(2 * Math.sin(angle / 2) ** 2);
  const [re, im] = [gain * sineTurns(turns + 0.25), gain * sineTurns(turns)];
  return {
    twice: 2 * cosine * decay,
    past: decay * decay,
    first: im,
    second: (re * single(Math.sin(angle)) + im * cosine) * decay,
    frames: ceil(decaySeconds * sampleRate * 1.2),
  };
}

/** Adds decaying sines. Modes above the half sample rate are left out. */
export function addModes(target: Samples, modes: readonly Mode[], sampleRate: number): void {
  const heard = modes.filter(({ hertz }) => hertz <= sampleRate * 0.45).map((mode) => resonance(mode, sampleRate));
  for (let index = 0; index < heard.length; index += 4)
    addFour(target, heard[index]!, heard[index + 1] ?? SILENT, heard[index + 2] ?? SILENT, heard[index + 3] ?? SILENT);
}

/** Four at a time: each waits for its own last sample, and the processor goes on with the others in the meantime. */
function addFour(target: Samples, a: Resonance, b: Resonance, c: Resonance, d: Resonance): void {
  const { twice: aTwice, past: aPast } = a;
  const { twice: bTwice, past: bPast } = b;
  const { twice: cTwice, past: cPast } = c;
  const { twice: dTwice, past: dPast } = d;
  let { first: a0, second: a1 } = a;
  let { first: b0, second: b1 } = b;
  let { first: c0, second: c1 } = c;
  let { first: d0, second: d1 } = d;
  const end = min(target.length, max(a.frames, b.frames, c.frames, d.frames));
  for (let frame = 0; frame < end; frame++) {
    target[frame]! += a0 + b0 + (c0 + d0);
    let next = aTwice * a1 - aPast * a0;
    a0 = a1;
    a1 = next;
    next = bTwice * b1 - bPast * b0;
    b0 = b1;
    b1 = next;
    next = cTwice * c1 - cPast * c0;
    c0 = c1;
    c1 = next;
    next = dTwice * d1 - dPast * d0;
    d0 = d1;
    d1 = next;
  }
}
