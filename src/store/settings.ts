export const COUNT_IN_BARS = [0, 1, 2] as const;
export type CountInBars = (typeof COUNT_IN_BARS)[number];

/** What belongs to the player and the room rather than to a beat. */
export interface Settings {
  readonly clickOn: boolean;
  /** Relative to its own level; -40..6. */
  readonly clickDb: number;
  /** `recording` keeps it silent while only playing. */
  readonly clickWhen: "recording" | "always";
  readonly countInBars: CountInBars;
}

export const CLICK_DB_RANGE = { min: -40, max: 6 } as const;

export const DEFAULT_SETTINGS: Settings = { clickOn: true, clickDb: 0, clickWhen: "recording", countInBars: 1 };
