import type { DrumId } from "../../drums";
import type { DrumVoice } from "./drum-voice";

/** How one drum of a kit is voiced and where it stands. */
export interface DrumRecipe {
  readonly voice: DrumVoice;
  /** What is taken off a drum whose sound grows behind its beginning, so that it is as loud as others in the whole. */
  readonly trimDb?: number;
  /** -1 left .. 1 right, seen by the player. */
  readonly pan: number;
  /** Drums of one group cut each other off; 0 is no group. */
  readonly chokeGroup: number;
}

export type KitRecipe = Readonly<Record<DrumId, DrumRecipe>>;

/**
 * How loud the hardest stroke is in every kit: LUFS of its first 150 ms on both sides. Kits are alike, a full beat peaks between -12
 * and -6 dBFS, and drums stand to the snare about as recorded ones do (`bench/kit-table.ts`).
 */
export const DRUM_LUFS: Readonly<Record<DrumId, number>> = {
  kick: -19,
  snare: -18.5,
  sideStick: -27,
  clap: -25,
  lowTom: -19,
  midTom: -19.2,
  highTom: -20,
  conga: -26.5,
  closedHat: -31.5,
  openHat: -26,
  pedalHat: -33.5,
  ride: -26.5,
  crash: -22,
  tambourine: -26,
  shaker: -30.5,
  cowbell: -26,
};

/** The hats of a kit. */
export const HATS = 1;
