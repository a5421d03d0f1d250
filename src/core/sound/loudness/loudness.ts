import { KWeighting } from "./k-weighting";

/** Hoisted: looking up a global per sample is slow, above all in a test's sandbox. */
const { floor, log10, min, round } = Math;

/** Below this a block counts as silence, and so many LU below the whole it counts as a pause (ITU-R BS.1770-4, from memory). */
const ABSOLUTE_GATE_LUFS = -70;
const RELATIVE_GATE_LU = 10;
/** Blocks are 400 ms long and begin every 100 ms. */
const STEPS_A_SECOND = 10;
const STEPS_A_BLOCK = 4;
/** Blocks are counted by their loudness, in steps as fine as this, so that an evening takes no more room than a minute. */
const BINS_A_LU = 20;
const BINS = 90 * BINS_A_LU;

/**
 * The loudness of a stereo signal by ITU-R BS.1770-4, Annex 1 (from memory), in LUFS; -Infinity for silence.
 */
export class LoudnessMeter {
  private readonly left: KWeighting;
  private readonly right: KWeighting;
  private readonly stepFrames: number;
  private readonly steps = new Float64Array(STEPS_A_BLOCK);
  private readonly counts = new Float64Array(BINS);
  private readonly energies = new Float64Array(BINS);
  private stepCount = 0;
  private stepsSinceReset = 0;
  private framesInStep = 0;
  private sum = 0;

  constructor(sampleRate: number) {
    this.left = new KWeighting(sampleRate);
    this.right = new KWeighting(sampleRate);
    this.stepFrames = round(sampleRate / STEPS_A_SECOND);
  }

  add(left: Float32Array, right: Float32Array): void {
    let from = 0;
    while (from < left.length) {
      const to = min(left.length, from + this.stepFrames - this.framesInStep);
      this.sum += this.left.energy(left, from, to) + this.right.energy(right, from, to);
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
    // A step that has begun is half of what was before.
    this.stepsSinceReset = this.framesInStep > 0 ? -1 : 0;
  }

  private endStep(): void {
    this.steps[this.stepCount % STEPS_A_BLOCK] = this.sum;
    this.stepCount++;
    this.stepsSinceReset++;
    this.framesInStep = 0;
    this.sum = 0;
    // A block that reaches back behind the reset is none of what is measured since.
    if (this.stepsSinceReset < STEPS_A_BLOCK) return;
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
