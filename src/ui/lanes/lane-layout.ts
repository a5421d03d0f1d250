import type { Beat, Pad, Pattern } from "@/core/beat/beat";
import { openPasses, patternLengthTicks } from "@/core/beat/beat";
import type { DrumFamily } from "@/core/drums";
import { DRUMS } from "@/core/drums";
import { gridLines, gridTicks } from "@/core/time/grid";
import { barTicks, beatTicks } from "@/core/time/meter";
import { secondsToTicks } from "@/core/time/tempo";
import type { Seconds, Ticks } from "@/core/time/ticks";
import { warpTicks } from "@/core/time/warp";
import { heardOnce } from "@/core/timing/heard";
import { feelWarp } from "@/core/timing/feel-warp";

/** Room left and right of the loop, so that what lies on its edges is seen whole. */
export const EDGE_PX = 14;
/** Half the width of a line's pocket: what nobody calls early or late. */
const POCKET_SECONDS = 0.01 as Seconds;

/** Lines closer than this are left out. */
const MIN_LINE_PX = 6;

export interface LaneScale {
  readonly lengthTicks: Ticks;
  readonly widthPx: number;
}

export function toX(ticks: number, { lengthTicks, widthPx }: LaneScale): number {
  return EDGE_PX + (ticks / lengthTicks) * (widthPx - 2 * EDGE_PX);
}

/** The inverse of toX, kept within the pattern. */
export function toTicks(x: number, { lengthTicks, widthPx }: LaneScale): Ticks {
  const share = (x - EDGE_PX) / Math.max(1, widthPx - 2 * EDGE_PX);
  return (Math.max(0, Math.min(1, share)) * lengthTicks) as Ticks;
}

/** A hit as it is drawn. */
export interface HitMark {
  readonly id: number;
  readonly padId: number;
  readonly family: DrumFamily;
  readonly x: number;
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

/** All hits of a pattern that a loop of its length has, from the oldest pass to the newest. */
export function layoutHits(beat: Beat, pads: readonly Pad[], pattern: Pattern, widthPx: number): readonly HitMark[] {
  const scale = { lengthTicks: patternLengthTicks(pattern, beat.meter), widthPx };
  const familyOf = new Map(pads.map(({ id, drum }) => [id, DRUMS[drum].family]));
  const shown = openPasses(pattern);
  const age = new Map(shown.map(({ id }, index) => [id, shown.length - 1 - index]));
  return heardOnce(pattern, beat.meter).map(({ hit, passId, ticks, covered }) => ({
    id: hit.id,
    padId: hit.pad,
    family: familyOf.get(hit.pad) ?? "percussion",
    x: toX(ticks, scale),
    playedX: toX(
      ticks - hit.playedTicks > scale.lengthTicks / 2 ? hit.playedTicks + scale.lengthTicks : hit.playedTicks,
      scale,
    ),
    size: 0.42 + 0.58 * (hit.velocity / 127),
    strength: Math.max(0.62, 1 - 0.13 * (age.get(passId) ?? 0)),
    covered,
  }));
}

/** The double triggers of a pattern, where they came in. */
export function layoutMasked(beat: Beat, pattern: Pattern, widthPx: number): readonly MaskedMark[] {
  const scale = { lengthTicks: patternLengthTicks(pattern, beat.meter), widthPx };
  return openPasses(pattern).flatMap(({ hits }) =>
    hits
      .filter(({ masked, playedTicks }) => masked && playedTicks < scale.lengthTicks)
      .map(({ id, pad, playedTicks }) => ({ id, padId: pad, x: toX(playedTicks, scale) })),
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
 * The lines of the input grid where the pattern's swing puts them, or the beats where the grid is off; fewer where they
 * would lie too close to tell apart.
 */
export function layoutLines(beat: Beat, pattern: Pattern, widthPx: number): readonly LineMark[] {
  const bar = barTicks(beat.meter);
  const beatLength = beatTicks(beat.meter);
  const lengthTicks = patternLengthTicks(pattern, beat.meter);
  const scale = { lengthTicks, widthPx };
  const warp = feelWarp(pattern, beat.meter);
  const pxPerTick = (widthPx - 2 * EDGE_PX) / lengthTicks;
  const wanted = [gridTicks(beat.inputQuantize.grid) ?? beatLength, beatLength, bar];
  const step = wanted.find((ticks) => ticks * pxPerTick >= MIN_LINE_PX) ?? bar;
  const pocketPx = secondsToTicks(POCKET_SECONDS, beat.bpm) * pxPerTick;
  return gridLines(step, bar, lengthTicks).map((ticks) => ({
    ticks,
    x: toX(warpTicks(warp, ticks), scale),
    kind: ticks % bar === 0 ? "bar" : (ticks % bar) % beatLength === 0 ? "beat" : "step",
    pocketPx,
  }));
}
