import { Bus } from "./bus";
import { decayFactor, type Samples } from "../signal/dsp";
import type { Kernel } from "../kernel/kernel";
import { BLOCK_FRAMES, VOICE_SLOTS } from "../kernel/layout";
import { newKernel } from "../kernel/new-kernel";
import { Room } from "./room";
import type { SoundShape } from "../signal/sound";
import { NEVER, Voice } from "./voice";

/** Hoisted: looking up a global per sample is slow, above all in a test's sandbox. */
const { ceil, floor, max, min, round } = Math;

/** Voices that sound at once; the oldest gives way. */
export const MAX_VOICES = 64;
const STEAL_FADE_SECONDS = 0.004;
const CHOKE_FADE_SECONDS = 0.025;
/** A cymbal in a hand or a half-closed hat dies a little more slowly. */
const CUT_FADE_SECONDS = 0.04;
/** For all that is held in a bus. */
export const EVERY_LANE = -1;
/** What decays is over when it is 100 dB down. */
const GONE = 5 / 3;

/** Of a voice that has not sounded yet. */
const NO_BUS = new Bus();

class VoiceInBus extends Voice {
  bus = NO_BUS;
}

/** Sums voices into a stereo block. Frames are absolute; nothing is allocated while it plays. */
export class Mixer {
  private readonly voices = Array.from({ length: VOICE_SLOTS }, () => new VoiceInBus());
  /** What the buses send into. */
  readonly room: Room;
  private readonly stealFrames: number;
  private readonly chokeFrames: number;
  private readonly cutFadeFrames: number;

  /** @param kernel another one than the machine's quickest */
  constructor(
    private readonly sampleRate: number,
    private readonly kernel: Kernel = newKernel(sampleRate),
  ) {
    this.room = new Room(sampleRate, kernel);
    this.stealFrames = round(STEAL_FADE_SECONDS * sampleRate);
    this.chokeFrames = round(CHOKE_FADE_SECONDS * sampleRate);
    this.cutFadeFrames = round(CUT_FADE_SECONDS * sampleRate);
  }

  /**
   * Starts a voice at `frame`, which must not lie before the next block.
   * @param samples of the sound @param rate samples a frame
   * @param cutFrames after so many it is let go; 0 lets it ring, or be held until somebody lets go
   * @param right what the right side has in place of the samples
   */
  start(
    bus: Bus,
    lane: number,
    { gainLeft, gainRight, chokeGroup, held, decaySeconds }: SoundShape,
    samples: Samples,
    gain: number,
    rate: number,
    frame: number,
    cutFrames: number,
    right?: Samples,
  ): void {
    if (chokeGroup > 0) this.choke(bus, chokeGroup, frame);
    if (held) this.restrike(bus, lane, frame);
    this.makeRoom(frame);
    const voice = this.freeVoice();
    voice.active = true;
    voice.samples = samples;
    voice.right = right;
    voice.gainLeft = gain * gainLeft;
    voice.gainRight = gain * gainRight;
    voice.chokeGroup = chokeGroup;
    voice.held = held !== undefined;
    voice.bus = bus;
    voice.lane = lane;
    voice.startFrame = frame;
    voice.rate = rate;
    voice.loopStart = held?.loop?.[0] ?? 0;
    voice.loopEnd = held?.loop?.[1] ?? 0;
    voice.endFrame = voice.loopEnd > 0 ? NEVER : frame + floor((samples.length - 1) / rate) + 1;
    voice.decay = decaySeconds ? decayFactor(decaySeconds, this.sampleRate) : 1;
    voice.decayed = 1;
    if (decaySeconds) voice.endFrame = min(voice.endFrame, frame + ceil(GONE * decaySeconds * this.sampleRate));
    voice.releaseFrames = held?.releaseFrames ?? this.cutFadeFrames;
    voice.fadeFrame = cutFrames > 0 ? frame + cutFrames : NEVER;
    voice.fadeFrames = voice.releaseFrames;
    voice.hurryFrame = NEVER;
    voice.levelLeft = voice.gainLeft * bus.gains[2 * lane]!;
    voice.levelRight = voice.gainRight * bus.gains[2 * lane + 1]!;
    voice.levelRoom = bus.room[lane]!;
  }

  /** Fades out every voice of a lane. */
  chokeLane(bus: Bus, lane: number, frame: number): void {
    for (let slot = 0; slot < VOICE_SLOTS; slot++) {
      const voice = this.voices[slot]!;
      if (voice.active && voice.bus === bus && voice.lane === lane) voice.fadeFrom(frame, voice.releaseFrames);
    }
  }

  /** Lets go of the notes of a lane, or of every lane, that are held by hand: those that a table plays know when they end. */
  letGo(bus: Bus, lane: number, frame: number): void {
    for (let slot = 0; slot < VOICE_SLOTS; slot++) {
      const voice = this.voices[slot]!;
      const there = voice.bus === bus && (lane === EVERY_LANE || voice.lane === lane);
      if (voice.active && voice.held && there && voice.fadeFrame === NEVER)
        voice.fadeFrom(max(frame, voice.startFrame), voice.releaseFrames);
    }
  }

  /** Adds all voices, and what comes back of the room, to a block that begins at `frame`; nothing, and for nothing, at rest. */
  addTo(left: Float32Array, right: Float32Array, frame: number): void {
    if (this.isAtRest) return;
    for (let from = 0; from < left.length; from += BLOCK_FRAMES) {
      const frames = min(BLOCK_FRAMES, left.length - from);
      this.mix(frame + from, frames);
      const { out } = this.kernel.buffers;
      for (let index = 0; index < frames; index++) {
        left[from + index]! += out.left[index]!;
        right[from + index]! += out.right[index]!;
      }
    }
  }

  private get isAtRest(): boolean {
    if (!this.room.isAtRest) return false;
    for (let slot = 0; slot < VOICE_SLOTS; slot++) if (this.voices[slot]!.active) return false;
    return true;
  }

  /** Makes the frames from `frame` on, a block at most; the voices of one bus meet there. */
  private mix(frame: number, frames: number): void {
    const { kernel, room, voices } = this;
    const { out } = kernel.buffers;
    out.left.fill(0, 0, frames);
    out.right.fill(0, 0, frames);
    let buses = 0;
    for (let slot = 0; slot < VOICE_SLOTS; slot++) {
      const voice = voices[slot]!;
      if (!voice.active) continue;
      const { bus } = voice;
      if (!bus.sounding) bus.begin(kernel, buses++, frames);
      if (voice.levelRoom > 0 || bus.room[voice.lane]! > 0) room.receive(frames);
      bus.add(voice, kernel, frames, frame);
    }
    for (let slot = 0; slot < VOICE_SLOTS && buses > 0; slot++) {
      const { bus } = voices[slot]!;
      if (bus.sounding) bus.end(kernel, frames);
    }
    room.process(frames);
  }

  /** Voices that sound and are not on their way out at `frame`. */
  activeVoices(frame: number): number {
    let count = 0;
    for (let slot = 0; slot < VOICE_SLOTS; slot++)
      if (this.voices[slot]!.active && this.voices[slot]!.fadeFrame > frame) count++;
    return count;
  }

  /** Some voice has these samples. */
  isPlaying(samples: Samples): boolean {
    return this.voices.some((voice) => voice.active && (voice.samples === samples || voice.right === samples));
  }

  /** What is of one group in one part cuts each other off. */
  private choke(bus: Bus, group: number, frame: number): void {
    for (let slot = 0; slot < VOICE_SLOTS; slot++) {
      const voice = this.voices[slot]!;
      if (voice.active && voice.bus === bus && voice.chokeGroup === group && voice.startFrame < frame)
        voice.fadeFrom(frame, this.chokeFrames);
    }
  }

  /** A note that begins anew takes the place of the same one. */
  private restrike(bus: Bus, lane: number, frame: number): void {
    for (let slot = 0; slot < VOICE_SLOTS; slot++) {
      const voice = this.voices[slot]!;
      if (voice.active && voice.bus === bus && voice.lane === lane && voice.startFrame < frame)
        voice.fadeFrom(frame, this.chokeFrames);
    }
  }

  private makeRoom(frame: number): void {
    if (this.activeVoices(frame) < MAX_VOICES) return;
    let oldest: VoiceInBus | undefined;
    for (let slot = 0; slot < VOICE_SLOTS; slot++) {
      const voice = this.voices[slot]!;
      if (voice.active && voice.fadeFrame > frame && (!oldest || voice.startFrame < oldest.startFrame)) oldest = voice;
    }
    if (oldest) oldest.fadeFrom(frame, this.stealFrames);
  }

  private freeVoice(): VoiceInBus {
    let ending = this.voices[0]!;
    for (let slot = 0; slot < VOICE_SLOTS; slot++) {
      const voice = this.voices[slot]!;
      if (!voice.active) return voice;
      if (voice.overFrame < ending.overFrame) ending = voice;
    }
    return ending;
  }
}
