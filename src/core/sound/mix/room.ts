import type { Kernel } from "../kernel/kernel";
import { ROOM_SECONDS } from "../kernel/room-design";

/** After so long behind what was sent there is nothing left: 144 dB down. */
export const ROOM_TAIL_SECONDS = 2.4 * ROOM_SECONDS;

/**
 * The one room that sounds are sent into: early reflections, which differ left and right, and a tail of eight delays that feed
 * each other (a feedback delay network after Jot, "Digital delay networks for designing artificial reverberators", 1991; from
 * memory), mixed by a Householder matrix. It rests while nothing is sent, and nothing is on its way.
 */
export class Room {
  /** false: what is sent is not heard. */
  open = true;
  private readonly tailFrames: number;
  private sent = false;
  private restFrames = 0;

  constructor(
    sampleRate: number,
    private readonly kernel: Kernel,
  ) {
    this.tailFrames = Math.round(ROOM_TAIL_SECONDS * sampleRate);
  }

  get isAtRest(): boolean {
    return !this.sent && this.restFrames <= 0;
  }

  /** Something is sent into it in this block of so many frames: it is added to the kernel's `room`. */
  receive(frames: number): void {
    if (!this.sent) this.clear(frames);
    this.sent = true;
  }

  /** Adds what comes back to the kernel's `out`; nothing, and for nothing, where it is at rest. */
  process(frames: number): void {
    if (this.sent) this.restFrames = this.tailFrames + frames;
    else if (this.restFrames > 0) this.clear(frames);
    this.sent = false;
    if (this.restFrames <= 0) return;
    this.restFrames -= frames;
    if (this.open) this.kernel.addRoom(frames);
    if (this.restFrames <= 0) this.kernel.emptyRoom();
  }

  private clear(frames: number): void {
    const { left, right } = this.kernel.buffers.room;
    left.fill(0, 0, frames);
    right.fill(0, 0, frames);
  }
}
