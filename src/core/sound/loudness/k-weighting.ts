import { single } from "../signal/dsp";

/** Hoisted: looking up a global per sample is slow, above all in a test's sandbox. */
const { tan } = Math;

/** A filter of second order: what comes out is b0 x + b1 x' + b2 x'' - a1 y' - a2 y''. */
interface Biquad {
  readonly b0: number;
  readonly b1: number;
  readonly b2: number;
  readonly a1: number;
  readonly a2: number;
}

/**
 * One side of a signal as ears weigh it: the two filters of ITU-R BS.1770-4, Annex 1 (from memory; coefficients at 48 kHz are its
 * table's, those of other rates follow from the same analogue filters), rounded so that every machine has the same.
 */
export class KWeighting {
  private readonly shelf: Biquad;
  private readonly highPass: Biquad;
  /** Two filters, two values each. */
  private readonly states = new Float64Array(4);

  constructor(sampleRate: number) {
    this.shelf = shelfFilter(sampleRate);
    this.highPass = highPassFilter(sampleRate);
  }

  /** The sum of the squares of samples that follow what was weighed before. @param to not included */
  energy(samples: Float32Array, from: number, to: number): number {
    const { states, shelf, highPass } = this;
    let sum = 0;
    for (let index = from; index < to; index++) {
      const x = samples[index]!;
      // Transposed direct form II.
      const bright = shelf.b0 * x + states[0]!;
      states[0] = shelf.b1 * x - shelf.a1 * bright + states[1]!;
      states[1] = shelf.b2 * x - shelf.a2 * bright;
      const heard = highPass.b0 * bright + states[2]!;
      states[2] = highPass.b1 * bright - highPass.a1 * heard + states[3]!;
      states[3] = highPass.b2 * bright - highPass.a2 * heard;
      sum += heard * heard;
    }
    return sum;
  }
}

/** What a head does to high tones. */
function shelfFilter(sampleRate: number): Biquad {
  const [frequency, gainDb, q] = [1681.974450955533, 3.999843853973347, 0.7071752369554196];
  const k = single(tan((Math.PI * frequency) / sampleRate));
  const high = single(Math.pow(10, gainDb / 20));
  const band = single(Math.pow(high, 0.4996667741545416));
  const a0 = 1 + k / q + k * k;
  return {
    b0: (high + (band * k) / q + k * k) / a0,
    b1: (2 * (k * k - high)) / a0,
    b2: (high - (band * k) / q + k * k) / a0,
    ...polesOf(k, q, a0),
  };
}

/** How little lowest tones count. */
function highPassFilter(sampleRate: number): Biquad {
  const [frequency, q] = [38.13547087602444, 0.5003270373238773];
  const k = single(tan((Math.PI * frequency) / sampleRate));
  return { b0: 1, b1: -2, b2: 1, ...polesOf(k, q, 1 + k / q + k * k) };
}

function polesOf(k: number, q: number, a0: number): Pick<Biquad, "a1" | "a2"> {
  return { a1: (2 * (k * k - 1)) / a0, a2: (1 - k / q + k * k) / a0 };
}
