import { single } from "../signal/dsp";

/** Hoisted: looking up a global per sample is slow, above all in a test's sandbox. */
const { round } = Math;

/** In so long the tail falls by 60 dB, below the corner of its damping. */
export const ROOM_SECONDS = 0.75;
/** Corner of the damping: higher tones die sooner. */
const DAMPING_HERTZ = 4200;

/** A wall that sound comes back from once: after so long, so loud, of the same side and of the other one. */
interface Reflection {
  readonly ms: number;
  readonly same: number;
  readonly other: number;
}

/** A room of about four by five metres with a wooden floor, the player nearer to the left wall. */
const LEFT_WALLS: readonly Reflection[] = [
  { ms: 4.3, same: 0.42, other: 0.1 },
  { ms: 8.9, same: 0.1, other: 0.34 },
  { ms: 12.1, same: -0.29, other: 0.08 },
  { ms: 17.7, same: 0.12, other: -0.24 },
  { ms: 23.9, same: 0.2, other: 0.14 },
];
const RIGHT_WALLS: readonly Reflection[] = [
  { ms: 5.7, same: 0.4, other: 0.08 },
  { ms: 7.3, same: 0.12, other: 0.31 },
  { ms: 13.7, same: 0.27, other: -0.1 },
  { ms: 16.3, same: -0.12, other: 0.26 },
  { ms: 26.3, same: 0.19, other: 0.15 },
];
/** No two have a divisor in common that is heard as a tone. */
const TAIL_MS = [23.3, 26.9, 29.7, 31.3, 34.1, 37.9, 41.3, 43.7];

/** Of what is sent from one side: after so many frames, so loud on it and on the other. */
export interface Tap {
  readonly frames: number;
  readonly same: number;
  readonly other: number;
}

/** A delay of the tail. */
export interface TailLine {
  readonly frames: number;
  /** Share that is not lost on the way. */
  readonly kept: number;
}

/** A room at a sample rate; as many taps and lines as kernel/layout.ts says. */
export interface RoomDesign {
  readonly left: readonly Tap[];
  readonly right: readonly Tap[];
  readonly lines: readonly TailLine[];
  /** Share that a line's damping holds from frame to frame. */
  readonly damping: number;
}

/** The one room there is. @param sampleRate hertz */
export function roomDesign(sampleRate: number): RoomDesign {
  const framesIn = (ms: number) => round((ms * sampleRate) / 1000);
  const tap = ({ ms, same, other }: Reflection) => ({ frames: framesIn(ms), same, other });
  return {
    left: LEFT_WALLS.map(tap),
    right: RIGHT_WALLS.map(tap),
    lines: TAIL_MS.map((ms) => ({
      frames: framesIn(ms),
      kept: single(Math.pow(10, (-3 * framesIn(ms)) / (ROOM_SECONDS * sampleRate))),
    })),
    damping: single(Math.exp((-2 * Math.PI * DAMPING_HERTZ) / sampleRate)),
  };
}

/** Delay of the longest reflection, frames. */
export function longestReflection({ left, right }: RoomDesign): number {
  return Math.max(...[...left, ...right].map(({ frames }) => frames));
}
