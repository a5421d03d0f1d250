import type { Samples } from "./dsp";

/** Taken once: inside the loops over samples a look-up of a global each time is dear, above all in a test's sandbox. */
const { abs, max, min } = Math;

export const NEVER = Number.MAX_SAFE_INTEGER;

/** A sample being played: plain numbers, made once and used again. Frames are absolute. */
export class Voice {
  active = false;
  samples: Samples = new Float32Array(0);
  /** What the right side has in their place; undefined where both have the same. */
  right: Samples | undefined;
  gainLeft = 0;
  gainRight = 0;
  chokeGroup = 0;
  /** It ends with its note. */
  held = false;
  lane = 0;
  startFrame = 0;
  /** Samples a frame. */
  rate = 1;
  loopStart = 0;
  /** 0 where nothing goes round. */
  loopEnd = 0;
  /** Where the samples are over. */
  endFrame = NEVER;
  /** What each frame is softer than the one before; 1 where it rings as it was made. */
  decay = 1;
  /** How much is left by that. */
  decayed = 1;
  fadeFrame = NEVER;
  fadeFrames = 1;
  /** Where it fades already, and is cut off, it goes faster from here on. */
  hurryFrame = NEVER;
  hurryFrames = 1;
  /** What a note that is let go fades in. */
  releaseFrames = 1;
  /** With what the last block ended: a fader that was moved since is followed in a straight line, without a click. */
  levelLeft = 0;
  levelRight = 0;
  levelRoom = 0;

  /** Behind the last frame that it has. */
  get overFrame(): number {
    return min(this.endFrame, this.fadeFrame + this.fadeFrames, this.hurryFrame + this.hurryFrames);
  }

  /** Fades from a frame on, unless it is gone by then anyhow; what fades already goes on from where it is. */
  fadeFrom(frame: number, frames: number): void {
    if (this.overFrame <= frame + frames) return;
    if (this.fadeFrame >= frame) {
      this.fadeFrame = frame;
      this.fadeFrames = frames;
    } else if (this.hurryFrame >= frame) {
      this.hurryFrame = frame;
      this.hurryFrames = frames;
    }
  }

  /**
   * Writes what it has in a block that begins at `frame`, before its level.
   * @param left of that block, the frames from `from` up to, but without `to` are written
   * @param right the same, written only where the right side is another
   * @returns the highest amplitude
   */
  read(left: Float64Array, right: Float64Array, frame: number, from: number, to: number): number {
    if (this.rate !== 1 || this.loopEnd > 0) this.readBetween(left, right, frame, from, to);
    else {
      this.readPlain(this.samples, left, frame, from, to);
      if (this.right) this.readPlain(this.right, right, frame, from, to);
    }
    const { decayed } = this;
    const peak = this.fall(left, frame, from, to);
    if (!this.right) return peak;
    this.decayed = decayed;
    return max(peak, this.fall(right, frame, from, to));
  }

  private readPlain(samples: Samples, into: Float64Array, frame: number, from: number, to: number): void {
    for (let index = from, at = frame + from - this.startFrame; index < to; index++, at++) into[index] = samples[at]!;
  }

  /** At another pitch than its samples', or one that goes round. */
  private readBetween(left: Float64Array, right: Float64Array, frame: number, from: number, to: number): void {
    const { samples, right: other, startFrame, rate, loopStart, loopEnd } = this;
    const begin = (frame + from - startFrame) * rate;
    const end = (frame + to - 1 - startFrame) * rate;
    if (begin >= 1 && end < samples.length - 2 && (loopEnd === 0 || end < loopEnd)) {
      if (other) readTwo(samples, other, left, right, frame - startFrame, rate, from, to);
      else readOne(samples, left, frame - startFrame, rate, from, to);
      return;
    }
    for (let index = from; index < to; index++) {
      let position = (frame + index - startFrame) * rate;
      if (loopEnd > 0 && position >= loopEnd) position = loopStart + ((position - loopStart) % (loopEnd - loopStart));
      left[index] = sampleAt(samples, position);
      if (other) right[index] = sampleAt(other, position);
    }
  }

  /** Decays and fades. @returns the highest amplitude that is left */
  private fall(into: Float64Array, frame: number, from: number, to: number): number {
    const { decay } = this;
    if (decay !== 1) {
      let { decayed } = this;
      for (let index = from; index < to; index++) {
        into[index]! *= decayed;
        decayed *= decay;
      }
      this.decayed = decayed;
    }
    fadeLine(into, this.fadeFrame - frame, this.fadeFrames, from, to);
    fadeLine(into, this.hurryFrame - frame, this.hurryFrames, from, to);
    let peak = 0;
    for (let index = from; index < to; index++) {
      const amplitude = abs(into[index]!);
      if (amplitude > peak) peak = amplitude;
    }
    return peak;
  }
}

/** Where all four samples around each frame are there; as floor, `| 0` is faster, and no sample has two thousand million frames. */
function readOne(samples: Samples, into: Float64Array, since: number, rate: number, from: number, to: number): void {
  for (let index = from; index < to; index++) {
    const position = (since + index) * rate;
    const at = position | 0;
    into[index] = cubic(samples[at - 1]!, samples[at]!, samples[at + 1]!, samples[at + 2]!, position - at);
  }
}

/** Both sides in one go, which costs a third less than one after the other. */
function readTwo(
  samples: Samples,
  other: Samples,
  left: Float64Array,
  right: Float64Array,
  since: number,
  rate: number,
  from: number,
  to: number,
): void {
  for (let index = from; index < to; index++) {
    const position = (since + index) * rate;
    const at = position | 0;
    const share = position - at;
    left[index] = cubic(samples[at - 1]!, samples[at]!, samples[at + 1]!, samples[at + 2]!, share);
    right[index] = cubic(other[at - 1]!, other[at]!, other[at + 1]!, other[at + 2]!, share);
  }
}

/** Anywhere, also at the ends: beyond them is silence. */
function sampleAt(samples: Samples, position: number): number {
  const at = position | 0;
  const a = at > 0 ? samples[at - 1]! : 0;
  const c = at + 1 < samples.length ? samples[at + 1]! : 0;
  const d = at + 2 < samples.length ? samples[at + 2]! : 0;
  return cubic(a, samples[at]!, c, d, position - at);
}

/**
 * Between the middle two of four samples, by the cubic through them (Catmull and Rom, "A class of local interpolating splines", 1974;
 * from memory). @param share how far from the second to the third; 0 is the second itself
 */
function cubic(a: number, b: number, c: number, d: number, share: number): number {
  const third = 0.5 * (d - a) + 1.5 * (b - c);
  const second = a - 2.5 * b + 2 * c - 0.5 * d;
  return ((third * share + second) * share + 0.5 * (c - a)) * share + b;
}

/** A straight line down to nothing. @param start where it begins, in the block or before it */
function fadeLine(into: Float64Array, start: number, frames: number, from: number, to: number): void {
  for (let index = max(from, start); index < to; index++) into[index]! *= 1 - (index - start) / frames;
}
