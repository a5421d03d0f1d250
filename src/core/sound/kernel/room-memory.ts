import { longestReflection, type RoomDesign, type Tap } from "./room-design";
import {
  BLOCK_FRAMES,
  EARLY_LEFT,
  EARLY_NEXT,
  EARLY_RIGHT,
  EARLY_SAMPLES,
  LINES,
  LINE_BYTES,
  LINE_DAMPED,
  LINE_KEPT,
  LINE_SAMPLES,
  ROOM,
  ROOM_FRAMES,
  ROOM_TAPS,
  TAPS,
  TAP_BYTES,
  TAP_OTHER,
  TAP_SAME,
} from "./layout";

const SAMPLE_BYTES = 4;

/** Early reflections lie in a ring that a block may be written into before its oldest samples are read, and read behind the end of. */
const ringSamples = (design: RoomDesign) => longestReflection(design) + BLOCK_FRAMES;

/** Memory that a room's delays take, bytes. */
export function roomBytes(design: RoomDesign): number {
  const tail = design.lines.reduce((sum, { frames }) => sum + frames, 0);
  return SAMPLE_BYTES * (2 * (ringSamples(design) + BLOCK_FRAMES) + tail);
}

/** A room's delays in a kernel's memory, from `at` on, and all that assembly/room.ts knows of it. */
export class RoomMemory {
  private readonly view: DataView;

  constructor(
    private readonly memory: ArrayBuffer,
    private readonly design: RoomDesign,
    private readonly at: number,
  ) {
    this.view = new DataView(memory);
    const ring = ringSamples(design);
    const ringBytes = SAMPLE_BYTES * (ring + BLOCK_FRAMES);
    this.double(ROOM, design.damping);
    this.whole(EARLY_LEFT, at);
    this.whole(EARLY_RIGHT, at + ringBytes);
    this.whole(EARLY_SAMPLES, ring);
    this.whole(EARLY_NEXT, 0);
    // What comes back first must have been sent before the stretch that is looked at.
    this.whole(ROOM_FRAMES, Math.min(BLOCK_FRAMES, ...[...design.left, ...design.right].map(({ frames }) => frames)));
    this.putLines(at + 2 * ringBytes);
    this.putTaps(design.left, TAPS);
    this.putTaps(design.right, TAPS + ROOM_TAPS * TAP_BYTES);
  }

  empty(): void {
    new Uint8Array(this.memory, this.at, roomBytes(this.design)).fill(0);
    this.design.lines.forEach((_, line) => this.double(LINES + line * LINE_BYTES + LINE_DAMPED, 0));
  }

  private putLines(from: number): void {
    this.design.lines.reduce((begin, { frames, kept }, line) => {
      const at = LINES + line * LINE_BYTES;
      this.whole(at, begin);
      this.whole(at + LINE_SAMPLES, frames);
      this.double(at + LINE_KEPT, kept);
      return begin + SAMPLE_BYTES * frames;
    }, from);
  }

  private putTaps(taps: readonly Tap[], from: number): void {
    taps.forEach(({ frames, same, other }, tap) => {
      const at = from + tap * TAP_BYTES;
      this.whole(at, frames);
      this.double(at + TAP_SAME, same);
      this.double(at + TAP_OTHER, other);
    });
  }

  private whole(at: number, value: number): void {
    this.view.setInt32(at, value, true);
  }

  private double(at: number, value: number): void {
    this.view.setFloat64(at, value, true);
  }
}
