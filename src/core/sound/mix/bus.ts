import type { Kernel } from "../kernel/kernel";
import { DECAYED, PEAK, SENT_NOW, TO_LEFT, TO_RIGHT } from "../kernel/layout";
import { MAX_LANES } from "../signal/sound";
import type { Voice } from "./voice";

/** Hoisted: looking up a global per sample is slow, above all in a test's sandbox. */
const { max, min } = Math;

/** The highest amplitude of a lane. */
export interface LanePeak {
  readonly lane: number;
  readonly peak: number;
}

/** No place among the kernel's buses. */
const NOWHERE = -1;

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
  /** Which of the kernel's buses is its in this block. */
  private slot = NOWHERE;

  /** It has something in this block. */
  get sounding(): boolean {
    return this.slot !== NOWHERE;
  }

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

  /** Begins a block. @param slot a bus of the kernel's that nobody else has */
  begin(kernel: Kernel, slot: number, frames: number): void {
    this.slot = slot;
    this.laneLevels.fill(0);
    const { left, right } = kernel.buffers.buses[slot]!;
    left.fill(0, 0, frames);
    right.fill(0, 0, frames);
  }

  /** Adds a voice's part of a block of so many frames, and sends of it into the room. */
  add(voice: Voice, kernel: Kernel, frames: number, frame: number): void {
    const { lane } = voice;
    const gainLeft = voice.gainLeft * this.gains[2 * lane]!;
    const gainRight = voice.gainRight * this.gains[2 * lane + 1]!;
    const sent = this.room[lane]!;
    const from = max(0, voice.startFrame - frame);
    const to = min(frames, voice.overFrame - frame);
    if (from < to) {
      voice.read(kernel, frame, from, to);
      const { numbers } = kernel.buffers;
      voice.tell(numbers, frame);
      numbers[TO_LEFT] = gainLeft;
      numbers[TO_RIGHT] = gainRight;
      numbers[SENT_NOW] = sent;
      kernel.mix(voice.right ? 2 : 1, this.slot, from, to, frames);
      voice.decayed = numbers[DECAYED]!;
      this.laneLevels[lane]! += numbers[PEAK]! * max(gainLeft, gainRight);
      this.lanePeaks[lane] = max(this.lanePeaks[lane]!, this.laneLevels[lane]!);
    }
    voice.levelLeft = gainLeft;
    voice.levelRight = gainRight;
    voice.levelRoom = sent;
    if (to < frames && from < frames) voice.active = false;
  }

  /** Ends a block: adds what met here to what comes out. */
  end(kernel: Kernel, frames: number): void {
    kernel.addBus(this.slot, frames);
    this.peak = max(this.peak, kernel.buffers.numbers[PEAK]!);
    this.slot = NOWHERE;
  }
}
