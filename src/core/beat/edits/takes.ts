import type { Beat, Pass, Pattern, PatternRef } from "../beat";
import { editPattern, findPattern } from "../edit";

/** Tries at the same thing, oldest first; at most one of them sounds. */
export function takesOf({ passes }: Pattern, take: number): readonly Pass[] {
  return passes.filter((pass) => pass.take === take);
}

/** Lets one take sound and silences the others of its group. */
export function chooseTake(beat: Beat, patternRef: PatternRef, passId: number): Beat {
  return editPattern(beat, patternRef, (pattern) => {
    const group = pattern.passes.find(({ id }) => id === passId)?.take;
    if (group === undefined) return pattern;
    return {
      ...pattern,
      passes: pattern.passes.map((pass) => (pass.take === group ? { ...pass, muted: pass.id !== passId } : pass)),
    };
  });
}

/** Lets the take before (-1) or after (1) the one that sounds be heard, in the newest group of takes, round and round. */
export function stepTake(beat: Beat, patternRef: PatternRef, by: 1 | -1): Beat {
  const pattern = findPattern(beat, patternRef);
  const take = pattern.passes.findLast((pass) => pass.take !== undefined)?.take;
  if (take === undefined) return beat;
  const group = takesOf(pattern, take);
  const chosen = group.findIndex(({ muted }) => !muted);
  const next = chosen < 0 ? group.length - 1 : (chosen + by + group.length) % group.length;
  return chooseTake(beat, patternRef, group[next]!.id);
}

/** Makes a take an ordinary pass; the others of its group stay, silent, and can be kept as well. */
export function keepTake(beat: Beat, patternRef: PatternRef, passId: number): Beat {
  return editPattern(beat, patternRef, (pattern) => ({
    ...pattern,
    passes: pattern.passes.map((pass) => {
      if (pass.id !== passId) return pass;
      const { take: _, ...kept } = pass;
      return { ...kept, muted: false };
    }),
  }));
}

/** Removes the takes of a group that were not kept. */
export function dropTakes(beat: Beat, patternRef: PatternRef, take: number): Beat {
  return editPattern(beat, patternRef, (pattern) => ({
    ...pattern,
    passes: pattern.passes.filter((pass) => pass.take !== take),
  }));
}
