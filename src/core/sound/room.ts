import { single } from "./dsp";

/** Taken once: inside the loops over samples a look-up of a global each time is dear, above all in a test's sandbox. */
const { round } = Math;

/** In so long the tail falls by 60 dB, below the corner of its damping. */
const ROOM_SECONDS = 0.75;
/** How far into the walls high tones go. */
const DAMPING_HERTZ = 4200;
/** After so long behind what was sent there is nothing left: 144 dB down. */
export const ROOM_TAIL_SECONDS = 2.4 * ROOM_SECONDS;

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
const LINES = TAIL_MS.length;
/** What of the tail is heard, so that a stroke's echo has about its own energy when all of it is sent. */
const TAIL_LEVEL = 0.5;

/** Sound on its way round the room. */
interface Line {
  readonly held: Float32Array;
  at: number;
  /** What is lost on the way. */
  readonly kept: number;
  /** Of the damping. */
  damped: number;
}

interface Tap {
  readonly frames: number;
  readonly same: number;
  readonly other: number;
}

/**
 * The one room that sounds are sent into: early reflections, which differ left and right, and a tail of eight delays that feed
 * each other (a feedback delay network after Jot, "Digital delay networks for designing artificial reverberators", 1991; from
 * memory), mixed by a Householder matrix. Only + - * on samples: every machine has the same room.
 */
export class Room {
  /** false: what is sent is not heard. */
  open = true;
  /** What is sent into it in a block. */
  inLeft = new Float32Array(0);
  inRight = new Float32Array(0);
  private readonly tailFrames: number;
  private readonly lines: readonly Line[];
  private readonly early: { readonly left: Float32Array; readonly right: Float32Array };
  private readonly leftTaps: readonly Tap[];
  private readonly rightTaps: readonly Tap[];
  private readonly damping: number;
  private readonly out = new Float64Array(LINES);
  private at = 0;
  private sent = false;
  private restFrames = 0;

  constructor(sampleRate: number) {
    const tap = ({ ms, same, other }: Reflection) => ({ frames: round((ms * sampleRate) / 1000), same, other });
    this.leftTaps = LEFT_WALLS.map(tap);
    this.rightTaps = RIGHT_WALLS.map(tap);
    const longest = Math.max(...[...this.leftTaps, ...this.rightTaps].map(({ frames }) => frames)) + 1;
    this.early = { left: new Float32Array(longest), right: new Float32Array(longest) };
    this.lines = TAIL_MS.map((ms) => {
      const frames = round((ms * sampleRate) / 1000);
      const kept = single(Math.pow(10, (-3 * frames) / (ROOM_SECONDS * sampleRate)));
      return { held: new Float32Array(frames), at: 0, kept, damped: 0 };
    });
    this.damping = single(Math.exp((-2 * Math.PI * DAMPING_HERTZ) / sampleRate));
    this.tailFrames = round(ROOM_TAIL_SECONDS * sampleRate);
  }

  /** Something is sent into it in this block of so many frames: it is added to `inLeft` and `inRight`. */
  receive(frames: number): void {
    if (!this.sent) this.clear(frames);
    this.sent = true;
  }

  /** Adds what comes back to a block; nothing, and for nothing, where it is at rest. */
  addTo(left: Float32Array, right: Float32Array): void {
    if (this.sent) this.restFrames = this.tailFrames + left.length;
    else if (this.restFrames > 0) this.clear(left.length);
    this.sent = false;
    if (this.restFrames <= 0) return;
    this.restFrames -= left.length;
    if (this.open) for (let index = 0; index < left.length; index++) this.addFrame(left, right, index);
    if (this.restFrames <= 0) this.empty();
  }

  private addFrame(left: Float32Array, right: Float32Array, index: number): void {
    const inLeft = this.inLeft[index]!;
    const inRight = this.inRight[index]!;
    const { early, at } = this;
    early.left[at] = inLeft;
    early.right[at] = inRight;
    left[index]! += reflected(this.leftTaps, early.left, early.right, at);
    right[index]! += reflected(this.rightTaps, early.right, early.left, at);
    this.at = at + 1 === early.left.length ? 0 : at + 1;
    this.addTail(left, right, index, inLeft, inRight);
  }

  private addTail(left: Float32Array, right: Float32Array, index: number, inLeft: number, inRight: number): void {
    const { lines, out, damping } = this;
    let sum = 0;
    for (let line = 0; line < LINES; line++) {
      const one = lines[line]!;
      one.damped = one.held[one.at]! * one.kept * (1 - damping) + one.damped * damping;
      out[line] = one.damped;
      sum += one.damped;
    }
    // Householder: what comes out goes in again less a quarter of all of it, which keeps its energy.
    const shared = (2 / LINES) * sum;
    let toLeft = 0;
    let toRight = 0;
    for (let line = 0; line < LINES; line++) {
      const one = lines[line]!;
      const sign = line & 2 ? -1 : 1;
      one.held[one.at] = out[line]! - shared + sign * (line & 1 ? inRight : inLeft);
      one.at = one.at + 1 === one.held.length ? 0 : one.at + 1;
      if (line & 1) toRight += sign * out[line]!;
      else toLeft += sign * out[line]!;
    }
    left[index]! += toLeft * TAIL_LEVEL;
    right[index]! += toRight * TAIL_LEVEL;
  }

  private clear(frames: number): void {
    if (this.inLeft.length < frames) {
      this.inLeft = new Float32Array(frames);
      this.inRight = new Float32Array(frames);
      return;
    }
    this.inLeft.fill(0, 0, frames);
    this.inRight.fill(0, 0, frames);
  }

  private empty(): void {
    this.early.left.fill(0);
    this.early.right.fill(0);
    for (const line of this.lines) {
      line.held.fill(0);
      line.damped = 0;
    }
  }
}

function reflected(taps: readonly Tap[], same: Float32Array, other: Float32Array, at: number): number {
  let sum = 0;
  for (let tap = 0; tap < taps.length; tap++) {
    const { frames, same: ofSame, other: ofOther } = taps[tap]!;
    const from = at >= frames ? at - frames : at - frames + same.length;
    sum += same[from]! * ofSame + other[from]! * ofOther;
  }
  return sum;
}
