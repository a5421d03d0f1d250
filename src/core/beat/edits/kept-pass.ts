import { findLane } from "../lanes";
import type { Beat, Part, Pass, Pattern, PatternRef } from "../beat";
import { addHits, addPass, editPart, findPart } from "../edit";
import { firstPlace } from "../new-beat";
import { chooseTake } from "./takes";

/** A pass with all that is needed to put it back where it was played, even when its pattern is not there any more. */
export interface KeptPass {
  readonly place: PatternRef;
  /** Its pattern without what is in it. */
  readonly pattern: Omit<Pattern, "passes" | "points">;
  readonly pass: Pass;
}

/**
 * The passes with hits that a beat has and an earlier state of it has not, in their order.
 * @example newPasses(beat, newBeat({ id: "other", name: "Other" })).length // 1
 */
export function newPasses(beat: Beat, before: Beat): readonly KeptPass[] {
  return beat.parts.flatMap((part) => {
    const partBefore = before.parts.find(({ id }) => id === part.id);
    return part.patterns.flatMap((pattern) => {
      const known = partBefore?.patterns.find(({ id }) => id === pattern.id);
      if (known === pattern) return [];
      const ids = new Set(known?.passes.map(({ id }) => id));
      return pattern.passes
        .filter(({ id, hits }) => !ids.has(id) && hits.length > 0)
        .map((pass) => keptPass(part, pattern, pass));
    });
  });
}

/**
 * Puts passes back on top of their patterns, with new ids; a pattern that is gone comes back for them. Of takes the one that
 * was played last sounds.
 */
export function putBack(beat: Beat, kept: readonly KeptPass[]): Beat {
  const patternIds = new Map<number, number>();
  return kept.reduce((now, one) => {
    const { beat: ready, patternRef } = withPatternFor(now, one, patternIds);
    return withPass(ready, patternRef, one.pass);
  }, beat);
}

/**
 * A beat as it was saved, and of the passes that were kept beside it those that it has not got. Its ids go on after theirs,
 * so that a pass is known by its id as long as nobody has decided about it.
 */
export function unsettled(
  beat: Beat,
  kept: readonly KeptPass[],
): { readonly beat: Beat; readonly passes: readonly KeptPass[] } {
  const known = new Set(
    beat.parts.flatMap(({ patterns }) => patterns.flatMap(({ passes }) => passes.map(({ id }) => id))),
  );
  const passes = kept.filter(({ pass }) => !known.has(pass.id));
  const last = passes.reduce((highest, { pass }) => Math.max(highest, pass.id), 0);
  return { beat: last < beat.nextId ? beat : { ...beat, nextId: last + 1 }, passes };
}

/** How many hits are in them. */
export function keptHitCount(kept: readonly KeptPass[]): number {
  return kept.reduce((sum, { pass }) => sum + pass.hits.length, 0);
}

function keptPass(part: Part, { passes: _, points: __, ...pattern }: Pattern, pass: Pass): KeptPass {
  return { place: { partId: part.id, patternId: pattern.id }, pattern, pass };
}

/** @param patternIds what patterns that came back are known by now; is added to */
function withPatternFor(
  beat: Beat,
  { place: patternRef, pattern }: KeptPass,
  patternIds: Map<number, number>,
): { readonly beat: Beat; readonly patternRef: PatternRef } {
  const part = beat.parts.find(({ id }) => id === patternRef.partId);
  if (!part) return { beat, patternRef: firstPlace(beat) };
  const known = patternIds.get(patternRef.patternId) ?? patternRef.patternId;
  if (part.patterns.some(({ id }) => id === known)) return { beat, patternRef: { partId: part.id, patternId: known } };
  const patternId = beat.nextId;
  // What it was the alternate of may have gone, or have another one.
  const { alternateOf: _, ...body } = pattern;
  patternIds.set(patternRef.patternId, patternId);
  const added = editPart(beat, part.id, ({ patterns, ...rest }) => ({
    ...rest,
    patterns: [...patterns, { ...body, id: patternId, passes: [] }],
  }));
  return { beat: { ...added, nextId: patternId + 1 }, patternRef: { partId: part.id, patternId } };
}

function withPass(beat: Beat, patternRef: PatternRef, { hits, ...pass }: Pass): Beat {
  const part = findPart(beat, patternRef.partId);
  // The number of a group of takes must not be given to another one.
  const free = { ...beat, nextId: Math.max(beat.nextId, (pass.take ?? 0) + 1) };
  const added = addPass(free, patternRef, pass);
  const known = hits.filter(({ lane }) => findLane(part, lane));
  const filled = addHits(added.beat, patternRef, added.passId, known);
  return pass.take === undefined ? filled : chooseTake(filled, patternRef, added.passId);
}
