import { CoreError } from "../../core-error";
import type { Beat, Pattern, PatternRef, TimingPoint } from "../beat";
import type { Feel } from "../feel";
import { firstPlace } from "../new-beat";
import { editPart, findPart, findPattern, knownPart, numberHit, withoutUndefined } from "../edit";

/** Patterns of a part that the number keys reach. */
export const PATTERN_PLACES = 16;

export interface AddedPattern {
  readonly beat: Beat;
  readonly patternRef: PatternRef;
}

/**
 * An empty pattern at the end of the part, with the length and the feel of another.
 * @example addPattern(beat, patternRef).beat.parts[0].patterns.map(({ name }) => name) // ["Pattern 1", "Pattern 2"]
 * @throws CoreError "too-large" when all sixteen places are taken
 */
export function addPattern(beat: Beat, like: PatternRef): AddedPattern {
  const { bars, swing, groove, looseness, padAmounts } = findPattern(beat, like);
  const feel = { swing, groove, looseness, padAmounts } satisfies Record<keyof Feel, unknown>;
  return append(beat, like.partId, withoutUndefined<Pattern>({ bars, ...feel, passes: [] }), beat.nextId + 1);
}

/**
 * A copy with ids of its own at the end of the part.
 * @throws CoreError "too-large"
 * @example hitCount(duplicatePattern(beat, patternRef).beat) // 16
 */
export function duplicatePattern(beat: Beat, patternRef: PatternRef): AddedPattern {
  const { pattern, nextId } = copyPattern(findPattern(beat, patternRef), beat.nextId);
  const { id: _, name: __, alternateOf: ___, ...body } = pattern;
  return append(beat, patternRef.partId, body, nextId);
}

/** The same pattern with ids of its own, the first of which is given. @returns it, and the first id after its */
export function copyPattern(from: Pattern, id: number): { readonly pattern: Pattern; readonly nextId: number } {
  const { name, ...pattern } = from;
  let nextId = id + 1;
  const groups = new Map<number, number>();
  const hitIds = new Map<number, number>();
  const passes = pattern.passes.map((pass) => {
    const passId = nextId++;
    if (pass.take !== undefined && !groups.has(pass.take)) groups.set(pass.take, passId);
    const hits = pass.hits.map((hit) => {
      hitIds.set(hit.id, nextId);
      return numberHit(hit, nextId++);
    });
    const copy = { ...pass, id: passId, hits };
    return pass.take === undefined ? copy : { ...copy, take: groups.get(pass.take)! };
  });
  const points = pattern.points?.map((point) => ({
    ...point,
    id: nextId++,
    starts: renumbered(point.starts, hitIds),
  }));
  return { pattern: { ...pattern, id, name, passes, ...(points && { points }) }, nextId };
}

/** Starts by the ids that their hits have now; those of hits that are gone go, too. */
function renumbered(starts: TimingPoint["starts"], hitIds: ReadonlyMap<number, number>): TimingPoint["starts"] {
  return Object.fromEntries(
    Object.entries(starts).flatMap(([id, start]) => {
      const now = hitIds.get(Number(id));
      return now === undefined ? [] : [[now, start]];
    }),
  );
}

/**
 * Takes a pattern away with its alternate; the ones after it move up. The last one of a part stays.
 * @example removePattern(duplicatePattern(beat, patternRef).beat, patternRef).parts[0].patterns.length // 1
 */
export function removePattern(beat: Beat, { partId, patternId }: PatternRef): Beat {
  return editPart(beat, partId, (part) => {
    const rest = part.patterns.filter(({ id, alternateOf }) => id !== patternId && alternateOf !== patternId);
    return rest.length === 0 ? part : { ...part, patterns: rest };
  });
}

/**
 * A place that is there: the same one, else what it was the alternate of, else the last pattern of its part, else the first
 * pattern of all.
 * @param before the beat that had it
 */
export function existingPlace(beat: Beat, patternRef: PatternRef, before = beat): PatternRef {
  const part = knownPart(beat, patternRef.partId);
  if (part?.patterns.some(({ id }) => id === patternRef.patternId)) return patternRef;
  const gone = knownPart(before, patternRef.partId)?.patterns.find(({ id }) => id === patternRef.patternId);
  const next = part?.patterns.find(({ id }) => id === gone?.alternateOf) ?? part?.patterns.at(-1);
  return part && next ? { partId: part.id, patternId: next.id } : firstPlace(beat);
}

/**
 * The first pattern after a place that has no hits, and is no alternate.
 * @example nextEmptyPattern(beat, patternRef) // undefined
 */
export function nextEmptyPattern(beat: Beat, { partId, patternId }: PatternRef): PatternRef | undefined {
  const { patterns } = findPart(beat, partId);
  const after = patterns.slice(patterns.findIndex(({ id }) => id === patternId) + 1);
  const empty = after.find(
    ({ passes, alternateOf }) => alternateOf === undefined && passes.every(({ hits }) => hits.length === 0),
  );
  return empty && { partId, patternId: empty.id };
}

function append(beat: Beat, partId: number, body: Omit<Pattern, "id" | "name">, nextId: number): AddedPattern {
  const { patterns } = findPart(beat, partId);
  if (patterns.filter(({ alternateOf }) => alternateOf === undefined).length >= PATTERN_PLACES)
    throw new CoreError("too-large", `All ${PATTERN_PLACES} pattern places are taken; delete one to make room.`);
  const pattern: Pattern = { ...body, id: beat.nextId, name: freeName(patterns) };
  const next = editPart(beat, partId, (part) => ({ ...part, patterns: [...part.patterns, pattern] }));
  return { beat: { ...next, nextId }, patternRef: { partId, patternId: pattern.id } };
}

function freeName(patterns: readonly Pattern[]): string {
  const taken = patterns.map(({ name }) => Number(/^Pattern (\d+)$/.exec(name)?.[1] ?? 0));
  return `Pattern ${Math.max(0, ...taken) + 1}`;
}
