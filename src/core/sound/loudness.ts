/** Taken once: inside the loops over samples a look-up of a global each time is dear, above all in a test's sandbox. */
const { floor, log10, min, round, tan } = Math;

/** Below this a block counts as silence, and so many LU below the whole it counts as a pause (ITU-R BS.1770-4, from memory). */
const ABSOLUTE_GATE_LUFS = -70;
const RELATIVE_GATE_LU = 10;
/** Blocks are 400 ms long and begin every 100 ms. */
const STEPS_A_SECOND = 10;
const STEPS_A_BLOCK = 4;
/** Blocks are counted by their loudness, in steps as fine as this, so that an evening takes no more room than a minute. */
const BINS_A_LU = 20;
const BINS = 90 * BINS_A_LU;

/** A filter of second order: what comes out is b0 x + b1 x' + b2 x'' - a1 y' - a2 y''. */
interface Biquad {
  readonly b0: number;
  readonly b1: number;
  readonly b2: number;
  readonly a1: number;
  readonly a2: number;
}

/**
 * The loudness of a stereo signal by ITU-R BS.1770-4, Annex 1 (from memory; coefficients at 48 kHz are its table's, those of
 * other rates follow from the same analogue filters), in LUFS; -Infinity for silence.
 */
export class LoudnessMeter {
  private readonly shelf: Biquad;
  private readonly highPass: Biquad;
  private readonly stepFrames: number;
  /** Two filters a side, two values each. */
  private readonly states = new Float64Array(8);
  private readonly steps = new Float64Array(STEPS_A_BLOCK);
  private readonly counts = new Float64Array(BINS);
  private readonly energies = new Float64Array(BINS);
  private stepCount = 0;
  private framesInStep = 0;
  private sum = 0;

  constructor(sampleRate: number) {
    this.shelf = shelfFilter(sampleRate);
    this.highPass = highPassFilter(sampleRate);
    this.stepFrames = round(sampleRate / STEPS_A_SECOND);
  }

  add(left: Float32Array, right: Float32Array): void {
    let from = 0;
    while (from < left.length) {
      const to = min(left.length, from + this.stepFrames - this.framesInStep);
      this.sum += this.weighted(left, 0, from, to) + this.weighted(right, 4, from, to);
      this.framesInStep += to - from;
      from = to;
      if (this.framesInStep === this.stepFrames) this.endStep();
    }
  }

  /** Of the last 400 ms. */
  get momentary(): number {
    return this.stepCount < STEPS_A_BLOCK ? -Infinity : lufs(this.blockEnergy());
  }

  /** Of all since the last reset, without its pauses. */
  get integrated(): number {
    const all = lufs(this.meanFrom(0));
    return all === -Infinity ? all : lufs(this.meanFrom(binOf(all - RELATIVE_GATE_LU) + 1));
  }

  reset(): void {
    this.counts.fill(0);
    this.energies.fill(0);
  }

  /** @returns the sum of the squares of a side, weighted as ears do */
  private weighted(samples: Float32Array, at: number, from: number, to: number): number {
    const { states, shelf, highPass } = this;
    let sum = 0;
    for (let index = from; index < to; index++) {
      const x = samples[index]!;
      // Transposed direct form II.
      const bright = shelf.b0 * x + states[at]!;
      states[at] = shelf.b1 * x - shelf.a1 * bright + states[at + 1]!;
      states[at + 1] = shelf.b2 * x - shelf.a2 * bright;
      const heard = highPass.b0 * bright + states[at + 2]!;
      states[at + 2] = highPass.b1 * bright - highPass.a1 * heard + states[at + 3]!;
      states[at + 3] = highPass.b2 * bright - highPass.a2 * heard;
      sum += heard * heard;
    }
    return sum;
  }

  private endStep(): void {
    this.steps[this.stepCount % STEPS_A_BLOCK] = this.sum;
    this.stepCount++;
    this.framesInStep = 0;
    this.sum = 0;
    if (this.stepCount < STEPS_A_BLOCK) return;
    const energy = this.blockEnergy();
    const loudness = lufs(energy);
    if (loudness <= ABSOLUTE_GATE_LUFS) return;
    const bin = binOf(loudness);
    this.counts[bin]!++;
    this.energies[bin]! += energy;
  }

  private blockEnergy(): number {
    return this.steps.reduce((sum, step) => sum + step) / (STEPS_A_BLOCK * this.stepFrames);
  }

  /** The mean energy of the blocks from a bin on. */
  private meanFrom(bin: number): number {
    let [count, energy] = [0, 0];
    for (let at = bin; at < BINS; at++) {
      count += this.counts[at]!;
      energy += this.energies[at]!;
    }
    return count === 0 ? 0 : energy / count;
  }
}

function lufs(energy: number): number {
  return -0.691 + 10 * log10(energy);
}

function binOf(loudness: number): number {
  return Math.max(0, min(BINS - 1, floor((loudness - ABSOLUTE_GATE_LUFS) * BINS_A_LU)));
}

/** What a head does to high tones. */
function shelfFilter(sampleRate: number): Biquad {
  const [frequency, gainDb, q] = [1681.974450955533, 3.999843853973347, 0.7071752369554196];
  const k = tan((Math.PI * frequency) / sampleRate);
  const high = Math.pow(10, gainDb / 20);
  const band = Math.pow(high, 0.4996667741545416);
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
  const k = tan((Math.PI * frequency) / sampleRate);
  return { b0: 1, b1: -2, b2: 1, ...polesOf(k, q, 1 + k / q + k * k) };
}

function polesOf(k: number, q: number, a0: number): Pick<Biquad, "a1" | "a2"> {
  return { a1: (2 * (k * k - 1)) / a0, a2: (1 - k / q + k * k) / a0 };
}
