import type { Hit } from "../beat/beat";
import type { Ticks } from "../time/ticks";

/** What is listened to: all of it, without swing and groove, or just what was played. */
export const TIMING_VIEWS = ["grooved", "corrected", "played"] as const;
export type TimingView = (typeof TIMING_VIEWS)[number];

/** A hit with the place where it sounds. */
export interface ResolvedHit {
  readonly hit: Hit;
  readonly passId: number;
  /**
   * Where it sounds, before the loop's end; negative when it sounds ahead of the downbeat, which in a running loop is the
   * end of the lap before.
   */
  readonly ticks: Ticks;
  /** The same on the straight grid, before swing, groove and chance. */
  readonly straightTicks: Ticks;
  /** The line that pulled it, on the straight grid; undefined where it stays as played. */
  readonly line: Ticks | undefined;
  /** True when a louder hit of the same pad was corrected to the same line; then it is kept but does not sound. */
  readonly duplicateOnLine: boolean;
  /** 1..127, with the accents of the groove. */
  readonly velocity: number;
  readonly lengthTicks: Ticks;
}

/**
 * Where a hit's timing starts from, on the straight grid: its start, or what was played without the feel of then.
 * @example startOf(pattern.passes[0].hits[1]) // 487
 */
export function startOf({ start, played }: Hit): Ticks {
  return start?.ticks ?? played.straightTicks ?? played.ticks;
}

/** Somebody put it there: no grid moves it on. @example isPlacedByHand(pattern.passes[0].hits[0]) // false */
export function isPlacedByHand({ start }: Hit): boolean {
  return start?.by === "hand" && start.ticks !== undefined;
}

/** Behind a loop's end it is kept and silent. @example isBeyond(pattern.passes[0].hits[1], 480) // true */
export function isBeyond(hit: Hit, lengthTicks: Ticks): boolean {
  return (isPlacedByHand(hit) ? hit.start!.ticks! : hit.played.ticks) >= lengthTicks;
}

/** How loud a hit is to begin with: as it was kept, or as it was struck. @example levelOf(pattern.passes[0].hits[0]) // 90 */
export function levelOf({ start, played }: Hit): number {
  return start?.velocity ?? played.velocity;
}
