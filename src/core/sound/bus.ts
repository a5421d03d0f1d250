import type { Room } from "./room";
import { MAX_LANES } from "./sound";
import type { Voice } from "./voice";

/** Taken once: inside the loops over samples a look-up of a global each time is dear, above all in a test's sandbox. */
const { abs, max, min } = Math;

/** What a block has mostly. */
const BLOCK_FRAMES = 128;

/** The highest amplitude of a lane. */
export interface LanePeak {
  readonly lane: number;
  readonly peak: number;
}

/** What one voice has in a block, left or on both sides, and right where that is another; voices are added one after the other. */
let scratch = new Float64Array(BLOCK_FRAMES);
let scratchRight = new Float64Array(BLOCK_FRAMES);

/** Where what belongs together meets: the sounds of one part. */
export class Bus {
  /** By lane, left and right: what its sounds are multiplied by while they sound. */
  readonly gains = new Float32Array(2 * MAX_LANES).fill(1);
  /** By lane: what of that goes into the room. */
  readonly room = new Float32Array(MAX_LANES);
  /** The highest amplitude since it was asked for. */
  private peak = 0;
  /** By lane: the same, of what its voices add up to at the most. */
  private readonly lanePeaks = new Float32Array(MAX_LANES);
  private readonly laneLevels = new Float32Array(MAX_LANES);
  private left = new Float32Array(BLOCK_FRAMES);
  private right = new Float32Array(BLOCK_FRAMES);
  /** It has something in this block. */
  sounding = false;

  /** The highest amplitude since the last time. */
  takePeak(): number {
    const { peak } = this;
    this.peak = 0;
    return peak;
  }

  /** The lanes that sounded since the last time, with the highest amplitude of each. */
  takeLanePeaks(): readonly LanePeak[] {
    const peaks: LanePeak[] = [];
    this.lanePeaks.forEach((peak, lane) => {
      if (peak > 0) peaks.push({ lane, peak });
    });
    this.lanePeaks.fill(0);
    return peaks;
  }

  /** Adds a voice's part of a block of so many frames, and sends of it into the room. */
  add(voice: Voice, frames: number, frame: number, room: Room): void {
    if (!this.sounding) this.clear(frames);
    const { lane } = voice;
    const gainLeft = voice.gainLeft * this.gains[2 * lane]!;
    const gainRight = voice.gainRight * this.gains[2 * lane + 1]!;
    const from = max(0, voice.startFrame - frame);
    const to = min(frames, voice.overFrame - frame);
    if (from < to) {
      const peak = voice.read(scratch, scratchRight, frame, from, to) * max(gainLeft, gainRight);
      this.laneLevels[lane]! += peak;
      this.lanePeaks[lane] = max(this.lanePeaks[lane]!, this.laneLevels[lane]!);
    }
    this.place(voice, frames, from, to, gainLeft, gainRight);
    this.send(voice, frames, from, to, room);
    voice.levelLeft = gainLeft;
    voice.levelRight = gainRight;
    if (to < frames && from < frames) voice.active = false;
  }

  /** Adds what met here to a block. */
  addTo(left: Float32Array, right: Float32Array): void {
    this.sounding = false;
    for (let index = 0; index < left.length; index++) {
      left[index]! += this.left[index]!;
      right[index]! += this.right[index]!;
      this.peak = max(this.peak, abs(this.left[index]!), abs(this.right[index]!));
    }
  }

  /** From the levels of before to those of now over the block. */
  private place(voice: Voice, frames: number, from: number, to: number, toLeft: number, toRight: number): void {
    const { left, right } = this;
    const { levelLeft, levelRight } = voice;
    const onRight = voice.right ? scratchRight : scratch;
    if (toLeft === levelLeft && toRight === levelRight) {
      for (let index = from; index < to; index++) {
        left[index]! += scratch[index]! * levelLeft;
        right[index]! += onRight[index]! * levelRight;
      }
      return;
    }
    for (let index = from; index < to; index++) {
      const moved = (index + 1) / frames;
      left[index]! += scratch[index]! * (levelLeft + (toLeft - levelLeft) * moved);
      right[index]! += onRight[index]! * (levelRight + (toRight - levelRight) * moved);
    }
  }

  private send(voice: Voice, frames: number, from: number, to: number, room: Room): void {
    const before = voice.levelRoom;
    const now = this.room[voice.lane]!;
    voice.levelRoom = now;
    if (before === 0 && now === 0) return;
    room.receive(frames);
    const { inLeft, inRight } = room;
    const { gains } = this;
    const gainLeft = voice.gainLeft * gains[2 * voice.lane]!;
    const gainRight = voice.gainRight * gains[2 * voice.lane + 1]!;
    const rise = (now - before) / frames;
    const onRight = voice.right ? scratchRight : scratch;
    for (let index = from; index < to; index++) {
      const sent = before + rise * (index + 1);
      inLeft[index]! += scratch[index]! * sent * gainLeft;
      inRight[index]! += onRight[index]! * sent * gainRight;
    }
  }

  private clear(frames: number): void {
    this.sounding = true;
    this.laneLevels.fill(0);
    if (scratch.length < frames) [scratch, scratchRight] = [new Float64Array(frames), new Float64Array(frames)];
    if (this.left.length < frames) {
      this.left = new Float32Array(frames);
      this.right = new Float32Array(frames);
    } else {
      this.left.fill(0, 0, frames);
      this.right.fill(0, 0, frames);
    }
  }
}
