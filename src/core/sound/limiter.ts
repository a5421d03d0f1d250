import { fromDb } from "./dsp";

/** Taken once: inside the loops over samples a look-up of a global each time is dear, above all in a test's sandbox. */
const { abs, max, min } = Math;

/** Highest level that leaves the app. */
const CEILING = fromDb(-0.3);
const RELEASE_SECONDS = 0.12;

/**
 * Keeps peaks under the ceiling without delay: the gain drops at once for a peak and comes back slowly. Below the
 * ceiling it changes no bit.
 */
export class Limiter {
  private gain = 1;
  /** The least gain since it was asked for. */
  private lowest = 1;
  private readonly release: number;

  constructor(sampleRate: number) {
    this.release = Math.fround(1 - Math.exp(-1 / (RELEASE_SECONDS * sampleRate)));
  }

  /** By how much the highest peak was turned down since the last time this was asked, dB. */
  takeReduction(): number {
    const { lowest } = this;
    this.lowest = 1;
    return lowest < 1 ? -20 * Math.log10(lowest) : 0;
  }

  /** @returns true when something had to be turned down */
  process(left: Float32Array, right: Float32Array): boolean {
    let worked = false;
    for (let index = 0; index < left.length; index++) {
      const peak = max(abs(left[index]!), abs(right[index]!));
      if (this.gain < 1) this.gain = min(1, this.gain + (1.0001 - this.gain) * this.release);
      if (peak * this.gain > CEILING) {
        this.gain = CEILING / peak;
        this.lowest = min(this.lowest, this.gain);
        worked = true;
      }
      if (this.gain < 1) {
        left[index]! *= this.gain;
        right[index]! *= this.gain;
      }
    }
    return worked;
  }
}
