import { single, type Samples } from "./dsp";

/** The name of a sound: its set, and which of it. @example "deckhouse/kick" */
export type SoundId = string;

/** What ends when the note ends. */
export interface HeldSound {
  /** The frames between which the samples go round as long as the note is held; without them it dies away by itself. */
  readonly loop?: readonly [startFrame: number, endFrame: number];
  /** In so many frames it is gone when it is let go. */
  readonly releaseFrames: number;
}

/** Something that is struck, as samples. */
export interface Sound {
  /** [layer][variant]; where they go round, each goes on for three frames behind the end of its loop as at its start. */
  readonly layers: readonly (readonly Samples[])[];
  /** At which each layer was voiced, 1..127, the softest first; in between a layer is turned down. */
  readonly velocities: readonly number[];
  readonly gainLeft: number;
  readonly gainRight: number;
  /** Sounds of one group in a part cut each other off; 0 is no group. */
  readonly chokeGroup: number;
  /** Without it the sound rings out, whenever the note ends. */
  readonly held?: HeldSound;
}

export type Sounds = Readonly<Record<SoundId, Sound>>;

export interface SoundBank {
  readonly sampleRate: number;
  readonly sounds: Sounds;
}

/** What a lane strikes, and how fast its samples go by: 2 is an octave up. */
export interface LaneSound {
  readonly soundId: SoundId;
  readonly rate: number;
}

/** By lane; lanes without one are silent. */
export type LaneSounds = readonly (LaneSound | undefined)[];

/** Lanes are 0..127. */
export const MAX_LANES = 128;

/** Different strokes of equal force, taken in turn. */
export const VARIANTS = 3;

/** Of a part: lanes that have no counterpart. */
export const NO_LANE = 255;

/** Another part that sounds along, and which of its lanes for each. */
export interface AlsoStruck {
  readonly partId: number;
  /** By lane; NO_LANE where there is none. */
  readonly lanes: Uint8Array;
}

/** What the lanes of a part strike, there and elsewhere. */
export interface PartLanes {
  readonly lanes: LaneSounds;
  /** Lanes are semitones: one whose sound is not there yet is played on the nearest that is. */
  readonly pitched?: true;
  readonly also?: readonly AlsoStruck[];
}

/** Amplitude of a stroke against the hardest: velocity 64 is about 9 dB down (common practice, no source). */
export function velocityGain(velocity: number): number {
  return single(Math.pow(velocity / 127, 1.5));
}

const VELOCITY_GAINS = Float32Array.from({ length: 128 }, (_, velocity) => velocityGain(velocity));

/** The layer for a velocity: the softest that was voiced at least as hard. */
export function layerFor(velocities: readonly number[], velocity: number): number {
  for (let layer = 0; layer < velocities.length; layer++) if (velocity <= velocities[layer]!) return layer;
  return velocities.length - 1;
}

/** How far a layer is turned down for a velocity, 0..127. */
export function layerGain(layerVelocity: number, velocity: number): number {
  return single(VELOCITY_GAINS[velocity]! / VELOCITY_GAINS[layerVelocity]!);
}

/** A sound, and how fast its samples go by. */
export interface StruckSound {
  readonly sound: Sound;
  readonly rate: number;
}

/** How far a note is looked for among its neighbours. */
const FURTHEST_SEMITONES = 24;

/** What a lane strikes of the sounds that are there. */
export function findSound(
  { lanes, pitched }: PartLanes,
  lane: number,
  sounds: ReadonlyMap<SoundId, Sound>,
): StruckSound | undefined {
  const own = soundAt(lanes[lane], sounds, 0);
  if (own || !pitched) return own;
  for (let away = 1; away <= FURTHEST_SEMITONES; away++) {
    const near = soundAt(lanes[lane - away], sounds, away) ?? soundAt(lanes[lane + away], sounds, -away);
    if (near) return near;
  }
  return undefined;
}

function soundAt(struck: LaneSound | undefined, sounds: ReadonlyMap<SoundId, Sound>, semitones: number) {
  const sound = struck && sounds.get(struck.soundId);
  return sound && { sound, rate: struck.rate * Math.pow(2, semitones / 12) };
}

/** How many frames a sound rings for: one that goes round, behind the end of its note. */
export function ringFrames({ layers, held }: Sound): number {
  if (held?.loop) return held.releaseFrames;
  return layers.flat().reduce((most, { length }) => Math.max(most, length), 0);
}
