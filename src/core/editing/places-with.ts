import type { Beat, PatternRef } from "../beat/beat";
import { findPart, findPattern } from "../beat/edit";
import type { HitIds } from "./hand-change";

/**
 * The patterns of a part in which some hits lie.
 * @param shown is looked at first, and is what there is for no hits
 * @example placesWith(beat, patternRef, ids) // [{ partId: 1, patternId: 2 }]
 */
export function placesWith(beat: Beat, shown: PatternRef, ids: HitIds): readonly PatternRef[] {
  const countIn = (patternRef: PatternRef) =>
    findPattern(beat, patternRef).passes.reduce(
      (sum, { hits }) => sum + hits.filter(({ id }) => ids.has(id)).length,
      0,
    );
  if (ids.size === 0 || countIn(shown) === ids.size) return [shown];
  const { partId } = shown;
  const all = findPart(beat, partId).patterns.map(({ id }) => ({ partId, patternId: id }));
  return all.filter((place) => countIn(place) > 0);
}
