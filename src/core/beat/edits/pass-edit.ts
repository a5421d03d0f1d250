import { MAX_ECHO_SPANS } from "../../limits";
import type { Beat, Hit, Pass, PatternRef } from "../beat";
import { sameQuantize } from "../quantize-settings";
import { editPass, editPattern, findPattern, numberHit } from "../edit";
import { plainName } from "../plain-name";

/**
 * @returns the name given, or the old one where it is blank
 * @example findPattern(renamePass(beat, patternRef, passId, "Hats"), patternRef).passes[0].name // "Hats"
 */
export function renamePass(beat: Beat, patternRef: PatternRef, passId: number, name: string): Beat {
  const plain = plainName(name);
  return plain === "" ? beat : editPass(beat, patternRef, passId, (pass) => ({ ...pass, name: plain }));
}

export function soloPass(beat: Beat, patternRef: PatternRef, passId: number, soloed: boolean): Beat {
  return editPass(beat, patternRef, passId, ({ soloed: _, ...pass }) => (soloed ? { ...pass, soloed } : pass));
}

/**
 * Puts a pass into the one below it in the stack. What is heard stays: hits whose correction would change take their old
 * settings along. The lowest pass stays where it is.
 */
export function mergePassDown(beat: Beat, patternRef: PatternRef, passId: number): Beat {
  return editPattern(beat, patternRef, (pattern) => {
    const index = pattern.passes.findIndex(({ id }) => id === passId);
    const above = pattern.passes[index];
    const below = pattern.passes[index - 1];
    if (!above || !below) return pattern;
    const same = sameQuantize(below.quantize, above.quantize);
    const moved = above.hits.map((hit) =>
      same || hit.quantize ? hit : numberHit({ ...hit, quantize: above.quantize }, hit.id),
    );
    const echoes = [...(below.echoes ?? []), ...(above.echoes ?? [])].slice(-MAX_ECHO_SPANS);
    const merged = { ...below, ...(echoes.length > 0 && { echoes }), hits: [...below.hits, ...moved] };
    return { ...pattern, passes: pattern.passes.toSpliced(index - 1, 2, merged) };
  });
}

/** Lets the double triggers of a pass sound after all. */
export function unmaskPass(beat: Beat, patternRef: PatternRef, passId: number): Beat {
  return editPass(beat, patternRef, passId, (pass) => ({
    ...pass,
    hits: pass.hits.map(({ masked: _, ...hit }) => numberHit(hit, hit.id)),
  }));
}

/**
 * Takes the hits of one pad out of all passes of a pattern; passes that are left without a hit go, too.
 * @example hitCount(clearPad(beat, patternRef, 8)) // 0
 */
export function clearPad(beat: Beat, patternRef: PatternRef, padId: number): Beat {
  return removeHits(beat, patternRef, (hit) => hit.lane === padId);
}

/** @example hitCount(clearPattern(beat, patternRef)) // 0 */
export function clearPattern(beat: Beat, patternRef: PatternRef): Beat {
  return editPattern(beat, patternRef, (pattern) =>
    pattern.passes.length === 0 ? pattern : { ...pattern, passes: [] },
  );
}

/**
 * Takes hits out of a pattern; passes that lose their last hit go, too. Without a hit to take, the beat stays the same.
 * @param keepPassId a pass that stays even when it is empty: the one being recorded
 * @example hitCount(removeHits(beat, patternRef, ({ played }) => played.ticks > 1000)) // 3
 */
export function removeHits(
  beat: Beat,
  patternRef: PatternRef,
  doomed: (hit: Hit, pass: Pass) => boolean,
  keepPassId?: number,
): Beat {
  const { passes } = findPattern(beat, patternRef);
  const left = passes.map((pass) => withoutHits(pass, doomed));
  if (left.every((pass, index) => pass === passes[index])) return beat;
  const kept = left.filter((pass, index) => pass === passes[index] || pass.hits.length > 0 || pass.id === keepPassId);
  return editPattern(beat, patternRef, (pattern) => ({ ...pattern, passes: kept }));
}

function withoutHits(pass: Pass, doomed: (hit: Hit, pass: Pass) => boolean): Pass {
  // Most passes have none of them, and are not copied.
  if (!pass.hits.some((hit) => doomed(hit, pass))) return pass;
  return { ...pass, hits: pass.hits.filter((hit) => !doomed(hit, pass)) };
}
