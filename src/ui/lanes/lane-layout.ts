import type { Beat, Pattern } from "@/core/beat/beat";
import { openPasses, patternLengthTicks } from "@/core/beat/beat";
import type { LaneFamily, LaneInfo } from "@/core/beat/lanes";
import { GRID_TICKS, gridLines } from "@/core/time/grid";
import { barTicks, beatTicks, type Meter } from "@/core/time/meter";
import { secondsToTicks } from "@/core/time/tempo";
import type { Seconds, Ticks } from "@/core/time/ticks";
import { warpTicks } from "@/core/time/warp";
import { viewRange, type ViewRange } from "@/core/time/zoom";
import { feelGrid } from "@/core/timing/groove-lines";
import { cachedHeard, type Hearing } from "@/core/timing/heard";
import { gridsOf } from "@/core/timing/quantize";
import { feelWarp } from "@/core/timing/feel-warp";

/** Room left and right of the loop, so that what lies on its edges is seen whole. */
export const EDGE_PX = 14;
/** Half the width of a line's pocket: what nobody calls early or late. */
const POCKET_SECONDS = 0.01 as Seconds;

/** Lines closer than this are left out. */
const MIN_LINE_PX = 6;

/** What of a pattern is shown, and on how many pixels. */
export interface LaneScale extends ViewRange {
  readonly widthPx: number;
}

/** A whole pattern on so many pixels. */
export function wholeScale(pattern: Pattern, meter: Meter, widthPx: number): LaneScale {
  return { ...viewRange(undefined, patternLengthTicks(pattern, meter)), widthPx };
}

function pxPerTick({ shownTicks, widthPx }: LaneScale): number {
  return (widthPx - 2 * EDGE_PX) / shownTicks;
}

export function toX(ticks: number, scale: LaneScale): number {
  return EDGE_PX + (ticks - scale.startTicks) * pxPerTick(scale);
}

/** The inverse of toX, kept within what is shown. */
export function toTicks(x: number, { startTicks, shownTicks, widthPx }: LaneScale): Ticks {
  return (startTicks + toShare(x, widthPx) * shownTicks) as Ticks;
}

/** Where a place lies in what is shown: ratio 0..1. */
export function toShare(x: number, widthPx: number): number {
  return Math.max(0, Math.min(1, (x - EDGE_PX) / Math.max(1, widthPx - 2 * EDGE_PX)));
}

/** True where nothing of a mark at this place can be seen. */
function isOutside(x: number, { widthPx }: LaneScale): boolean {
  return x < -EDGE_PX || x > widthPx + EDGE_PX;
}

/** A hit as it is drawn. */
export interface HitMark {
  readonly id: number;
  readonly padId: number;
  readonly family: LaneFamily;
  readonly x: number;
  /** Where it ends, if that is heard. */
  readonly endX?: number;
  /** Where it was played. */
  readonly playedX: number;
  /** Ratio 0..1 of the lane's height. */
  readonly size: number;
  /** Ratio 0..1, the newest pass strongest. */
  readonly strength: number;
  readonly covered: boolean;
}

/** A double trigger as it is drawn. */
export interface MaskedMark {
  readonly id: number;
  readonly padId: number;
  readonly x: number;
}

/** The hits of a pattern that are shown, from the oldest pass to the newest. */
export function layoutHits(
  beat: Beat,
  lanes: readonly LaneInfo[],
  pattern: Pattern,
  scale: LaneScale,
  hearing: Hearing = "grooved",
): readonly HitMark[] {
  // By number and not by map, and the way to pixels worked out once: there may be ten thousand hits.
  const families: LaneFamily[] = [];
  for (const { id, family } of lanes) families[id] = family;
  const strengths: number[] = [];
  const shown = openPasses(pattern);
  shown.forEach(({ id }, index) => (strengths[id] = Math.max(0.62, 1 - 0.13 * (shown.length - 1 - index))));
  const { startTicks, lengthTicks, widthPx } = scale;
  const wide = pxPerTick(scale);
  const rightPx = widthPx + EDGE_PX;
  const marks: HitMark[] = [];
  for (const { hit, passId, ticks, lengthTicks: long, covered, velocity } of cachedHeard(
    pattern,
    beat.meter,
    hearing,
  )) {
    const { id, lane: padId, played } = hit;
    const round = ticks - played.ticks > lengthTicks / 2 ? lengthTicks : 0;
    const x = EDGE_PX + (ticks - startTicks) * wide;
    const playedX = EDGE_PX + (played.ticks + round - startTicks) * wide;
    const family = families[padId] ?? "percussion";
    const endX = family === "pitch" ? x + long * wide : undefined;
    if (Math.max(x, playedX, endX ?? x) < -EDGE_PX || Math.min(x, playedX) > rightPx) continue;
    const size = 0.42 + 0.58 * (velocity / 127);
    const strength = strengths[passId] ?? 1;
    marks.push({ id, padId, family, x, playedX, size, strength, covered, ...(endX !== undefined && { endX }) });
    // What goes on behind the loop's end goes on at its start.
    if (endX !== undefined && ticks + long > lengthTicks)
      marks.push({
        id,
        padId,
        family,
        x: x - lengthTicks * wide,
        playedX: x - lengthTicks * wide,
        size,
        strength,
        covered,
        endX: endX - lengthTicks * wide,
      });
  }
  return marks;
}

/** The double triggers that are shown, where they came in. */
export function layoutMasked(pattern: Pattern, scale: LaneScale): readonly MaskedMark[] {
  return openPasses(pattern).flatMap(({ hits }) =>
    hits
      .filter(({ masked, played }) => masked && played.ticks < scale.lengthTicks)
      .map(({ id, lane, played }) => ({ id, padId: lane, x: toX(played.ticks, scale) }))
      .filter(({ x }) => !isOutside(x, scale)),
  );
}

/** A line of the grid with its pocket. */
export interface LineMark {
  readonly ticks: Ticks;
  readonly x: number;
  readonly kind: "bar" | "beat" | "step";
  readonly pocketPx: number;
}

/**
 * The lines of the input grid where the pattern's swing and groove put them, or the beats where the grid is off; fewer
 * where they would lie too close to tell apart. Those of a mix are the first grid's and the others'.
 */
export function layoutLines(
  beat: Beat,
  pattern: Pattern,
  scale: LaneScale,
  hearing: Hearing = "grooved",
): readonly LineMark[] {
  const bar = barTicks(beat.meter);
  const beatLength = beatTicks(beat.meter);
  const { lengthTicks } = scale;
  const warp = hearing === "grooved" ? feelWarp(pattern, beat.meter) : undefined;
  const wide = pxPerTick(scale);
  const grids = gridsOf(beat.inputQuantize, feelGrid(pattern)).map((name) => GRID_TICKS[name] as Ticks);
  const roomy = (step: Ticks) => step * wide >= MIN_LINE_PX;
  const steps = grids.length > 0 && grids.every(roomy) ? grids : [[beatLength, bar].find(roomy) ?? bar];
  const pocketPx = secondsToTicks(POCKET_SECONDS, beat.bpm) * wide;
  const all = new Set([beatLength, ...steps].filter(roomy).flatMap((step) => gridLines(step, bar, lengthTicks)));
  return [...all]
    .map((ticks) => ({
      ticks,
      x: toX(warpTicks(warp, ticks), scale),
      kind: kindOf(ticks, bar, beatLength),
      pocketPx,
    }))
    .filter(({ x }) => !isOutside(x, scale))
    .sort((a, b) => a.x - b.x);
}

function kindOf(ticks: Ticks, bar: Ticks, beatLength: Ticks): LineMark["kind"] {
  return ticks % bar === 0 ? "bar" : (ticks % bar) % beatLength === 0 ? "beat" : "step";
}
