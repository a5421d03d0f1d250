import { addNoise, silence, sineTurns, type Samples } from "../signal/dsp";
import { addModes } from "../signal/modes";
import { HIGHEST_HERTZ, partials, type NoteVoice, type RenderedNote } from "./note";

/** Samples that the reading between them needs behind the end of a loop. */
const BEHIND_LOOP = 4;

/** A partial that goes on: how often it swings in one trip round the loop, its share and its start phase. */
interface Steady {
  readonly cycles: number;
  readonly gain: number;
  readonly turns: number;
}

/** How long a trip round is, and how often the note swings in it: a whole number each, within a third of a cent of its pitch. */
function loopOf(
  hertz: number,
  seconds: number,
  sampleRate: number,
): { readonly cycles: number; readonly frames: number } {
  const cycles = Math.max(1, Math.round(hertz * seconds));
  return { cycles, frames: Math.round((cycles * sampleRate) / hertz) };
}

/** Adds partials that go on; all of them are the same again after the loop, as each reads one sine of its length. */
function addSteady(target: Samples, frames: number, steady: readonly Steady[]): void {
  const sine = Float64Array.from({ length: frames }, (_, frame) => sineTurns(frame / frames));
  for (const { cycles, gain, turns } of steady) {
    let at = Math.floor(turns * frames);
    for (let frame = 0; frame < target.length; frame++) {
      target[frame]! += gain * sine[at]!;
      at += cycles;
      while (at >= frames) at -= frames;
    }
  }
}

/** Rises from nothing in so many frames, by a smooth curve. */
function fadeIn(target: Samples, frames: number): void {
  for (let frame = 0; frame < Math.min(frames, target.length); frame++) {
    const share = frame / frames;
    target[frame]! *= share * share * (3 - 2 * share);
  }
}

function looped(samples: Samples, startFrame: number, frames: number): RenderedNote {
  return { samples, loop: [startFrame, startFrame + frames] };
}

/** A bass with bite: all partials, the upper ones bright at first and then tamed. */
export const winch: NoteVoice = ({ hertz, sampleRate, force, random }) => {
  const { cycles, frames } = loopOf(hertz, 0.25, sampleRate);
  const start = Math.round(0.32 * sampleRate);
  const samples = new Float32Array(start + frames + BEHIND_LOOP);
  const steady = Array.from({ length: 10 }, (_, index) => index + 1)
    .filter((n) => n * hertz < HIGHEST_HERTZ)
    .map((n) => ({ cycles: n * cycles, gain: Math.pow(0.66, n - 1) / Math.sqrt(n), turns: 0 }));
  addSteady(samples, frames, steady);
  const bite = silence(0.3, sampleRate);
  const modes = partials(32, (n) => ({
    hertz: (n * cycles * sampleRate) / frames,
    decaySeconds: 0.26 / (1 + 0.03 * n),
    gain: n < 3 ? 0 : ((0.25 + 0.75 * force) * Math.pow(0.93, n)) / n,
  }));
  addModes(bite, modes, sampleRate);
  addNoise(bite, { gain: 0.1 * force, decaySeconds: 0.01, lowHertz: 500, highHertz: 5000 }, sampleRate, random);
  bite.forEach((sample, frame) => {
    const left = 1 - frame / bite.length;
    samples[frame]! += sample * Math.min(1, 4 * left);
  });
  fadeIn(samples, Math.round(0.002 * sampleRate));
  return looped(samples, start, frames);
};

/** A soft pad: each partial twice, a little apart, so that it moves. */
export const fog: NoteVoice = ({ hertz, sampleRate, force, random }) => {
  const { cycles, frames } = loopOf(hertz, 1.5, sampleRate);
  const start = Math.round(0.3 * sampleRate);
  const samples = new Float32Array(start + frames + BEHIND_LOOP);
  const steady = Array.from({ length: 12 }, (_, index) => index + 1)
    .filter((n) => n * hertz < HIGHEST_HERTZ)
    .flatMap((n): Steady[] => {
      const gain = Math.pow(0.45 + 0.25 * force, n - 1) / n;
      const apart = Math.min(2, Math.ceil(n / 2));
      return [
        { cycles: n * cycles, gain, turns: random() },
        { cycles: n * cycles + apart, gain: gain * 0.45, turns: random() },
        { cycles: n * cycles - apart, gain: gain * 0.45, turns: random() },
      ];
    });
  addSteady(samples, frames, steady);
  fadeIn(samples, Math.round(0.12 * sampleRate));
  return looped(samples, start, frames);
};
