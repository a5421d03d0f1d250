import { longestReflection, type RoomDesign, type Tap } from "./room-design";
import type { KernelBuffers } from "./kernel";
import { ROOM_LINES } from "./layout";

/** Level of the tail: a stroke's echo has about its own energy when all of it is sent. */
const TAIL_LEVEL = 0.5;

/** Sound on its way round the room. */
interface Line {
  readonly held: Float32Array;
  at: number;
  readonly kept: number;
  /** Of the damping. */
  damped: number;
}

/** The room's loops over samples. Only + - * on them: every machine has the same room. */
export class PlainRoom {
  private readonly lines: readonly Line[];
  private readonly early: { readonly left: Float32Array; readonly right: Float32Array };
  private readonly out = new Float64Array(ROOM_LINES);
  private at = 0;

  constructor(private readonly design: RoomDesign) {
    const longest = longestReflection(design) + 1;
    this.early = { left: new Float32Array(longest), right: new Float32Array(longest) };
    this.lines = design.lines.map(({ frames, kept }) => ({ held: new Float32Array(frames), at: 0, kept, damped: 0 }));
  }

  /** Adds what comes back of what is sent. */
  addTo({ room, out }: KernelBuffers, frames: number): void {
    const { early, design } = this;
    for (let index = 0; index < frames; index++) {
      const { at } = this;
      early.left[at] = room.left[index]!;
      early.right[at] = room.right[index]!;
      out.left[index]! += reflected(design.left, early.left, early.right, at);
      out.right[index]! += reflected(design.right, early.right, early.left, at);
      this.at = at + 1 === early.left.length ? 0 : at + 1;
      this.addTail(out.left, out.right, index, room.left[index]!, room.right[index]!);
    }
  }

  empty(): void {
    this.early.left.fill(0);
    this.early.right.fill(0);
    for (const line of this.lines) {
      line.held.fill(0);
      line.damped = 0;
    }
  }

  private addTail(left: Float32Array, right: Float32Array, index: number, inLeft: number, inRight: number): void {
    const { lines, out } = this;
    const { damping } = this.design;
    let sum = 0;
    for (let line = 0; line < ROOM_LINES; line++) {
      const one = lines[line]!;
      one.damped = one.held[one.at]! * one.kept * (1 - damping) + one.damped * damping;
      out[line] = one.damped;
      sum += one.damped;
    }
    // Householder: what comes out goes in again less a quarter of all of it, which keeps its energy.
    const shared = (2 / ROOM_LINES) * sum;
    let toLeft = 0;
    let toRight = 0;
    for (let line = 0; line < ROOM_LINES; line++) {
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
