import type { Swing } from "../beat/feel";
import { GRID_TICKS } from "../time/grid";
import type { Meter } from "../time/meter";
import { barTicks } from "../time/meter";
import type { Ticks } from "../time/ticks";
import type { Warp } from "../time/warp";

export const SWING_RANGE = { min: 0.5, max: 0.75 } as const;
export const STRAIGHT: Swing = { ratio: 0.5, unit: "1/16" };

/**
 * Swing as a map of time: of every pair of units the middle moves from one unit to `ratio` of two, and what lies between
 * moves along. Pairs start anew at every bar; the odd unit at the end of one stays.
 * @returns undefined when straight
 * @example swingWarp({ ratio: 2 / 3, unit: "1/8" }, { beats: 2, unit: 4 })!.to // [0, 640, 960, 1600, 1920]
 */
export function swingWarp(swing: Swing | undefined, meter: Meter): Warp | undefined {
  if (!swing) return undefined;
  const cycleTicks = barTicks(meter);
  const known = remembered.get(swing) ?? new Map<Ticks, Warp | undefined>();
  remembered.set(swing, known);
  if (!known.has(cycleTicks)) known.set(cycleTicks, swingWarpOfBar(swing, cycleTicks));
  return known.get(cycleTicks);
}

/** A setting never changes, and a file may ask for its map with every one of its bars. */
const remembered = new WeakMap<Swing, Map<Ticks, Warp | undefined>>();

/** The same for bars of any length. @example swingWarpOfBar({ ratio: 2 / 3, unit: "1/8" }, 1920).to // [0, 640, 960, 1600, 1920] */
export function swingWarpOfBar(swing: Swing, cycleTicks: Ticks): Warp | undefined {
  if (swing.ratio === 0.5) return undefined;
  const unit = GRID_TICKS[swing.unit];
  const pairs = Math.floor(cycleTicks / (2 * unit));
  if (pairs === 0) return undefined;
  const starts = Array.from({ length: pairs }, (_, pair) => pair * 2 * unit);
  const end = pairs * 2 * unit;
  const tail = end < cycleTicks ? [end, cycleTicks] : [cycleTicks];
  return {
    cycleTicks,
    from: [...starts.flatMap((start) => [start, start + unit]), ...tail],
    to: [...starts.flatMap((start) => [start, start + swing.ratio * 2 * unit]), ...tail],
  };
}
