import type { Samples } from "./dsp";

/** The name of a sound: its set, and which of it. @example "deckhouse/kick" */
export type SoundId = string;

/** What ends when the note ends. */
export interface HeldSound {
  /** The frames between which the samples go round as long as the note is held; without them it dies away by itself. */
  readonly loop?: readonly [startFrame: number, endFrame: number];
  /** In so many frames it is gone when it is let go. */
  readonly releaseFrames: number;
}

/** How a sound takes its place among the others. */
export interface SoundShape {
  readonly gainLeft: number;
  readonly gainRight: number;
  /** Sounds of one group in a part cut each other off; 0 is no group. */
  readonly chokeGroup: number;
  /** It ends with its note. */
  readonly held?: HeldSound;
  /** Extra decay: seconds to fall by 60 dB. */
  readonly decaySeconds?: number;
}

/** Something that is struck, as samples. */
export interface Sound {
  /** [layer][variant]; where they go round, each goes on for three frames behind the end of its loop as at its start. */
  readonly layers: readonly (readonly Samples[])[];
  /** What the right side has in their place, of the same lengths; without it both sides have the same. */
  readonly right?: readonly (readonly Samples[])[];
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

/** One of the sounds that a lane strikes. */
export interface LaneSound {
  readonly soundId: SoundId;
  /** How fast its samples go by: 2 is an octave up. */
  readonly rate: number;
  /** What its samples are multiplied by, left and right. */
  readonly gains?: readonly [left: number, right: number];
  /** The velocities at which it sounds, both ends included; all where nothing is said. */
  readonly velocities?: readonly [from: number, to: number];
  /** Extra decay: seconds to fall by 60 dB. */
  readonly decaySeconds?: number;
  /** In place of the sound's own. */
  readonly chokeGroup?: number;
  /** It ends with its note, whatever its sound does. */
  readonly held?: true;
}

/** By lane; lanes without any are silent. */
export type LaneSounds = readonly (readonly LaneSound[] | undefined)[];

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

/**
 * How far a stroke is below the hardest, in dB: velocity 64 is about 11 dB down (common practice, no source).
 * @example velocityDb(127) // 0
 */
export function velocityDb(velocity: number): number {
  return 20 * VELOCITY_POWER * Math.log10(velocity / 127);
}

const VELOCITY_POWER = 1.8;

/** The same as an amplitude. @example velocityGain(127) // 1 */
export function velocityGain(velocity: number): number {
  return Math.fround(Math.pow(velocity / 127, VELOCITY_POWER));
}

const VELOCITY_GAINS = Float32Array.from({ length: 128 }, (_, velocity) => velocityGain(velocity));

/** The layer for a velocity: the softest that was voiced at least as hard. @example layerFor([40, 80, 127], 70) // 1 */
export function layerFor(velocities: readonly number[], velocity: number): number {
  for (let layer = 0; layer < velocities.length; layer++) if (velocity <= velocities[layer]!) return layer;
  return velocities.length - 1;
}

/** How far a layer is turned down for a velocity, 0..127. @example layerGain(100, 100) // 1 */
export function layerGain(layerVelocity: number, velocity: number): number {
  return Math.fround(VELOCITY_GAINS[velocity]! / VELOCITY_GAINS[layerVelocity]!);
}

/** A sound as a lane strikes it. */
export interface StruckSound extends SoundShape {
  readonly sound: Sound;
  readonly rate: number;
  /** The velocities at which it sounds, both ends included. */
  readonly from: number;
  readonly to: number;
}

/** How a drum is gone that ends with its note. */
const HELD_RELEASE_SECONDS = 0.04;

/** How far a note is looked for among its neighbours. */
const FURTHEST_SEMITONES = 24;

/** What a lane strikes of the sounds that are there; none where it is silent. */
export function findSounds(
  { lanes, pitched }: PartLanes,
  lane: number,
  sounds: ReadonlyMap<SoundId, Sound>,
  sampleRate: number,
): readonly StruckSound[] {
  const at = (its: number, semitones: number) =>
    (lanes[its] ?? []).flatMap((struck) => struckAt(struck, sounds.get(struck.soundId), semitones, sampleRate) ?? []);
  const own = at(lane, 0);
  if (own.length > 0 || !pitched) return own;
  for (let away = 1; away <= FURTHEST_SEMITONES; away++) {
    const near = [at(lane - away, away), at(lane + away, -away)].find(({ length }) => length > 0);
    if (near) return near;
  }
  return [];
}

function struckAt(struck: LaneSound, sound: Sound | undefined, semitones: number, sampleRate: number) {
  if (!sound) return undefined;
  const { rate, gains: [left, right] = [1, 1], velocities: [from, to] = [1, 127], decaySeconds } = struck;
  const held = sound.held ?? (struck.held && { releaseFrames: Math.round(HELD_RELEASE_SECONDS * sampleRate) });
  return {
    sound,
    rate: semitones === 0 ? rate : rate * Math.pow(2, semitones / 12),
    gainLeft: sound.gainLeft * left,
    gainRight: sound.gainRight * right,
    chokeGroup: struck.chokeGroup ?? sound.chokeGroup,
    ...(held && { held }),
    ...(decaySeconds && { decaySeconds }),
    from,
    to,
  };
}

/** The hardest of its strokes: one side that is heard on both, or left and right. */
export function hardestStroke({ layers, right }: Sound): readonly Samples[] {
  const left = layers.at(-1)![0]!;
  return right ? [left, right.at(-1)![0]!] : [left];
}

/** How many frames a sound rings for: one that goes round, behind the end of its note. */
export function ringFrames({ layers, held }: Sound): number {
  if (held?.loop) return held.releaseFrames;
  return layers.flat().reduce((most, { length }) => Math.max(most, length), 0);
}
