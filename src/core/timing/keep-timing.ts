import { pointStarts, type Beat, type Hit, type Part, type Pass, type Pattern, type HitOverride } from "../beat/beat";
import type { PatternRef, TimingPoint } from "../beat/beat";
import { editPattern, findPart, findPattern, numberHit } from "../beat/edit";
import { findLane } from "../beat/lanes";
import { MAX_POINT_STARTS } from "../limits";
import { barTicks, type Meter } from "../time/meter";
import { resolveTiming } from "./resolve-timing";
import { startOf } from "./resolved-hit";
import { plainName } from "../beat/plain-name";

/** Older points make room for newer ones. */
export const MAX_POINTS = 32;

/**
 * Makes what is heard the new start: every hit begins from where it sounds, at the level it sounds, with nothing on top.
 * The played times stay. The state is a point to come back to.
 * @example findPattern(keepTiming(beat, patternRef, "Before"), patternRef).points.length // 1
 */
export function keepTiming(beat: Beat, patternRef: PatternRef, name: string): Beat {
  const pattern = findPattern(beat, patternRef);
  const starts = heardStarts(pattern, beat.meter);
  const point: TimingPoint = { id: beat.nextId, name: plainName(name) || "Kept", starts };
  const points = fittingPoints([...(pattern.points ?? []), point], beat, pattern);
  return {
    ...editPattern(beat, patternRef, (current) => ({ ...startFrom(current, (hit) => starts[hit.id]), points })),
    nextId: beat.nextId + 1,
  };
}

/** Goes back to a point, exactly; hits that were recorded since keep their own timing. Without that point nothing changes. */
export function returnToPoint(beat: Beat, patternRef: PatternRef, pointId: number): Beat {
  const point = findPattern(beat, patternRef).points?.find(({ id }) => id === pointId);
  if (!point) return beat;
  return editPattern(beat, patternRef, (pattern) => startFrom(pattern, ({ id }) => point.starts[id]));
}

/** Goes back to what was played: every hit where and as hard as the stick fell, and on the lane that was struck. */
export function returnToPlayed(beat: Beat, patternRef: PatternRef): Beat {
  const part = findPart(beat, patternRef.partId);
  return editPattern(beat, patternRef, (pattern) => {
    const passes = pattern.passes.map((pass) => ({ ...pass, hits: pass.hits.map((hit) => onStruckLane(hit, part)) }));
    return startFrom({ ...pattern, passes }, ({ played: { ticks, velocity } }) => ({ ticks, velocity, by: "keep" }));
  });
}

/** A hit on the lane that was struck, if the part still has it. */
export function onStruckLane(hit: Hit, part: Part): Hit {
  const { struckLane, ...rest } = hit;
  if (struckLane === undefined || !findLane(part, struckLane)) return hit;
  return numberHit({ ...rest, lane: struckLane }, hit.id);
}

/** The newest points, as many as a pattern, and all of a beat's together, may have; the newest one is always among them. */
function fittingPoints(points: readonly TimingPoint[], beat: Beat, pattern: Pattern): readonly TimingPoint[] {
  const others = beat.parts.flatMap(({ patterns }) => patterns.filter((other) => other !== pattern));
  let room = MAX_POINT_STARTS - others.reduce((sum, other) => sum + pointStarts(other), 0);
  const fitting = points
    .slice(-MAX_POINTS)
    .toReversed()
    .filter(({ starts }) => (room -= Object.keys(starts).length) >= 0);
  return fitting.reverse();
}

/** Lets hits start from elsewhere, and takes everything off that would move them on. */
function startFrom(pattern: Pattern, startOf: (hit: Hit) => HitOverride | undefined): Pattern {
  const { swing: _, groove: __, looseness: ___, ...bare } = pattern;
  return {
    ...bare,
    passes: pattern.passes.map((pass) => {
      const starts = pass.hits.map(startOf);
      if (starts.every((start) => start === undefined)) return pass;
      const hits = pass.hits.map((hit, index) => restarted(hit, starts[index]));
      return { ...pass, quantize: { grid: "off", strength: 1, reach: 1 } as const, hits };
    }),
  };
}

function restarted(hit: Hit, start: HitOverride | undefined): Hit {
  if (!start) return hit;
  const { quantize: _, start: __, ...bare } = hit;
  const asPlayed =
    start.ticks === (hit.played.straightTicks ?? hit.played.ticks) &&
    start.velocity === hit.played.velocity &&
    start.lengthTicks === undefined;
  return numberHit(asPlayed && !start.covered ? bare : { ...bare, start }, hit.id);
}

/** Where every hit starts from, or would if it sounded. */
function heardStarts(pattern: Pattern, meter: Meter): Record<number, HitOverride> {
  const starts = soundingStarts(pattern, meter);
  // Double triggers, and what lies beyond the loop's end, are silent, but may sound some day.
  const last = pattern.passes
    .flatMap(({ hits }) => hits)
    .reduce((end, hit) => Math.max(end, startOf(hit), hit.played.ticks), 0);
  const bars = Math.max(pattern.bars, Math.floor(last / barTicks(meter)) + 1);
  const passes = pattern.passes.map((pass) => ({
    ...pass,
    hits: pass.hits.map(({ masked: _, ...hit }) => numberHit(hit, hit.id)),
  }));
  for (const [id, start] of Object.entries(soundingStarts({ ...pattern, bars, passes }, meter)))
    starts[Number(id)] ??= withoutCover(start);
  return starts;
}

function withoutCover({ covered: _, ...start }: HitOverride): HitOverride {
  return start;
}

function soundingStarts(pattern: Pattern, meter: Meter): Record<number, HitOverride> {
  const open = ({ soloed: _, ...pass }: Pass): Pass => ({ ...pass, muted: false });
  const starts: Record<number, HitOverride> = {};
  // What is muted now takes no place from what is heard, so it is worked out on its own.
  const muted = pattern.passes.filter((pass) => pass.muted).map((pass) => [open(pass)]);
  const sounding = pattern.passes.filter((pass) => !pass.muted).map(open);
  for (const passes of [sounding, ...muted]) {
    for (const { hit, ticks, velocity, lengthTicks, duplicateOnLine } of resolveTiming({ ...pattern, passes }, meter)) {
      const long = lengthTicks !== hit.lengthTicks && { lengthTicks };
      starts[hit.id] = { ticks, velocity, ...long, ...(duplicateOnLine && { covered: duplicateOnLine }), by: "keep" };
    }
  }
  return starts;
}
