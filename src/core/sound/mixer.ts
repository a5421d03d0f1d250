import type { Samples } from "./dsp";
import { MAX_LANES, type Sound } from "./sound";

/** Taken once: inside the loops over samples a look-up of a global each time is dear, above all in a test's sandbox. */
const { abs, floor, max, min, round } = Math;

/** Voices that sound at once; the oldest gives way. */
export const MAX_VOICES = 64;
/** Room for voices that are fading out after they gave way or were choked. */
const SLOTS = MAX_VOICES + 32;
const STEAL_FADE_SECONDS = 0.004;
const CHOKE_FADE_SECONDS = 0.025;
/** A cymbal in a hand or a half-closed hat dies a little more slowly. */
const CUT_FADE_SECONDS = 0.04;
const NEVER = Number.MAX_SAFE_INTEGER;
/** For voices that are on no lane, such as the click. */
const NO_LANE = 0;
/** For all that is held in a bus. */
export const EVERY_LANE = -1;
/** What a block has mostly. */
const BLOCK_FRAMES = 128;

/** The highest amplitude of a lane. */
export interface LanePeak {
  readonly lane: number;
  readonly peak: number;
}

/** Where what belongs together meets: the sounds of one part. */
export class Bus {
  /** By lane, left and right: what its sounds are multiplied by while they sound. */
  readonly gains = new Float32Array(2 * MAX_LANES).fill(1);
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

  /** Adds a voice's part of a block. */
  add(voice: Voice, frames: number, frame: number): void {
    if (!this.sounding) this.clear(frames);
    const { lane } = voice;
    addVoice(voice, this.left, this.right, frames, frame);
    this.laneLevels[lane]! += voice.peak;
    this.lanePeaks[lane] = max(this.lanePeaks[lane]!, this.laneLevels[lane]!);
  }

  private clear(frames: number): void {
    this.sounding = true;
    this.laneLevels.fill(0);
    if (this.left.length < frames) {
      this.left = new Float32Array(frames);
      this.right = new Float32Array(frames);
    } else {
      this.left.fill(0, 0, frames);
      this.right.fill(0, 0, frames);
    }
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
}

/** How a sound takes its place among the others. */
export type SoundShape = Pick<Sound, "gainLeft" | "gainRight" | "chokeGroup" | "held">;

/** Of a voice that has not sounded yet. */
const NO_BUS = new Bus();

/** A sample being played: plain numbers, made once. */
class Voice {
  active = false;
  samples: Samples = new Float32Array(0);
  gainLeft = 0;
  gainRight = 0;
  chokeGroup = 0;
  /** It ends with its note. */
  held = false;
  bus = NO_BUS;
  lane = NO_LANE;
  startFrame = 0;
  /** Samples a frame. */
  rate = 1;
  loopStart = 0;
  /** 0 where nothing goes round. */
  loopEnd = 0;
  /** Where the samples are over. */
  endFrame = NEVER;
  fadeFrame = NEVER;
  fadeFrames = 1;
  /** What a note that is let go fades in. */
  releaseFrames = 1;
  /** With what the last block ended: a fader that was moved since is followed in a straight line, without a click. */
  levelLeft = 0;
  levelRight = 0;
  /** Its highest amplitude in the last block, on the louder side. */
  peak = 0;
}

/** Sums voices into a stereo block. Frames are absolute; nothing is allocated while it plays. */
export class Mixer {
  private readonly voices = Array.from({ length: SLOTS }, () => new Voice());
  private readonly stealFrames: number;
  private readonly chokeFrames: number;
  private readonly cutFadeFrames: number;

  constructor(sampleRate: number) {
    this.stealFrames = round(STEAL_FADE_SECONDS * sampleRate);
    this.chokeFrames = round(CHOKE_FADE_SECONDS * sampleRate);
    this.cutFadeFrames = round(CUT_FADE_SECONDS * sampleRate);
  }

  /**
   * Starts a voice at `frame`, which must not lie before the next block.
   * @param samples of the sound @param rate samples a frame
   * @param cutFrames after so many it is let go; 0 lets it ring, or be held until somebody lets go
   */
  start(
    bus: Bus,
    lane: number,
    { gainLeft, gainRight, chokeGroup, held }: SoundShape,
    samples: Samples,
    gain: number,
    rate: number,
    frame: number,
    cutFrames: number,
  ): void {
    if (chokeGroup > 0) this.choke(bus, chokeGroup, frame);
    if (held) this.restrike(bus, lane, frame);
    this.makeRoom(frame);
    const voice = this.freeVoice();
    voice.active = true;
    voice.samples = samples;
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
    voice.releaseFrames = held?.releaseFrames ?? this.cutFadeFrames;
    voice.fadeFrame = cutFrames > 0 ? frame + cutFrames : NEVER;
    voice.fadeFrames = voice.releaseFrames;
    voice.levelLeft = voice.gainLeft * bus.gains[2 * lane]!;
    voice.levelRight = voice.gainRight * bus.gains[2 * lane + 1]!;
  }

  /** Fades out every voice of a lane. */
  chokeLane(bus: Bus, lane: number, frame: number): void {
    for (let slot = 0; slot < SLOTS; slot++) {
      const voice = this.voices[slot]!;
      if (voice.active && voice.bus === bus && voice.lane === lane) fadeFrom(voice, frame, voice.releaseFrames);
    }
  }

  /** Lets go of the notes of a lane, or of every lane, that are held by hand: those that a table plays know when they end. */
  letGo(bus: Bus, lane: number, frame: number): void {
    for (let slot = 0; slot < SLOTS; slot++) {
      const voice = this.voices[slot]!;
      const there = voice.bus === bus && (lane === EVERY_LANE || voice.lane === lane);
      if (voice.active && voice.held && there && voice.fadeFrame === NEVER)
        fadeFrom(voice, max(frame, voice.startFrame), voice.releaseFrames);
    }
  }

  /** Adds all voices to a block that begins at `frame`; those of one bus meet there, and are left to be added. */
  addTo(left: Float32Array, right: Float32Array, frame: number, apart?: Bus): void {
    for (let slot = 0; slot < SLOTS; slot++) {
      const voice = this.voices[slot]!;
      if (voice.active) voice.bus.add(voice, left.length, frame);
    }
    for (let slot = 0; slot < SLOTS; slot++) {
      const { bus } = this.voices[slot]!;
      if (bus.sounding && bus !== apart) bus.addTo(left, right);
    }
  }

  /** Voices that sound and are not on their way out at `frame`. */
  activeVoices(frame: number): number {
    let count = 0;
    for (let slot = 0; slot < SLOTS; slot++)
      if (this.voices[slot]!.active && this.voices[slot]!.fadeFrame > frame) count++;
    return count;
  }

  /** What is of one group in one part cuts each other off. */
  private choke(bus: Bus, group: number, frame: number): void {
    for (let slot = 0; slot < SLOTS; slot++) {
      const voice = this.voices[slot]!;
      if (voice.active && voice.bus === bus && voice.chokeGroup === group && voice.startFrame < frame)
        fadeFrom(voice, frame, this.chokeFrames);
    }
  }

  /** A note that begins anew takes the place of the same one. */
  private restrike(bus: Bus, lane: number, frame: number): void {
    for (let slot = 0; slot < SLOTS; slot++) {
      const voice = this.voices[slot]!;
      if (voice.active && voice.bus === bus && voice.lane === lane && voice.startFrame < frame)
        fadeFrom(voice, frame, this.chokeFrames);
    }
  }

  private makeRoom(frame: number): void {
    if (this.activeVoices(frame) < MAX_VOICES) return;
    let oldest: Voice | undefined;
    for (let slot = 0; slot < SLOTS; slot++) {
      const voice = this.voices[slot]!;
      if (voice.active && voice.fadeFrame > frame && (!oldest || voice.startFrame < oldest.startFrame)) oldest = voice;
    }
    if (oldest) fadeFrom(oldest, frame, this.stealFrames);
  }

  private freeVoice(): Voice {
    let ending = this.voices[0]!;
    for (let slot = 0; slot < SLOTS; slot++) {
      const voice = this.voices[slot]!;
      if (!voice.active) return voice;
      if (voice.fadeFrame + voice.fadeFrames < ending.fadeFrame + ending.fadeFrames) ending = voice;
    }
    return ending;
  }
}

function fadeFrom(voice: Voice, frame: number, frames: number): void {
  if (voice.fadeFrame + voice.fadeFrames <= frame + frames) return;
  voice.fadeFrame = frame;
  voice.fadeFrames = frames;
}

function addVoice(voice: Voice, left: Float32Array, right: Float32Array, frames: number, frame: number): void {
  const { bus, lane, startFrame, endFrame, fadeFrame, fadeFrames } = voice;
  const gainLeft = voice.gainLeft * bus.gains[2 * lane]!;
  const gainRight = voice.gainRight * bus.gains[2 * lane + 1]!;
  const from = max(0, startFrame - frame);
  const to = min(frames, endFrame - frame, fadeFrame + fadeFrames - frame);
  const moved = gainLeft !== voice.levelLeft || gainRight !== voice.levelRight;
  if (moved || voice.rate !== 1 || voice.loopEnd > 0)
    addMoving(voice, left, right, frames, frame, from, to, gainLeft, gainRight);
  else addPlain(voice, left, right, frame, from, to);
  voice.peak *= max(gainLeft, gainRight);
  voice.levelLeft = gainLeft;
  voice.levelRight = gainRight;
  if (to < frames && from < frames) voice.active = false;
}

function addPlain(voice: Voice, left: Float32Array, right: Float32Array, frame: number, from: number, to: number) {
  const { samples, startFrame, fadeFrame, fadeFrames, levelLeft, levelRight } = voice;
  const fadeFrom = max(from, min(to, fadeFrame - frame));
  let peak = 0;
  for (let index = from, at = frame + from - startFrame; index < fadeFrom; index++, at++) {
    const sample = samples[at]!;
    peak = max(peak, abs(sample));
    left[index]! += sample * levelLeft;
    right[index]! += sample * levelRight;
  }
  for (let index = fadeFrom; index < to; index++) {
    const at = frame + index;
    const sample = samples[at - startFrame]! * (1 - (at - fadeFrame) / fadeFrames);
    peak = max(peak, abs(sample));
    left[index]! += sample * levelLeft;
    right[index]! += sample * levelRight;
  }
  voice.peak = peak;
}

/**
 * Adds a voice whose fader has been moved, from the level of before to that of now over the block; or one at another pitch
 * than its samples', or that goes round. Between samples it goes by the cubic through the four around (Catmull and Rom, "A
 * class of local interpolating splines", 1974; from memory), on a sample it is the sample.
 */
function addMoving(
  voice: Voice,
  left: Float32Array,
  right: Float32Array,
  frames: number,
  frame: number,
  from: number,
  to: number,
  toLeft: number,
  toRight: number,
): void {
  const { samples, startFrame, rate, loopStart, loopEnd, fadeFrame, fadeFrames, levelLeft, levelRight } = voice;
  let peak = 0;
  for (let index = from; index < to; index++) {
    const at = frame + index;
    let position = (at - startFrame) * rate;
    if (loopEnd > 0 && position >= loopEnd) position = loopStart + ((position - loopStart) % (loopEnd - loopStart));
    const first = floor(position);
    const share = position - first;
    const a = first > 0 ? samples[first - 1]! : 0;
    const b = samples[first]!;
    const c = first + 1 < samples.length ? samples[first + 1]! : 0;
    const d = first + 2 < samples.length ? samples[first + 2]! : 0;
    const cubic = 0.5 * (d - a) + 1.5 * (b - c);
    const square = a - 2.5 * b + 2 * c - 0.5 * d;
    const fade = at < fadeFrame ? 1 : 1 - (at - fadeFrame) / fadeFrames;
    const sample = (((cubic * share + square) * share + 0.5 * (c - a)) * share + b) * fade;
    peak = max(peak, abs(sample));
    const moved = (index + 1) / frames;
    left[index]! += sample * (levelLeft + (toLeft - levelLeft) * moved);
    right[index]! += sample * (levelRight + (toRight - levelRight) * moved);
  }
  voice.peak = peak;
}
