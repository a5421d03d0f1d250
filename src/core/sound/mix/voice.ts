import type { Samples } from "../signal/dsp";
import type { Kernel, KernelBuffers } from "../kernel/kernel";
import {
  DECAY,
  DECAYED,
  FADE_FRAMES,
  FADE_START,
  HURRY_FRAMES,
  HURRY_START,
  LEVEL_LEFT,
  LEVEL_RIGHT,
  LOOP_START,
  RATE,
  SENT_BEFORE,
  SINCE,
  TURNED,
  WINDOW_SAMPLES,
} from "../kernel/layout";
import { cubic } from "../kernel/plain-kernel";

/** Hoisted: looking up a global per sample is slow, above all in a test's sandbox. */
const { floor, min } = Math;

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
   * Writes what its samples have in a block that begins at `frame` into the kernel's scratch, before decay, fades and level.
   * @param from of that block @param to not included
   */
  read(kernel: Kernel, frame: number, from: number, to: number): void {
    if (this.rate !== 1 || this.loopEnd > 0) this.readBetween(kernel, frame, from, to);
    else kernel.copy(this.samples, this.right, frame + from - this.startFrame, from, to);
  }

  /** Says how it decays and fades in a block that begins at `frame`, and how loud it was at the end of the one before. */
  tell(numbers: Float64Array, frame: number): void {
    numbers[DECAYED] = this.decayed;
    numbers[DECAY] = this.decay;
    numbers[FADE_START] = this.fadeFrame - frame;
    numbers[FADE_FRAMES] = this.fadeFrames;
    numbers[HURRY_START] = this.hurryFrame - frame;
    numbers[HURRY_FRAMES] = this.hurryFrames;
    numbers[LEVEL_LEFT] = this.levelLeft;
    numbers[LEVEL_RIGHT] = this.levelRight;
    numbers[SENT_BEFORE] = this.levelRoom;
  }

  /** At another pitch than its samples', or one that goes round. */
  private readBetween(kernel: Kernel, frame: number, from: number, to: number): void {
    const { samples, right, rate, loopStart, loopEnd } = this;
    const since = frame - this.startFrame;
    const loop = loopEnd - loopStart;
    const begin = (since + from) * rate;
    const turned = loopEnd > 0 && begin >= loopEnd ? floor((begin - loopStart) / loop) * loop : 0;
    const end = (since + to - 1) * rate - turned;
    const isInside = begin - turned >= 2 && end < samples.length - 2 && (loopEnd === 0 || end < loopEnd);
    if (!isInside || (to - from) * rate > WINDOW_SAMPLES - 8) this.readAnywhere(kernel.buffers, since, from, to);
    else {
      const { numbers } = kernel.buffers;
      numbers[SINCE] = since;
      numbers[RATE] = rate;
      numbers[LOOP_START] = loopStart;
      numbers[TURNED] = turned;
      kernel.interpolate(samples, right, from, to);
    }
  }

  /** Also at the ends, and where the loop begins again. */
  private readAnywhere({ scratch }: KernelBuffers, since: number, from: number, to: number): void {
    const { samples, right, rate, loopStart, loopEnd } = this;
    for (let index = from; index < to; index++) {
      let position = (since + index) * rate;
      if (loopEnd > 0 && position >= loopEnd) position = loopStart + ((position - loopStart) % (loopEnd - loopStart));
      scratch.left[index] = sampleAt(samples, position);
      if (right) scratch.right[index] = sampleAt(right, position);
    }
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
