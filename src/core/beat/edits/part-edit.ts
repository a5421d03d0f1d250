import { CoreError } from "../../core-error";
import { MAX_PARTS } from "../../limits";
import type { Beat, Part, Pattern, PatternRef } from "../beat";
import { findPart, findPattern, withoutUndefined } from "../edit";
import { VOICES, type VoiceId } from "../../instruments";
import { firstPlace, kitPart, tonalPart, type NewPart } from "../new-beat";
import { copyPattern } from "./pattern-edit";

export interface AddedPart {
  readonly beat: Beat;
  readonly partId: number;
}

/**
 * A kit part at the end, with one empty pattern that is as long as another one and swings and grooves like it: hits of two parts at
 * one place sound together.
 * @param like the first pattern of the beat where it is left out
 * @example addKitPart(beat).beat.parts.length // 2
 * @throws CoreError "too-large" when the beat has all the parts that it may have
 */
export function addKitPart(beat: Beat, like = firstPlace(beat)): AddedPart {
  return appendLike(beat, like, kitPart({ ...newPart(beat, like), name: freeName(beat, "Kit") }));
}

/**
 * A tonal part in the same way, with a voice, which it is named after.
 * @throws CoreError "too-large"
 * @example addTonalPart(beat, "keel").beat.parts[1].kind // "tonal"
 */
export function addTonalPart(beat: Beat, voiceId: VoiceId, like = firstPlace(beat)): AddedPart {
  const name = freeName(beat, VOICES[voiceId].name);
  return appendLike(beat, like, tonalPart({ ...newPart(beat, like), name, voiceId }));
}

function newPart(beat: Beat, like: PatternRef): Omit<NewPart, "name"> {
  const { nextId: partId } = beat;
  return { partId, patternId: partId + 1, bars: findPattern(beat, like).bars };
}

function appendLike(beat: Beat, like: PatternRef, part: Part): AddedPart {
  const { swing, groove } = findPattern(beat, like);
  const patterns = part.patterns.map((pattern) => withoutUndefined<Pattern>({ ...pattern, swing, groove }));
  return append(beat, { ...part, patterns }, beat.nextId + 2);
}

/**
 * A copy with ids of its own behind the one it is of.
 * @throws CoreError "too-large"
 * @example duplicatePart(beat, part.id).beat.parts.map(({ name }) => name) // ["Kit", "Kit 2"]
 */
export function duplicatePart(beat: Beat, partId: number): AddedPart {
  const part = findPart(beat, partId);
  const copyId = beat.nextId;
  let nextId = copyId + 1;
  const ids = new Map<number, number>();
  const copies = part.patterns.map((pattern) => {
    ids.set(pattern.id, nextId);
    const copied = copyPattern(pattern, nextId);
    nextId = copied.nextId;
    return copied.pattern;
  });
  const patterns = copies.map(({ alternateOf, ...one }) =>
    alternateOf === undefined ? one : { ...one, alternateOf: ids.get(alternateOf)! },
  );
  const copy = { ...part, id: copyId, name: freeName(beat, part.name), soloed: false, patterns };
  const added = append(beat, copy, nextId);
  const behind = beat.parts.indexOf(part) + 1 - beat.parts.length;
  return { ...added, beat: movePart(added.beat, copyId, behind) };
}

/**
 * Takes a part away with all that is in it; the last one stays, and no other part plays it any more.
 * @example removePart(addKitPart(beat).beat, part.id).parts.length // 1
 */
export function removePart(beat: Beat, partId: number): Beat {
  if (beat.parts.length === 1) return beat;
  const rest = beat.parts.filter(({ id }) => id !== partId);
  const parts = rest.map((part) =>
    part.alsoPlays === partId ? withoutUndefined<Part>({ ...part, alsoPlays: undefined }) : part,
  );
  return { ...beat, parts };
}

/** Moves a part by so many places, no further than to an end. */
export function movePart(beat: Beat, partId: number, by: number): Beat {
  const from = beat.parts.findIndex(({ id }) => id === partId);
  const to = Math.max(0, Math.min(beat.parts.length - 1, from + by));
  if (from < 0 || from === to) return beat;
  return { ...beat, parts: beat.parts.toSpliced(from, 1).toSpliced(to, 0, beat.parts[from]!) };
}

function append(beat: Beat, part: Part, nextId: number): AddedPart {
  if (beat.parts.length >= MAX_PARTS)
    throw new CoreError("too-large", `A beat has ${MAX_PARTS} parts at the most; delete one to make room.`);
  return { beat: { ...beat, parts: [...beat.parts, part], nextId }, partId: part.id };
}

/** "Kit 2" where there is a "Kit". */
function freeName({ parts }: Beat, name: string): string {
  const taken = new Set(parts.map((part) => part.name));
  if (!taken.has(name)) return name;
  for (let number = 2; ; number++) if (!taken.has(`${name} ${number}`)) return `${name} ${number}`;
}
