import type { StandInPart } from "./stand-in-score";

export const STAND_IN_NAME = "Stand-in drummer";

/** How the stand-in drummer plays. */
export interface StandInSettings {
  readonly part: StandInPart;
  /** True: with the transport, whenever it runs. False: by a beat of its own. */
  readonly follows: boolean;
  /** The beat of its own. */
  readonly bpm: number;
  /** Spread of its strokes around where it means them. */
  readonly spreadMs: number;
  /** How far it sits behind the beat; negative pushes ahead. */
  readonly lateMs: number;
  /** Ratio 0..1 of the strokes that trigger twice. */
  readonly doubles: number;
  /** Opens the hats with the foot at the end of every bar. */
  readonly pedal: boolean;
  readonly seed: number;
}

export const DEFAULT_STAND_IN: StandInSettings = {
  part: "kick and snare",
  follows: true,
  bpm: 100,
  spreadMs: 9,
  lateMs: 0,
  doubles: 0,
  pedal: false,
  seed: 1,
};
