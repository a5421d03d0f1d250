import type { DrumId } from "../../drums";
import type { DrumVoice } from "./drum-voice";

/** How one drum of a kit is voiced and where it stands. */
export interface DrumRecipe {
  readonly voice: DrumVoice;
  /** Peak of the hardest stroke in dBFS, set so that a full beat sums to between -12 and -6, and kits are alike. */
  readonly peakDb: number;
  /** -1 left .. 1 right, seen by the player. */
  readonly pan: number;
  /** Drums of one group cut each other off; 0 is no group. */
  readonly chokeGroup: number;
}

export type KitRecipe = Readonly<Record<DrumId, DrumRecipe>>;

/** The hats of a kit. */
export const HATS = 1;
