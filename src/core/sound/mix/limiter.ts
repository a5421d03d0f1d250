import { single } from "../signal/dsp";
import { fromDb } from "../signal/gain";
import { KNOWN_AFTER, limiterDelayFrames } from "./limiter-delay";

/** Hoisted: looking up a global per sample is slow, above all in a test's sandbox. */
const { abs, max, min } = Math;

/** The highest level that leaves the app, between samples too; the measure of peaks is good to a few tenths of a decibel. */
const CEILING = fromDb(-1.4);
const RELEASE_SECONDS = 0.07;

/**
 * Four times as many samples, by ITU-R BS.1770-4, Annex 2 (coefficients from memory, held against an independent meter in
 * tests/reference): two of the four phases; the others are these from their ends.
 */
const QUARTER = [
  0.001708984375, 0.010986328125, -0.0196533203125, 0.033203125, -0.0594482421875, 0.1373291015625, 0.97216796875,
  -0.102294921875, 0.047607421875, -0.026611328125, 0.014892578125, -0.00830078125,
];
const HALF = [
  -0.0291748046875, 0.029296875, -0.0517578125, 0.089111328125, -0.16650390625, 0.465087890625, 0.77978515625,
  -0.2003173828125, 0.1015625, -0.0582275390625, 0.0330810546875, -0.0189208984375,
];
const TAPS = QUARTER.length;
/** Between samples nothing is higher than so many times the highest of the samples around. */
const MOST_OVER = 2.1;
/**
 * Keeps peaks under the ceiling, also between samples: it looks ahead, and is down when a peak comes. Below the ceiling it
 * changes no bit, and is only late.
 */
export class Limiter {
  private readonly delay: number;
  private readonly held: { readonly left: Float32Array; readonly right: Float32Array };
  private at = 0;
  /** The last samples, for what is between them. */
  private readonly recent = { left: new Float64Array(2 * TAPS), right: new Float64Array(2 * TAPS) };
  private newest = 0;
  /** So many more frames may have something between them. */
  private peakHoldFrames = 0;
  /** The gain that each of the last frames asked for, and what is left of them on the way up. */
  private readonly gainWindow: Float64Array;
  private readonly followed: Float64Array;
  private slot = 0;
  private least = 1;
  private follow = 1;
  private sum: number;
  /** How many of them are below 1. */
  private below = 0;
  /** The gain that the newest frame asks for, and the least since somebody wanted to know. */
  private requestedGain = 1;
  private lowest = 1;
  private readonly release: number;

  constructor(sampleRate: number) {
    this.delay = limiterDelayFrames(sampleRate);
    this.held = { left: new Float32Array(this.delay), right: new Float32Array(this.delay) };
    this.gainWindow = new Float64Array(this.delay).fill(1);
    this.followed = new Float64Array(this.delay - KNOWN_AFTER).fill(1);
    this.sum = this.followed.length;
    this.release = single(1 - Math.exp(-1 / (RELEASE_SECONDS * sampleRate)));
  }

  /** By how much the highest peak was turned down since the last time this was asked, dB. */
  takeReduction(): number {
    const { lowest } = this;
    this.lowest = 1;
    return lowest < 1 ? -20 * Math.log10(lowest) : 0;
  }

  /** @returns true when something came in that has to be turned down */
  process(left: Float32Array, right: Float32Array): boolean {
    if (this.atRest && left.length >= TAPS && isQuiet(left) && isQuiet(right)) return this.pass(left, right);
    let worked = false;
    for (let index = 0; index < left.length; index++) {
      const gain = this.gainFor(left[index]!, right[index]!);
      const { held, at } = this;
      const oldLeft = held.left[at]!;
      const oldRight = held.right[at]!;
      held.left[at] = left[index]!;
      held.right[at] = right[index]!;
      this.at = at + 1 === this.delay ? 0 : at + 1;
      left[index] = gain < 1 ? oldLeft * gain : oldLeft;
      right[index] = gain < 1 ? oldRight * gain : oldRight;
      if (this.requestedGain < 1) worked = true;
    }
    return worked;
  }

  /** Nothing is turned down, nor about to be. */
  private get atRest(): boolean {
    return this.peakHoldFrames === 0 && this.below === 0 && this.least === 1 && this.follow === 1;
  }

  /** A block that is only late: what the slow way would make of it, to the bit. */
  private pass(left: Float32Array, right: Float32Array): false {
    const { held, delay, recent } = this;
    let { at } = this;
    for (let tap = 0; tap < TAPS; tap++) {
      const frame = left.length - TAPS + tap;
      recent.left[tap] = recent.left[tap + TAPS] = left[frame]!;
      recent.right[tap] = recent.right[tap + TAPS] = right[frame]!;
    }
    this.newest = 0;
    for (let index = 0; index < left.length; index++) {
      const oldLeft = held.left[at]!;
      const oldRight = held.right[at]!;
      held.left[at] = left[index]!;
      held.right[at] = right[index]!;
      left[index] = oldLeft;
      right[index] = oldRight;
      at = at + 1 === delay ? 0 : at + 1;
    }
    this.at = at;
    return false;
  }

  /** For the frame that leaves with this one. */
  private gainFor(left: number, right: number): number {
    const peak = this.peakOf(left, right);
    this.requestedGain = peak > CEILING ? CEILING / peak : 1;
    if (this.requestedGain < this.lowest) this.lowest = this.requestedGain;
    const ahead = this.leastAhead(this.requestedGain);
    this.follow = ahead < this.follow ? ahead : min(1, ahead, this.follow + (1.0001 - this.follow) * this.release);
    return this.smooth(this.follow);
  }

  /** The highest amplitude at and around the frame that is known by now. */
  private peakOf(left: number, right: number): number {
    const { recent } = this;
    // Each is written twice, so that the last twelve always lie one after the other.
    recent.left[this.newest] = recent.left[this.newest + TAPS] = left;
    recent.right[this.newest] = recent.right[this.newest + TAPS] = right;
    this.newest = this.newest + 1 === TAPS ? 0 : this.newest + 1;
    if (max(abs(left), abs(right)) * MOST_OVER > CEILING) this.peakHoldFrames = TAPS;
    if (this.peakHoldFrames === 0) return 0;
    this.peakHoldFrames--;
    return max(between(recent.left, this.newest), between(recent.right, this.newest));
  }

  /** The least gain that is asked for as far as is looked ahead. */
  private leastAhead(wanted: number): number {
    const all = this.gainWindow;
    const leaving = all[this.at]!;
    all[this.at] = wanted;
    if (wanted <= this.least) this.least = wanted;
    else if (leaving < 1 && leaving === this.least) {
      // It may have been the only one: the others are looked through.
      let least = 1;
      for (let index = 0; index < all.length; index++) least = min(least, all[index]!);
      this.least = least;
    }
    return this.least;
  }

  /** The mean of the last gains: it goes down without a corner, and is all the way down when the peak leaves. */
  private smooth(gain: number): number {
    const { followed } = this;
    const slot = this.slot;
    if (followed[slot]! < 1) this.below--;
    if (gain < 1) this.below++;
    this.sum += gain - followed[slot]!;
    followed[slot] = gain;
    this.slot = slot + 1 === followed.length ? 0 : slot + 1;
    // What rounding has left over is forgotten as soon as it may be.
    if (this.below === 0) this.sum = followed.length;
    return this.below === 0 ? 1 : this.sum / followed.length;
  }
}

/** Nothing in it is loud enough to be too loud between samples. */
function isQuiet(side: Float32Array): boolean {
  const most = CEILING / MOST_OVER;
  for (let index = 0; index < side.length; index++) if (abs(side[index]!) > most) return false;
  return true;
}

/** The highest of the middle sample of twelve and the three behind it that lie between samples. */
function between(recent: Float64Array, from: number): number {
  let [quarter, half, back, last] = [0, 0, 0, 0];
  for (let tap = 0; tap < TAPS; tap++) {
    const sample = recent[from + tap]!;
    quarter += sample * QUARTER[tap]!;
    half += sample * HALF[tap]!;
    back += sample * HALF[TAPS - 1 - tap]!;
    last += sample * QUARTER[TAPS - 1 - tap]!;
  }
  return max(abs(quarter), abs(half), abs(back), abs(last), abs(recent[from + KNOWN_AFTER]!));
}
