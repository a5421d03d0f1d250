import type { Beat, Lane, Part, Pattern, PatternRef } from "../beat";
import { editPart, editPattern, findPart, findPattern, withoutUndefined } from "../edit";
import { copyPattern, type AddedPattern } from "./pattern-edit";

/** A place of the number keys: a pattern, and beside it its alternate where it has one. */
export interface PatternPlace {
  readonly original: Pattern;
  readonly alternate?: Pattern;
}

/** The places of a part in the order of the number keys. @example patternPlaces(part).length // 1 */
export function patternPlaces({ patterns }: Pick<Part, "patterns">): readonly PatternPlace[] {
  return patterns
    .filter(({ alternateOf }) => alternateOf === undefined)
    .map((original) => {
      const alternate = patterns.find(({ alternateOf }) => alternateOf === original.id);
      return { original, ...(alternate && { alternate }) };
    });
}

/**
 * The other one of a pattern and its alternate; undefined where it stands alone.
 * @example otherOfPair(part, pattern) // undefined
 */
export function otherOfPair({ patterns }: Pick<Part, "patterns">, pattern: Pattern): Pattern | undefined {
  return patterns.find(({ id, alternateOf }) => alternateOf === pattern.id || id === pattern.alternateOf);
}

/**
 * A copy beside a pattern that stands alone, to be made different; it takes no place of its own.
 * @returns where it is; where there is one already, that one and the same beat
 * @example addAlternate(beat, patternRef).beat.parts[0].patterns.length // 2
 */
export function addAlternate(beat: Beat, patternRef: PatternRef): AddedPattern {
  const { partId } = patternRef;
  const part = findPart(beat, partId);
  const original = findPattern(beat, patternRef);
  const known = otherOfPair(part, original);
  if (known) return { beat, patternRef: { partId, patternId: known.id } };
  const { pattern, nextId } = copyPattern(original, beat.nextId);
  const alternate = { ...pattern, name: `${original.name.slice(0, 100)}, alternate`, alternateOf: original.id };
  const behind = part.patterns.indexOf(original) + 1;
  const next = editPart(beat, partId, (now) => ({ ...now, patterns: now.patterns.toSpliced(behind, 0, alternate) }));
  return { beat: { ...next, nextId }, patternRef: { partId, patternId: alternate.id } };
}

/** Of a pattern and its alternate one stays, at their place and under the name of the original; the other one goes. */
export function keepOfPair(beat: Beat, patternRef: PatternRef): Beat {
  const kept = findPattern(beat, patternRef);
  const other = otherOfPair(findPart(beat, patternRef.partId), kept);
  if (!other) return beat;
  const { name } = kept.alternateOf === undefined ? kept : other;
  return editPart(beat, patternRef.partId, (part) => ({
    ...part,
    patterns: part.patterns
      .filter(({ id }) => id !== other.id)
      .map((one) => (one.id === kept.id ? withoutUndefined<Pattern>({ ...one, name, alternateOf: undefined }) : one)),
  }));
}

/**
 * Lets lanes be silent in one pattern, or sound again; what lies on them stays.
 * @example findPattern(setSilentLanes(beat, patternRef, [8]), patternRef).silentLanes // [8]
 */
export function setSilentLanes(beat: Beat, patternRef: PatternRef, lanes: readonly Lane[]): Beat {
  const sorted = [...new Set(lanes)].sort((a, b) => a - b);
  const silentLanes = sorted.length > 0 ? sorted : undefined;
  return editPattern(beat, patternRef, (pattern) => withoutUndefined({ ...pattern, silentLanes }));
}
