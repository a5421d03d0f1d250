import type { Samples } from "../signal/dsp";
import type { RoomDesign } from "./room-design";
import { buffersIn, newMemory, type Kernel } from "./kernel";
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
  PEAK,
  RATE,
  SENT_BEFORE,
  SENT_NOW,
  SINCE,
  TO_LEFT,
  TO_RIGHT,
  TURNED,
} from "./layout";
import { PlainRoom } from "./plain-room";

/** Hoisted: looking up a global per sample is slow, above all in a test's sandbox. */
const { abs, max } = Math;

/** The kernel where there is no WebAssembly, and the one that the other is held against. */
export class PlainKernel implements Kernel {
  readonly buffers = buffersIn(newMemory());
  /** Made when something is sent into it for the first time. */
  private room: PlainRoom | undefined;

  constructor(private readonly design: RoomDesign) {}

  copy(samples: Samples, right: Samples | undefined, first: number, from: number, to: number): void {
    const { scratch } = this.buffers;
    for (let index = from, at = first; index < to; index++, at++) scratch.left[index] = samples[at]!;
    if (right) for (let index = from, at = first; index < to; index++, at++) scratch.right[index] = right[at]!;
  }

  interpolate(samples: Samples, right: Samples | undefined, from: number, to: number): void {
    const { scratch, numbers } = this.buffers;
    const [since, rate] = [numbers[SINCE]!, numbers[RATE]!];
    const [loopStart, turned] = [numbers[LOOP_START]!, numbers[TURNED]!];
    for (let index = from; index < to; index++) {
      const turning = (since + index) * rate;
      const position = turned > 0 ? loopStart + (turning - loopStart - turned) : turning;
      // As floor, `| 0` is faster, and no sample has two thousand million frames.
      const at = position | 0;
      scratch.left[index] = cubicIn(samples, at, position - at);
      if (right) scratch.right[index] = cubicIn(right, at, position - at);
    }
  }

  mix(sides: number, bus: number, from: number, to: number, frames: number): void {
    const { scratch, room, buses, numbers } = this.buffers;
    const onRight = sides === 2 ? scratch.right : scratch.left;
    const left = shape(numbers, scratch.left, from, to);
    if (sides === 2) shape(numbers, scratch.right, from, to);
    numbers[DECAYED] = left;
    const into = buses[bus]!;
    place(scratch.left, into.left, from, to, frames, numbers[LEVEL_LEFT]!, numbers[TO_LEFT]!);
    place(onRight, into.right, from, to, frames, numbers[LEVEL_RIGHT]!, numbers[TO_RIGHT]!);
    const [before, now] = [numbers[SENT_BEFORE]!, numbers[SENT_NOW]!];
    if (before !== 0 || now !== 0) {
      const rise = (now - before) / frames;
      send(scratch.left, room.left, from, to, before, rise, numbers[TO_LEFT]!);
      send(onRight, room.right, from, to, before, rise, numbers[TO_RIGHT]!);
    }
    const peak = highest(scratch.left, from, to);
    numbers[PEAK] = sides === 2 ? max(peak, highest(scratch.right, from, to)) : peak;
  }

  addBus(bus: number, frames: number): void {
    const { buses, out, numbers } = this.buffers;
    const { left, right } = buses[bus]!;
    for (let index = 0; index < frames; index++) {
      out.left[index]! += left[index]!;
      out.right[index]! += right[index]!;
    }
    numbers[PEAK] = max(highest(left, 0, frames), highest(right, 0, frames));
  }

  addRoom(frames: number): void {
    this.room ??= new PlainRoom(this.design);
    this.room.addTo(this.buffers, frames);
  }

  emptyRoom(): void {
    this.room?.empty();
  }
}

/**
 * Between the second and the third of four samples, of which `at` is the second.
 * @param share 0 is the second itself
 * @example cubic(0, 1, 2, 3, 0.5) // 1.5
 */
export function cubic(a: number, b: number, c: number, d: number, share: number): number {
  const third = 0.5 * (d - a) + 1.5 * (b - c);
  const second = a - 2.5 * b + 2 * c - 0.5 * d;
  return ((third * share + second) * share + 0.5 * (c - a)) * share + b;
}

function cubicIn(samples: Samples, at: number, share: number): number {
  return cubic(samples[at - 1]!, samples[at]!, samples[at + 1]!, samples[at + 2]!, share);
}

/** Decay and fades. @returns what is left by the decay */
function shape(numbers: Float64Array, samples: Float64Array, from: number, to: number): number {
  const decay = numbers[DECAY]!;
  const before = numbers[DECAYED]!;
  const left = decay === 1 ? before : fall(samples, from, to, before, decay);
  fade(samples, from, to, numbers[FADE_START]!, numbers[FADE_FRAMES]!);
  fade(samples, from, to, numbers[HURRY_START]!, numbers[HURRY_FRAMES]!);
  return left;
}

/** @returns what is left behind it */
function fall(samples: Float64Array, from: number, to: number, decayed: number, decay: number): number {
  for (let index = from; index < to; index++) {
    samples[index]! *= decayed;
    decayed *= decay;
  }
  return decayed;
}

function fade(samples: Float64Array, from: number, to: number, start: number, frames: number): void {
  for (let index = max(from, start); index < to; index++) samples[index]! *= 1 - (index - start) / frames;
}

/** From the level of before to that of now over the block. */
function place(
  samples: Float64Array,
  into: Float32Array,
  from: number,
  to: number,
  frames: number,
  level: number,
  target: number,
): void {
  if (level === target) for (let index = from; index < to; index++) into[index]! += samples[index]! * level;
  else {
    const way = target - level;
    for (let index = from; index < to; index++)
      into[index]! += samples[index]! * (level + way * ((index + 1) / frames));
  }
}

function send(
  samples: Float64Array,
  into: Float32Array,
  from: number,
  to: number,
  sent: number,
  rise: number,
  gain: number,
): void {
  for (let index = from; index < to; index++) into[index]! += samples[index]! * (sent + rise * (index + 1)) * gain;
}

function highest(samples: Float64Array | Float32Array, from: number, to: number): number {
  let peak = 0;
  for (let index = from; index < to; index++) {
    const amplitude = abs(samples[index]!);
    if (amplitude > peak) peak = amplitude;
  }
  return peak;
}
