import type { DrumId } from "../../drums";
import type { DrumVoice } from "./drum-voice";

/** The strokes that are made of a drum. */
export interface DrumLayers {
  /** The softest first. */
  readonly velocities: readonly number[];
  readonly variants: number;
}

/** How one drum of a kit is voiced and where it stands. */
export interface DrumRecipe {
  readonly voice: DrumVoice;
  /** The velocities at which it is voiced, and how many strokes there are of each, where it is others than most drums'. */
  readonly layers?: DrumLayers;
  /** What is added to a drum that grows behind its beginning less than others, so that it is as loud as they are in the whole. */
  readonly trimDb?: number;
  /** -1 left .. 1 right, seen by the player. */
  readonly pan: number;
  /** Drums of one group cut each other off; 0 is no group. */
  readonly chokeGroup: number;
}

export type KitRecipe = Readonly<Record<DrumId, DrumRecipe>>;

/**
 * How loud the hardest stroke is in every kit: LUFS of its first 150 ms on both sides. Kits are alike, a full beat stays below
 * -6 dBFS, and drums stand to the snare as recorded ones do (`bench/kit-table.ts`).
 */
export const DRUM_LUFS: Readonly<Record<DrumId, number>> = {
  kick: -21,
  snare: -18.5,
  sideStick: -25.5,
  clap: -22,
  lowTom: -19.6,
  midTom: -19.6,
  highTom: -20.6,
  conga: -21.5,
  closedHat: -30,
  openHat: -29.5,
  pedalHat: -29,
  ride: -27.5,
  crash: -21.5,
  tambourine: -21.5,
  shaker: -26.5,
  cowbell: -23.5,
};

/** The hats of a kit. */
export const HATS = 1;
