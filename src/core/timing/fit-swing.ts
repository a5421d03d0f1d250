import type { LineGridName } from "../time/grid";
import { GRID_TICKS } from "../time/grid";
import type { Ticks } from "../time/ticks";
import type { Warp } from "../time/warp";
import { swingWarpOfBar } from "./swing";

/** The swing must explain so much more than none before it counts. */
const BETTER = 0.6;
const RATIOS = Array.from({ length: 51 }, (_, index) => 0.5 + index / 200);

/**
 * The swing that positions on a straight grid were played with, as far as it helps to tell which line each belongs to.
 * @returns undefined where it is straight enough without
 */
export function fitSwing(positions: readonly Ticks[], grid: LineGridName, barTicks: Ticks): Warp | undefined {
  if (grid !== "1/8" && grid !== "1/16") return undefined;
  const unit = GRID_TICKS[grid];
  const miss = RATIOS.map((ratio) => sum(positions, (ticks) => swingMiss(ticks, ratio, unit, barTicks) ** 2));
  const best = miss.indexOf(Math.min(...miss));
  if (miss[best]! > BETTER * miss[0]!) return undefined;
  return swingWarpOfBar({ ratio: RATIOS[best]!, unit: grid }, barTicks);
}

/** Hoisted: looking up a global per hit and ratio is slow in a test's sandbox. */
const { abs, floor } = Math;

/** How far a position lies from the nearest line of a swung grid; later where positive. */
export function swingMiss(ticks: Ticks, ratio: number, unit: number, barTicks: Ticks): number {
  const inBar = ticks - floor(ticks / barTicks) * barTicks;
  const inPair = inBar % (2 * unit);
  const middle = ratio * 2 * unit;
  const toMiddle = inPair - middle;
  const toEnd = inPair - 2 * unit;
  const toStart = abs(toEnd) < inPair ? toEnd : inPair;
  return abs(toMiddle) < abs(toStart) ? toMiddle : toStart;
}

function sum<T>(items: readonly T[], value: (item: T) => number): number {
  return items.reduce((total, item) => total + value(item), 0);
}
