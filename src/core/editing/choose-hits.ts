import type { Beat, Hit, Lane, PatternRef } from "../beat/beat";
import { openPasses, patternLengthTicks } from "../beat/beat";
import { findPattern } from "../beat/edit";
import { barTicks } from "../time/meter";
import { asTicks, type Ticks } from "../time/ticks";
import { resolvedHits } from "../timing/resolve-timing";
import { isBeyond, levelOf, type ResolvedHit } from "../timing/resolved-hit";
import { editLines, nearestLine } from "./edit-lines";
import { hitOffsets } from "./hit-offset";
import type { HitIds } from "./hand-change";

/** What of a pattern's hits is meant; what is left out is any. */
export interface HitsWhere {
  readonly lanes?: ReadonlySet<Lane>;
  /** Velocities up to this, itself included. */
  readonly upTo?: number;
  /** Velocities from this on, itself included. */
  readonly from?: number;
  /** Further from their line than so many ms. */
  readonly offByMs?: number;
  /** Which pulled to a line, or on none. */
  readonly grid?: "on" | "off";
  readonly passId?: number;
  /** Only double triggers, or only what is covered by a louder hit. */
  readonly silent?: "double" | "covered";
}

/** Ids of the hits that are meant, in the order of their passes. */
export function hitsWhere(beat: Beat, patternRef: PatternRef, where: HitsWhere): readonly number[] {
  const { lanes, upTo = 127, from = 1, offByMs, grid, passId, silent } = where;
  const pattern = findPattern(beat, patternRef);
  const isOf = (hit: Hit, pass: number) =>
    (!lanes || lanes.has(hit.lane)) &&
    levelOf(hit) <= upTo &&
    levelOf(hit) >= from &&
    (passId === undefined || passId === pass);
  if (silent === "double")
    return doubles(beat, patternRef)
      .filter(([hit, pass]) => isOf(hit, pass))
      .map(([{ id }]) => id);
  const { ms: offset } = hitOffsets(beat, pattern);
  const lines = editLines(pattern, beat.meter, beat.inputQuantize);
  const isOn = ({ straightTicks }: ResolvedHit) => lines.at.includes(asTicks(Math.round(straightTicks)));
  return resolvedHits(pattern, beat.meter)
    .filter(
      (heard) =>
        isOf(heard.hit, heard.passId) &&
        (offByMs === undefined || Math.abs(offset(heard)) > offByMs) &&
        (grid === undefined || isOn(heard) === (grid === "on")) &&
        (silent === undefined || heard.duplicateOnLine),
    )
    .map(({ hit }) => hit.id);
}

/** The double triggers of a pattern, each with its pass. */
function doubles(beat: Beat, patternRef: PatternRef): readonly (readonly [Hit, number])[] {
  const pattern = findPattern(beat, patternRef);
  const length = patternLengthTicks(pattern, beat.meter);
  return openPasses(pattern).flatMap(({ id, hits }) =>
    hits.filter((hit) => hit.masked && !isBeyond(hit, length)).map((hit) => [hit, id] as const),
  );
}

/** All that is heard or covered. @example allHits(beat, patternRef).length // 8 */
export function allHits(beat: Beat, patternRef: PatternRef): readonly number[] {
  return hitsWhere(beat, patternRef, {});
}

/**
 * What lies on the line of the input grid that is nearest to a place, over all lanes.
 * @example hitsOnLine(beat, patternRef, 960).length // 1
 */
export function hitsOnLine(beat: Beat, patternRef: PatternRef, ticks: Ticks): readonly number[] {
  const pattern = findPattern(beat, patternRef);
  const lines = editLines(pattern, beat.meter, beat.inputQuantize);
  const line = nearestLine(lines, ticks);
  return idsOf(resolvedHits(pattern, beat.meter).filter((one) => nearestLine(lines, one.straightTicks) === line));
}

/** @param bar from 0; what is early on its downbeat belongs to it */
export function hitsInBar(beat: Beat, patternRef: PatternRef, bar: number): readonly number[] {
  const pattern = findPattern(beat, patternRef);
  const lines = editLines(pattern, beat.meter, beat.inputQuantize);
  const barOf = ({ straightTicks }: ResolvedHit) =>
    Math.floor(nearestLine(lines, straightTicks) / barTicks(beat.meter));
  return idsOf(resolvedHits(pattern, beat.meter).filter((one) => barOf(one) === bar));
}

/** All that is not chosen. @example invertHits(beat, patternRef, ids).length // 0 */
export function invertHits(beat: Beat, patternRef: PatternRef, ids: HitIds): readonly number[] {
  return allHits(beat, patternRef).filter((id) => !ids.has(id));
}

/** And the hits beside them, on either side in their lanes. */
export function growHits(beat: Beat, patternRef: PatternRef, ids: HitIds): readonly number[] {
  const inTime = resolvedHits(findPattern(beat, patternRef), beat.meter).toSorted((a, b) => a.ticks - b.ticks);
  const grown = new Set(ids);
  for (const lane of new Set(inTime.map(({ hit }) => hit.lane))) {
    const row = inTime.filter(({ hit }) => hit.lane === lane);
    row.forEach(({ hit }, index) => {
      if (!ids.has(hit.id)) return;
      for (const beside of [row[index - 1], row[index + 1]]) if (beside) grown.add(beside.hit.id);
    });
  }
  return [...grown];
}

/** What one may look for, hit by hit. */
export const LOOKED_FOR = ["early", "late", "soft", "covered", "double"] as const;
export type LookedFor = (typeof LOOKED_FOR)[number];

/** Nobody hears less (common practice, no source). */
const NOTICED_MS = 10;
/** Of the loudest hit of the lane. */
const SOFT_SHARE = 0.5;

/** The next hit of a kind in time, round the loop. @param after the id of the hit to go on from */
export function nextHit(
  beat: Beat,
  patternRef: PatternRef,
  kind: LookedFor,
  after: number | undefined,
): number | undefined {
  const pattern = findPattern(beat, patternRef);
  const placed = new Map(resolvedHits(pattern, beat.meter).map(({ hit, ticks }) => [hit.id, ticks as number]));
  for (const [hit] of doubles(beat, patternRef)) placed.set(hit.id, hit.played.ticks);
  const meant = lookedFor(beat, patternRef, kind).toSorted((a, b) => placed.get(a)! - placed.get(b)! || a - b);
  const from = after === undefined ? -Infinity : (placed.get(after) ?? -Infinity);
  const isAfter = (id: number) =>
    placed.get(id)! > from || (placed.get(id) === from && after !== undefined && id > after);
  return meant.find(isAfter) ?? meant[0];
}

function lookedFor(beat: Beat, patternRef: PatternRef, kind: LookedFor): readonly number[] {
  if (kind === "double" || kind === "covered") return hitsWhere(beat, patternRef, { silent: kind });
  const pattern = findPattern(beat, patternRef);
  const heard = resolvedHits(pattern, beat.meter);
  if (kind === "soft") {
    const loudest = new Map<Lane, number>();
    for (const { hit } of heard) loudest.set(hit.lane, Math.max(loudest.get(hit.lane) ?? 0, levelOf(hit)));
    return idsOf(heard.filter(({ hit }) => levelOf(hit) <= SOFT_SHARE * loudest.get(hit.lane)!));
  }
  const { ms: offset } = hitOffsets(beat, pattern);
  return idsOf(heard.filter((one) => (kind === "early" ? -offset(one) : offset(one)) > NOTICED_MS));
}

function idsOf(hits: readonly ResolvedHit[]): readonly number[] {
  return hits.map(({ hit }) => hit.id);
}
