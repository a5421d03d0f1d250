import type { Samples } from "./dsp";

/** Taken once: inside the loops over samples a look-up of a global each time is dear, above all in a test's sandbox. */
const { max, min, round } = Math;

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
const MAX_LANES = 128;

/** Where what belongs together meets: the sounds of one part. */
export class Bus {
  /** By lane, left and right: what its sounds are multiplied by while they sound. */
  readonly gains = new Float32Array(2 * MAX_LANES).fill(1);
}

const NO_BUS = new Bus();

/** A sample being played: plain numbers, made once. */
class Voice {
  active = false;
  samples: Samples = new Float32Array(0);
  gainLeft = 0;
  gainRight = 0;
  chokeGroup = 0;
  bus = NO_BUS;
  lane = NO_LANE;
  startFrame = 0;
  fadeFrame = NEVER;
  fadeFrames = 1;
  /** With what the last block ended: a fader that was moved since is followed in a straight line, without a click. */
  levelLeft = 0;
  levelRight = 0;
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
   * @param cutFrames after so many it is faded out; 0 lets it ring
   */
  start(
    samples: Samples,
    gainLeft: number,
    gainRight: number,
    frame: number,
    bus: Bus,
    chokeGroup = 0,
    lane = NO_LANE,
    cutFrames = 0,
  ): void {
    if (chokeGroup > 0) this.choke(bus, chokeGroup, frame);
    this.makeRoom(frame);
    const voice = this.freeVoice();
    voice.active = true;
    voice.samples = samples;
    voice.gainLeft = gainLeft;
    voice.gainRight = gainRight;
    voice.chokeGroup = chokeGroup;
    voice.bus = bus;
    voice.lane = lane;
    voice.startFrame = frame;
    voice.fadeFrame = cutFrames > 0 ? frame + cutFrames : NEVER;
    voice.fadeFrames = this.cutFadeFrames;
    voice.levelLeft = gainLeft * bus.gains[2 * lane]!;
    voice.levelRight = gainRight * bus.gains[2 * lane + 1]!;
  }

  /** Fades out every voice of a lane. */
  chokeLane(bus: Bus, lane: number, frame: number): void {
    for (let slot = 0; slot < SLOTS; slot++) {
      const voice = this.voices[slot]!;
      if (voice.active && voice.bus === bus && voice.lane === lane) fadeFrom(voice, frame, this.cutFadeFrames);
    }
  }

  /** Adds all voices to a block that begins at `frame`. */
  addTo(left: Float32Array, right: Float32Array, frame: number): void {
    for (let slot = 0; slot < SLOTS; slot++) {
      const voice = this.voices[slot]!;
      if (voice.active) addVoice(voice, left, right, frame);
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

function addVoice(voice: Voice, left: Float32Array, right: Float32Array, frame: number): void {
  const { samples, bus, lane, startFrame, fadeFrame, fadeFrames } = voice;
  const gainLeft = voice.gainLeft * bus.gains[2 * lane]!;
  const gainRight = voice.gainRight * bus.gains[2 * lane + 1]!;
  const from = max(0, startFrame - frame);
  const to = min(left.length, startFrame + samples.length - frame, fadeFrame + fadeFrames - frame);
  if (gainLeft !== voice.levelLeft || gainRight !== voice.levelRight) {
    addMoving(voice, left, right, frame, from, to, gainLeft, gainRight);
    if (to < left.length && from < left.length) voice.active = false;
    return;
  }
  const fadeFrom = max(from, min(to, fadeFrame - frame));
  for (let index = from, at = frame + from - startFrame; index < fadeFrom; index++, at++) {
    left[index]! += samples[at]! * gainLeft;
    right[index]! += samples[at]! * gainRight;
  }
  for (let index = fadeFrom; index < to; index++) {
    const at = frame + index;
    const sample = samples[at - startFrame]! * (1 - (at - fadeFrame) / fadeFrames);
    left[index]! += sample * gainLeft;
    right[index]! += sample * gainRight;
  }
  if (to < left.length && from < left.length) voice.active = false;
}

/** Adds a voice whose fader has been moved: from the level of before to that of now, over the block. */
function addMoving(
  voice: Voice,
  left: Float32Array,
  right: Float32Array,
  frame: number,
  from: number,
  to: number,
  toLeft: number,
  toRight: number,
): void {
  const { samples, startFrame, fadeFrame, fadeFrames, levelLeft, levelRight } = voice;
  for (let index = from; index < to; index++) {
    const at = frame + index;
    const fade = at < fadeFrame ? 1 : 1 - (at - fadeFrame) / fadeFrames;
    const sample = samples[at - startFrame]! * fade;
    const share = (index + 1) / left.length;
    left[index]! += sample * (levelLeft + (toLeft - levelLeft) * share);
    right[index]! += sample * (levelRight + (toRight - levelRight) * share);
  }
  voice.levelLeft = toLeft;
  voice.levelRight = toRight;
}
