/** Controller 4 is the foot (MIDI 1.0); that a hat's pedal sends it, 0 open and 127 closed, is common practice. */
export const HAT_PEDAL_CONTROLLER = 4;
/** Common practice, no source: pedals seldom reach their end. */
const CLOSED_FROM = 90;
const HALF_FROM = 36;
/** A foot that comes off the pedal so soon after it went down lets the hats splash. */
const SPLASH_WITHIN_MS = 180;

export type HatOpening = "open" | "half" | "closed";

/** The pedal of a pair of hats. */
export interface HatPedal {
  readonly opening: HatOpening;
  /** When it went down last; -Infinity before it ever did. */
  readonly closedAtMs: number;
}

export const PEDAL_AT_REST: HatPedal = { opening: "open", closedAtMs: -Infinity };

export interface PedalMove {
  readonly pedal: HatPedal;
  /** The hats were stopped by it. */
  readonly closes: boolean;
  /** They were clapped together and let go. */
  readonly splashes: boolean;
}

/** @param value 0 open .. 127 closed */
export function movePedal(pedal: HatPedal, value: number, timeMs: number): PedalMove {
  const opening: HatOpening = value >= CLOSED_FROM ? "closed" : value >= HALF_FROM ? "half" : "open";
  const closes = opening === "closed" && pedal.opening !== "closed";
  const splashes = opening === "open" && pedal.opening !== "open" && timeMs - pedal.closedAtMs <= SPLASH_WITHIN_MS;
  const closedAtMs = closes ? timeMs : splashes ? -Infinity : pedal.closedAtMs;
  return { pedal: { opening, closedAtMs }, closes, splashes };
}
