import { GRID_TICKS, gridLines, isTriplet, type LineGridName } from "../time/grid";
import { asTicks, type Ticks } from "../time/ticks";
import { wrap } from "../time/ticks";
import { warpTicks } from "../time/warp";
import { SWING_RANGE, swingWarpOfBar } from "../timing/swing";

/** The lines of a bar, ascending, its end included; each with the coarsest grid that has it, its level, 0 for the coarsest. */
export interface Ladder {
  readonly barTicks: Ticks;
  readonly at: readonly number[];
  readonly levels: readonly number[];
  /** Lines of each level in a bar. */
  readonly counts: readonly number[];
  /** Distance of the lines of each level and all above it, ticks. */
  readonly steps: readonly number[];
}

/** Grids of which each has all lines of those before it. */
const RUNGS: { readonly [Kind in "straight" | "thirds"]: readonly LineGridName[] } = {
  straight: ["1/4", "1/8", "1/16", "1/32"],
  thirds: ["1/4", "1/8T", "1/16T"],
};

/**
 * @param grid the finest
 * @param ratio where the middle of a pair of its steps lies, 0.5..0.75; only 1/8 and 1/16 swing
 * @example ladder("1/8", 0.5, 1920).levels // [0, 1, 0, 1, 0]
 */
export function ladder(grid: LineGridName, ratio: number, barTicks: Ticks): Ladder {
  const rungs = RUNGS[isTriplet(grid) ? "thirds" : "straight"];
  const steps = rungs.slice(0, rungs.indexOf(grid) + 1).map((name) => GRID_TICKS[name]);
  const lines = gridLines(asTicks(GRID_TICKS[grid]), barTicks, barTicks);
  const levels = lines.map((line) => steps.findIndex((step) => line % step === 0));
  const warp = ratio > SWING_RANGE.min ? swingWarpOfBar({ ratio, unit: grid as "1/8" | "1/16" }, barTicks) : undefined;
  return {
    barTicks,
    at: [...lines.map((line) => warpTicks(warp, line)), barTicks],
    levels: [...levels, 0],
    counts: steps.map((_, level) => levels.filter((one) => one === level).length),
    steps,
  };
}

/** Strokes between the lines of a ladder: two entries a stroke, for the line before it (or where it is) and the one after. */
export interface BetweenLines {
  readonly count: number;
  readonly levels: Uint8Array;
  readonly lines: Float64Array;
  readonly missMs: Float64Array;
}

export function betweenLines(strokes: readonly Ticks[], ladder: Ladder, msPerTick: number): BetweenLines {
  const count = strokes.length;
  const between = { count, levels: new Uint8Array(2 * count), lines: new Float64Array(2 * count) };
  const missMs = new Float64Array(2 * count);
  for (let index = 0; index < count; index++) {
    const inBar = wrap(strokes[index]!, ladder.barTicks);
    const after = lineAfter(ladder, inBar);
    for (const side of [0, 1]) {
      const line = ladder.at[after - 1 + side]!;
      between.levels[2 * index + side] = ladder.levels[after - 1 + side]!;
      between.lines[2 * index + side] = strokes[index]! - inBar + line;
      missMs[2 * index + side] = Math.abs(inBar - line) * msPerTick;
    }
  }
  return { ...between, missMs };
}

/** The number of the first line behind a place in the bar. */
function lineAfter({ at }: Ladder, inBar: number): number {
  let low = 0;
  let high = at.length - 1;
  while (high - low > 1) {
    const middle = (low + high) >> 1;
    if (inBar >= at[middle]!) low = middle;
    else high = middle;
  }
  return high;
}
