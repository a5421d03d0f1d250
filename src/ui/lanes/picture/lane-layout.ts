import type { Beat, Hit, Pass, Pattern } from "@/core/beat/beat";
import { openPasses, patternLengthTicks } from "@/core/beat/beat";
import type { LaneFamily, LaneInfo } from "@/core/beat/lanes";
import { GRID_TICKS, gridLines } from "@/core/time/grid";
import { accentAt, barTicks, beatTicks, type Meter } from "@/core/time/meter";
import { secondsToTicks } from "@/core/time/tempo";
import { asSeconds, asTicks, type Ticks } from "@/core/time/ticks";
import { warpTicks } from "@/core/time/warp";
import { viewRange, type ViewRange } from "@/core/time/zoom";
import { feelGrid } from "@/core/timing/groove-lines";
import { remember, sameItems } from "@/core/remember";
import { resolvedHits } from "@/core/timing/resolve-timing";
import type { ResolvedHit, TimingView } from "@/core/timing/resolved-hit";
import { gridsOf } from "@/core/timing/quantize";
import { feelWarp } from "@/core/timing/feel-warp";

/** Room left and right of the loop, so that what lies on its edges is seen whole. */
export const EDGE_PX = 14;
/** Half the width of a line's pocket: what nobody calls early or late. */
const POCKET_SECONDS = asSeconds(0.01);

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

/** How wide a tick is. */
export function pxPerTick({ shownTicks, widthPx }: LaneScale): number {
  return (widthPx - 2 * EDGE_PX) / shownTicks;
}

export function toX(ticks: number, scale: LaneScale): number {
  return EDGE_PX + (ticks - scale.startTicks) * pxPerTick(scale);
}

/** The inverse of toX, kept within what is shown. */
export function toTicks(x: number, { startTicks, shownTicks, widthPx }: LaneScale): Ticks {
  return asTicks(startTicks + toShare(x, widthPx) * shownTicks);
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
  readonly lane: number;
  readonly family: LaneFamily;
  readonly x: number;
  /** Where it ends, if that is heard. */
  readonly endX?: number;
  /** Where it was played. */
  readonly playedX: number;
  /** Ratio 0..1 of the lane's height. */
  readonly size: number;
  /** Ratio 0..1, the newest pass strongest. */
  readonly opacity: number;
  readonly duplicateOnLine: boolean;
  /** What goes on behind the loop's end goes on at its start. */
  readonly tail?: HitMark;
}

/** A double trigger as it is drawn. */
export interface MaskedMark {
  readonly id: number;
  readonly lane: number;
  readonly x: number;
}

/** How the marks of hits are made. */
interface MarkFrame {
  readonly scale: LaneScale;
  readonly wide: number;
  /** By lane. */
  readonly families: readonly LaneFamily[];
  /** By pass. */
  readonly opacities: ReadonlyMap<number, number>;
}

/** The hits of a pattern that are shown, from the oldest pass to the newest. */
export function layoutHits(...asked: Parameters<HitLayouter>): readonly HitMark[] {
  return hitLayouter()(...asked);
}

type HitLayouter = (
  beat: Beat,
  lanes: readonly LaneInfo[],
  pattern: Pattern,
  scale: LaneScale,
  timingView?: TimingView,
) => readonly HitMark[];

/** The same, again and again: hits that are where they were keep their marks, so that a stroke makes one and not thousands. */
export function hitLayouter(): HitLayouter {
  let frameBefore: MarkFrame | undefined;
  let heardBefore: readonly ResolvedHit[] = [];
  let marksBefore: readonly (HitMark | undefined)[] = [];
  let shownBefore: readonly HitMark[] = [];
  return (beat, lanes, pattern, scale, timingView = "grooved") => {
    const frame = frameOf(lanes, pattern, scale);
    const known = frameBefore && sameFrame(frameBefore, frame);
    const heard = resolvedHits(pattern, beat.meter, timingView);
    const marks = known ? marksBefore.slice(0, heard.length) : [];
    let still = known && heard.length === heardBefore.length;
    for (let at = 0; at < heard.length; at++) {
      if (known && heard[at] === heardBefore[at]) continue;
      const before = marks[at];
      const mark = markOf(heard[at]!, frame);
      if (known && mark && before && sameMark(mark, before)) continue;
      if (mark !== before) still = false;
      marks[at] = mark;
    }
    [frameBefore, heardBefore, marksBefore] = [frame, heard, marks];
    if (still) return shownBefore;
    const shown: HitMark[] = [];
    for (const mark of marks) {
      if (mark) shown.push(mark);
      if (mark?.tail) shown.push(mark.tail);
    }
    shownBefore = shown;
    return shown;
  };
}

/** They stand for the same hit, and look the same. */
export function sameMark(a: HitMark, b: HitMark): boolean {
  if (a === b) return true;
  return (
    a.id === b.id &&
    a.lane === b.lane &&
    a.family === b.family &&
    a.x === b.x &&
    a.endX === b.endX &&
    a.playedX === b.playedX &&
    a.size === b.size &&
    a.opacity === b.opacity &&
    a.duplicateOnLine === b.duplicateOnLine
  );
}

function frameOf(lanes: readonly LaneInfo[], pattern: Pattern, scale: LaneScale): MarkFrame {
  const families: LaneFamily[] = [];
  for (const { id, family } of lanes) families[id] = family;
  const shown = openPasses(pattern);
  const opacities = new Map(
    shown.map(({ id }, index) => [id, Math.max(0.62, 1 - 0.13 * (shown.length - 1 - index))] as const),
  );
  return { scale, wide: pxPerTick(scale), families, opacities };
}

function sameFrame(a: MarkFrame, b: MarkFrame): boolean {
  return (
    sameItems(Object.values(a.scale), Object.values(b.scale)) &&
    sameItems(a.families, b.families) &&
    sameItems([...a.opacities].flat(), [...b.opacities].flat())
  );
}

function markOf(
  { hit, passId, ticks, lengthTicks: long, duplicateOnLine, velocity }: ResolvedHit,
  { scale: { startTicks, lengthTicks, widthPx }, wide, families, opacities }: MarkFrame,
): HitMark | undefined {
  const { id, lane, played } = hit;
  const round = ticks - played.ticks > lengthTicks / 2 ? lengthTicks : 0;
  const x = EDGE_PX + (ticks - startTicks) * wide;
  const playedX = EDGE_PX + (played.ticks + round - startTicks) * wide;
  const family = families[lane] ?? "percussion";
  const endX = family === "pitch" ? x + long * wide : undefined;
  if (Math.max(x, playedX, endX ?? x) < -EDGE_PX || Math.min(x, playedX) > widthPx + EDGE_PX) return undefined;
  const size = 0.42 + 0.58 * (velocity / 127);
  const mark = { id, lane, family, x, playedX, size, opacity: opacities.get(passId) ?? 1, duplicateOnLine };
  if (endX === undefined) return mark;
  if (ticks + long <= lengthTicks) return { ...mark, endX };
  const [startX, tailX] = [x - lengthTicks * wide, endX - lengthTicks * wide];
  return { ...mark, endX, tail: { ...mark, x: startX, playedX: startX, endX: tailX } };
}

const maskedOf = remember<Pass, readonly Hit[]>();

/** The double triggers that are shown, where they came in. */
export function layoutMasked(pattern: Pattern, scale: LaneScale): readonly MaskedMark[] {
  return openPasses(pattern).flatMap((pass) =>
    maskedOf(pass, [], () => pass.hits.filter(({ masked }) => masked))
      .filter(({ played }) => played.ticks < scale.lengthTicks)
      .map(({ id, lane, played }) => ({ id, lane, x: toX(played.ticks, scale) }))
      .filter(({ x }) => !isOutside(x, scale)),
  );
}

/** A line of the grid with its pocket. */
export interface LineMark {
  readonly ticks: Ticks;
  readonly x: number;
  readonly kind: "bar" | "group" | "beat" | "step";
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
  timingView: TimingView = "grooved",
): readonly LineMark[] {
  const bar = barTicks(beat.meter);
  const beatLength = beatTicks(beat.meter);
  const { lengthTicks } = scale;
  const warp = timingView === "grooved" ? feelWarp(pattern, beat.meter) : undefined;
  const wide = pxPerTick(scale);
  const grids = gridsOf(beat.inputQuantize, feelGrid(pattern)).map((name) => asTicks(GRID_TICKS[name]));
  const roomy = (step: Ticks) => step * wide >= MIN_LINE_PX;
  const steps = grids.length > 0 && grids.every(roomy) ? grids : [[beatLength, bar].find(roomy) ?? bar];
  const pocketPx = secondsToTicks(POCKET_SECONDS, beat.bpm) * wide;
  const all = new Set([beatLength, ...steps].filter(roomy).flatMap((step) => gridLines(step, bar, lengthTicks)));
  return [...all]
    .map((ticks) => ({
      ticks,
      x: toX(warpTicks(warp, ticks), scale),
      kind: kindOf(ticks, beat.meter),
      pocketPx,
    }))
    .filter(({ x }) => !isOutside(x, scale))
    .sort((a, b) => a.x - b.x);
}

/** In 7/8 felt as 2+2+3 the groups stand out from the eighths. */
function kindOf(ticks: Ticks, meter: Meter): LineMark["kind"] {
  const inBar = asTicks(ticks % barTicks(meter));
  const accent = accentAt(inBar, meter);
  if (accent === "bar" || accent === "group") return accent;
  return inBar % beatTicks(meter) === 0 ? "beat" : "step";
}
