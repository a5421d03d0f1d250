import { MAX_IDS } from "../../limits";
import type { Beat, Pattern, Pass } from "../beat";
import { numberHit } from "../edit";

/** Gives everything in a beat small ids, in the same order, where a file brings very large ones; else the beat is the same. */
export function compactIds(beat: Beat): Beat {
  if (beat.nextId <= MAX_IDS / 2) return beat;
  const ids = sortedIds(beat);
  const now = new Map(ids.map((id, index) => [id, index + 1]));
  const parts = beat.parts.map((part) => ({
    ...part,
    id: now.get(part.id)!,
    ...(part.alsoPlays !== undefined && { alsoPlays: now.get(part.alsoPlays)! }),
    patterns: part.patterns.map((pattern) => compactPattern(pattern, now)),
  }));
  return { ...beat, parts, nextId: ids.length + 1 };
}

function sortedIds(beat: Beat): readonly number[] {
  const ids: number[] = [];
  for (const part of beat.parts) {
    ids.push(part.id);
    for (const { id, points = [], passes } of part.patterns) {
      ids.push(id);
      for (const point of points) ids.push(point.id);
      for (const pass of passes) {
        ids.push(pass.id, ...(pass.take === undefined ? [] : [pass.take]));
        for (const hit of pass.hits) ids.push(hit.id);
      }
    }
  }
  return [...new Set(ids)].sort((a, b) => a - b);
}

function compactPattern(pattern: Pattern, now: ReadonlyMap<number, number>): Pattern {
  const points = pattern.points?.map((point) => ({
    ...point,
    id: now.get(point.id)!,
    starts: Object.fromEntries(
      Object.entries(point.starts).flatMap(([id, start]) => {
        const next = now.get(Number(id));
        return next === undefined ? [] : [[next, start]];
      }),
    ),
  }));
  const passes = pattern.passes.map((pass): Pass => ({
    ...pass,
    id: now.get(pass.id)!,
    ...(pass.take !== undefined && { take: now.get(pass.take)! }),
    hits: pass.hits.map((hit) => numberHit(hit, now.get(hit.id)!)),
  }));
  const { id, alternateOf } = pattern;
  const pair = alternateOf !== undefined && { alternateOf: now.get(alternateOf)! };
  return { ...pattern, id: now.get(id)!, passes, ...(points && { points }), ...pair };
}
