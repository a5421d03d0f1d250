import type { GridName } from "@/core/time/grid";
import type { ClickAccent } from "@/core/sound/player/click-track";
import type { SwitchMoment } from "@/core/sound/player/track";
import { DEFAULT_KEY_LEVELS, type KeyLevels } from "@/inputs/computer-keys";
import { DEFAULT_STAND_IN, type StandInSettings } from "@/inputs/stand-in/stand-in-settings";

export const COUNT_IN_BARS = [0, 1, 2, 4] as const;
export type CountInBars = (typeof COUNT_IN_BARS)[number];

/** Laps after which the transport stops by itself; 0 is never. */
export const STOP_AFTER_LAPS = [0, 1, 2, 4, 8, 16] as const;
export type StopAfterLaps = (typeof STOP_AFTER_LAPS)[number];

/** Beats over which repeated notes rise or fall. */
export const REPEAT_RAMP_BEATS = [1, 2, 4, 8] as const;

export const CLICK_SUBDIVISIONS = ["off", "1/8", "1/8T", "1/16"] as const satisfies GridName[];

/** Where the level of repeated notes comes from. */
export const REPEAT_LEVELS = {
  stroke: "as struck",
  pressure: "by pressure",
  rise: "rising",
  fall: "falling",
} as const;

/** What belongs to the player and the room rather than to a beat. */
export interface Settings {
  readonly clickOn: boolean;
  /** Relative to its own level; -40..6. */
  readonly clickDb: number;
  /** `recording` keeps it silent while only playing, `count-in` also while recording. */
  readonly clickWhen: "recording" | "always" | "count-in";
  readonly clickAccent: ClickAccent;
  readonly clickSubdivision: (typeof CLICK_SUBDIVISIONS)[number];
  readonly countInBars: CountInBars;
  /** Record waits for the first stroke, which is then the downbeat; there is no count-in. */
  readonly startOnHit: boolean;
  readonly stopAfterLaps: StopAfterLaps;
  /** When a pattern that was called up takes over. */
  readonly switchAt: SwitchMoment;
  /** Calling a pattern up calls the same one up in all parts that have it. */
  readonly patternsTogether: boolean;
  readonly keyLevels: KeyLevels;
  readonly repeatLevel: keyof typeof REPEAT_LEVELS;
  readonly repeatRampBeats: (typeof REPEAT_RAMP_BEATS)[number];
  /** All that is played goes into the echoes. */
  readonly rememberPlaying: boolean;
  /** The timing panel is one line that says what is set. */
  readonly timingFolded: boolean;
  readonly standInOn: boolean;
  readonly standIn: StandInSettings;
}

export const CLICK_DB_RANGE = { min: -40, max: 6 } as const;

export const DEFAULT_SETTINGS: Settings = {
  clickOn: true,
  clickDb: 0,
  clickWhen: "recording",
  clickAccent: "groups",
  clickSubdivision: "off",
  countInBars: 1,
  startOnHit: false,
  stopAfterLaps: 0,
  switchAt: "lap",
  patternsTogether: false,
  keyLevels: DEFAULT_KEY_LEVELS,
  repeatLevel: "stroke",
  repeatRampBeats: 4,
  rememberPlaying: true,
  timingFolded: true,
  standInOn: false,
  standIn: DEFAULT_STAND_IN,
};
