import type { Samples } from "../signal/dsp";
import type { SampleMemory } from "./sample-memory";
import {
  BLOCK_FRAMES,
  BUSES,
  BUS_BYTES,
  MEMORY_BYTES,
  NUMBERS,
  NUMBERS_LENGTH,
  OUT_LEFT,
  OUT_RIGHT,
  ROOM_LEFT,
  ROOM_RIGHT,
  SCRATCH_LEFT,
  SCRATCH_RIGHT,
  VOICE_SLOTS,
  WINDOW_LEFT,
  WINDOW_RIGHT,
  WINDOW_SAMPLES,
} from "./layout";

/** Left and right of something. */
export interface Sides<T> {
  readonly left: T;
  readonly right: T;
}

/** Views of the one stretch of memory that a kernel works on. */
export interface KernelBuffers {
  /** One voice in a block. */
  readonly scratch: Sides<Float64Array>;
  /** Samples that are read from here, where they do not lie in this memory. */
  readonly window: Sides<Float32Array>;
  /** Input of the room. */
  readonly room: Sides<Float32Array>;
  /** Output of the mixer. */
  readonly out: Sides<Float32Array>;
  /** By slot, as many as there are voices. */
  readonly buses: readonly Sides<Float32Array>[];
  /**
   * Arguments and results of calls, at the places that layout.ts names: numbers that go from function to function would be
   * made anew each time, which has to be cleared away.
   */
  readonly numbers: Float64Array;
}

/**
 * The loops over samples, in a block of `BLOCK_FRAMES` at most. There are two, which make the same bytes: one in TypeScript, and one
 * in WebAssembly, which takes two samples at a time.
 */
export interface Kernel {
  readonly buffers: KernelBuffers;

  /** Keeps samples where it reads them quickest; undefined where it reads them wherever they are. */
  readonly samples?: SampleMemory;

  /**
   * Writes samples into the scratch.
   * @param right what the right side has in their place; undefined where both have the same, and only the left is written
   * @param first the sample for the frame `from` of the block
   * @param to of the block's frames, not included
   */
  copy(samples: Samples, right: Samples | undefined, first: number, from: number, to: number): void;

  /**
   * Writes into the scratch what lies between samples, at `(SINCE + index) * RATE`, by the cubic through the four around it (Catmull and
   * Rom, "A class of local interpolating splines", 1974; from memory); all of them are there. TURNED is what all trips round a loop that
   * begins at LOOP_START have taken away from that position, samples; 0 on the first.
   */
  interpolate(samples: Samples, right: Samples | undefined, from: number, to: number): void;

  /**
   * Lets what is in the scratch decay and fade, adds it to a bus, and sends of it into the room. It is multiplied by DECAYED at `from`,
   * which falls by DECAY a frame, and is what is left afterwards; by a straight line to nothing from FADE_START on, a frame of the block or
   * one before it, in FADE_FRAMES; by another one, HURRY_START; and by its level, which moves over the block from LEVEL_LEFT and
   * LEVEL_RIGHT to TO_LEFT and TO_RIGHT. How much of that is sent moves from SENT_BEFORE to SENT_NOW. PEAK is the highest amplitude before
   * its level.
   * @param sides 1: both sides have the left scratch, 2: each has its own
   */
  mix(sides: number, bus: number, from: number, to: number, frames: number): void;

  /** Adds a bus to what comes out. PEAK is its highest amplitude. */
  addBus(bus: number, frames: number): void;

  /** Sends what is in `buffers.room` round the room, and adds what comes back to what comes out. */
  addRoom(frames: number): void;

  /** Nothing is on its way round the room any more. */
  emptyRoom(): void;
}

/** @param memory of `MEMORY_BYTES` or more, which stays where it is */
export function buffersIn(memory: ArrayBuffer): KernelBuffers {
  const singles = (at: number, length = BLOCK_FRAMES) => new Float32Array(memory, at, length);
  const doubles = (at: number, length = BLOCK_FRAMES) => new Float64Array(memory, at, length);
  return {
    scratch: { left: doubles(SCRATCH_LEFT), right: doubles(SCRATCH_RIGHT) },
    window: { left: singles(WINDOW_LEFT, WINDOW_SAMPLES), right: singles(WINDOW_RIGHT, WINDOW_SAMPLES) },
    room: { left: singles(ROOM_LEFT), right: singles(ROOM_RIGHT) },
    out: { left: singles(OUT_LEFT), right: singles(OUT_RIGHT) },
    buses: Array.from({ length: VOICE_SLOTS }, (_, bus) => {
      const at = BUSES + bus * BUS_BYTES;
      return { left: singles(at), right: singles(at + BUS_BYTES / 2) };
    }),
    numbers: doubles(NUMBERS, NUMBERS_LENGTH),
  };
}

export const newMemory = () => new ArrayBuffer(MEMORY_BYTES);
