import { CoreError } from "../core-error";
import { clampTempo } from "../time/tempo";
import type { Meter } from "../time/meter";
import { sameMeter } from "../time/meter";
import type { Beat, Hit, Mix, Pad, PadSound, Part, Pass, Pattern, PatternRef, TonalPart } from "./beat";
import type { Feel } from "./feel";
import { MAX_BARS } from "./new-beat";
import { changeQuantize, type QuantizeChange } from "./quantize-settings";
import { plainName } from "./plain-name";

/** A pass before it has an id, and its hits before they have theirs. */
export type NewPass = Omit<Pass, "id" | "hits">;
export type NewHit = Omit<Hit, "id">;

/**
 * @throws CoreError "unknown-id"
 * @example findPart(beat, part.id).name // "Kit"
 */
export function findPart(beat: Beat, partId: number): Part {
  return found(beat.parts, partId, "part");
}

/** The same, for what may have been undone or deleted meanwhile. @example knownPart(beat, 99) // undefined */
export function knownPart({ parts }: Beat, partId: number): Part | undefined {
  return parts.find(({ id }) => id === partId);
}

/**
 * @throws CoreError "unknown-id"
 * @example findPattern(beat, patternRef).bars // 2
 */
export function findPattern(beat: Beat, { partId, patternId }: PatternRef): Pattern {
  return found(findPart(beat, partId).patterns, patternId, "pattern");
}

/** @example renameBeat(beat, "  Slow Harbour ").name // "Slow Harbour" */
export function renameBeat(beat: Beat, name: string): Beat {
  const plain = plainName(name);
  return plain === "" || plain === beat.name ? beat : { ...beat, name: plain };
}

/**
 * Hits are kept in ticks, so they keep their musical place.
 * @throws CoreError "bad-tempo"
 * @example setTempo(beat, 96).bpm // 96
 */
export function setTempo(beat: Beat, bpm: number): Beat {
  const next = clampTempo(bpm);
  return next === beat.bpm ? beat : { ...beat, bpm: next };
}

/**
 * Changes only what is recorded next.
 * @example setInputQuantize(beat, { grid: "1/8" }).inputQuantize // { grid: "1/8", strength: 1, reach: 1 }
 */
export function setInputQuantize(beat: Beat, change: QuantizeChange): Beat {
  return { ...beat, inputQuantize: changeQuantize(beat.inputQuantize, change) };
}

/**
 * Hits stay on their ticks, and every pattern keeps its number of bars.
 * @example setMeter(beat, { beats: 3, unit: 4 }).meter // { beats: 3, unit: 4 }
 */
export function setMeter(beat: Beat, meter: Meter): Beat {
  return sameMeter(meter, beat.meter) ? beat : { ...beat, meter };
}

/**
 * Hits beyond a shorter end stay in the document.
 * @throws CoreError "bad-value" outside 1..2000 bars
 * @example findPattern(setBars(beat, patternRef, 4), patternRef).bars // 4
 */
export function setBars(beat: Beat, patternRef: PatternRef, bars: number): Beat {
  if (!Number.isInteger(bars) || bars < 1 || bars > MAX_BARS) {
    throw new CoreError("bad-value", `A loop has 1 to ${MAX_BARS} bars, got ${bars}.`);
  }
  return editPattern(beat, patternRef, (pattern) => ({ ...pattern, bars }));
}

/**
 * Swing, groove, looseness and the pads' shares; what is given as undefined goes.
 * @example findPattern(setFeel(beat, patternRef, { swing: { ratio: 0.6, unit: "1/8" } }), patternRef).swing // { ratio: 0.6, unit: "1/8" }
 */
export function setFeel(
  beat: Beat,
  patternRef: PatternRef,
  change: { [Key in keyof Feel]: Feel[Key] | undefined },
): Beat {
  return editPattern(beat, patternRef, (pattern) => withoutUndefined({ ...pattern, ...change }));
}

/** @returns the beat with an empty pass on top of the stack, and the pass's id */
export function addPass(beat: Beat, patternRef: PatternRef, pass: NewPass): { beat: Beat; passId: number } {
  const passId = beat.nextId;
  const next = editPattern(beat, patternRef, (pattern) => ({
    ...pattern,
    passes: [...pattern.passes, { ...pass, id: passId, hits: [] }],
  }));
  return { beat: { ...next, nextId: passId + 1 }, passId };
}

/**
 * Adds hits to a pass; they get the next ids in their order.
 * @example hitCount(addHits(beat, patternRef, passId, [{ lane: 0, played: { ticks: 960, velocity: 90 }, lengthTicks: 60 }])) // 9
 */
export function addHits(beat: Beat, patternRef: PatternRef, passId: number, hits: readonly NewHit[]): Beat {
  const numbered = hits.map((hit, index) => numberHit(hit, beat.nextId + index));
  const next = editPass(beat, patternRef, passId, (pass) => ({ ...pass, hits: [...pass.hits, ...numbered] }));
  return { ...next, nextId: beat.nextId + hits.length };
}

/**
 * A hit with its id. Its fields are written out in one order: thousands of hits that were copied by spread take ten times
 * as long to read.
 * @example numberHit({ lane: 0, played: { ticks: 0, velocity: 90 }, lengthTicks: 60 }, 7).id // 7
 */
export function numberHit(from: NewHit, id: number): Hit {
  const { lane, played, lengthTicks } = from;
  const hit: Record<string, unknown> = { id, lane, played, lengthTicks };
  for (const field of OPTIONAL_HIT_FIELDS) if (from[field] !== undefined) hit[field] = from[field];
  return hit as unknown as Hit;
}

type OptionalField = { [Key in keyof NewHit]-?: undefined extends NewHit[Key] ? Key : never }[keyof NewHit];

/** All of them: a field that is missing here, or is none, does not compile. */
const OPTIONAL_HIT_FIELDS = Object.keys({
  start: true,
  struckLane: true,
  masked: true,
  choked: true,
  quantize: true,
  downbeatTicks: true,
  lap: true,
} satisfies Record<OptionalField, true>) as OptionalField[];

/** Gives a hit its length when its pad is let go; choked, its sound ends there, too. A hit that is gone stays gone. */
export function setHitLength(
  beat: Beat,
  patternRef: PatternRef,
  passId: number,
  hitId: number,
  lengthTicks: Hit["lengthTicks"],
  choked = false,
): Beat {
  return editPass(beat, patternRef, passId, (pass) => {
    // The newest hits are at the end, and it is they that are still held.
    const index = pass.hits.findLastIndex(({ id }) => id === hitId);
    if (index < 0) return pass;
    const hit = pass.hits[index]!;
    const ended = numberHit({ ...hit, lengthTicks, ...(choked && { choked }) }, hitId);
    return { ...pass, hits: pass.hits.with(index, ended) };
  });
}

/** @example findPattern(setPass(beat, patternRef, passId, { muted: true }), patternRef).passes[0].muted // true */
export function setPass(
  beat: Beat,
  patternRef: PatternRef,
  passId: number,
  change: Partial<Omit<Pass, "id" | "hits">>,
): Beat {
  return editPass(beat, patternRef, passId, (pass) => ({ ...pass, ...change }));
}

/** @example hitCount(removePass(beat, patternRef, passId)) // 0 */
export function removePass(beat: Beat, patternRef: PatternRef, passId: number): Beat {
  return editPattern(beat, patternRef, (pattern) => ({
    ...pattern,
    passes: pattern.passes.filter(({ id }) => id !== passId),
  }));
}

/** @example padsOf(findPart(setPad(beat, part.id, 8, { muted: true }), part.id))[8].muted // true */
export function setPad(
  beat: Beat,
  partId: number,
  padId: number,
  change: Partial<Pick<Pad, "muted" | "soloed" | "mix">>,
): Beat {
  return editPart(beat, partId, (part) =>
    part.kind === "kit" ? { ...part, pads: replaced(part.pads, padId, "pad", (pad) => ({ ...pad, ...change })) } : part,
  );
}

/** What a part may be given; what is given as undefined goes. */
export interface PartChange {
  readonly name?: string;
  readonly muted?: boolean;
  readonly soloed?: boolean;
  readonly mix?: Mix;
  readonly alsoPlays?: number | undefined;
}

/**
 * Its name, mute, solo, mix or what it also plays; a blank name changes nothing.
 * @example findPart(setPart(beat, part.id, { soloed: true }), part.id).soloed // true
 */
export function setPart(beat: Beat, partId: number, change: PartChange): Beat {
  const name = change.name && plainName(change.name);
  return editPart(beat, partId, (part) => withoutUndefined({ ...part, ...change, name: name ? name : part.name }));
}

/** What a tonal part may be given; what is given as undefined goes. */
export type TonalChange = { [Key in "voiceId" | "transpose" | "scale"]?: TonalPart[Key] | undefined };

/** Its voice, transposition and scale; another voice is written with its own program. */
export function setTonal(beat: Beat, partId: number, change: TonalChange): Beat {
  return editPart(beat, partId, (part) => {
    if (part.kind === "kit") return part;
    const { program, ...rest } = part;
    const same = change.voiceId === undefined || change.voiceId === part.voiceId;
    return withoutUndefined({ ...rest, ...change, ...(same && { program }) });
  });
}

/**
 * A part or a pattern as it is written: fields that are given as undefined are not there.
 * @example withoutUndefined({ bars: 2, name: undefined }) // { bars: 2 }
 */
export function withoutUndefined<T extends Part | Pattern | Pad | PadSound>(from: object): T {
  return Object.fromEntries(Object.entries(from).filter(([, value]) => value !== undefined)) as unknown as T;
}

/** @example editPart(beat, part.id, (it) => ({ ...it, name: "Drums" })).parts[0].name // "Drums" */
export function editPart(beat: Beat, partId: number, edit: (part: Part) => Part): Beat {
  return { ...beat, parts: replaced(beat.parts, partId, "part", edit) };
}

/** @example findPattern(editPattern(beat, patternRef, (it) => ({ ...it, name: "Verse" })), patternRef).name // "Verse" */
export function editPattern(beat: Beat, patternRef: PatternRef, edit: (pattern: Pattern) => Pattern): Beat {
  return editPart(beat, patternRef.partId, (part) => ({
    ...part,
    patterns: replaced(part.patterns, patternRef.patternId, "pattern", edit),
  }));
}

export function editPass(beat: Beat, patternRef: PatternRef, passId: number, edit: (pass: Pass) => Pass): Beat {
  return editPattern(beat, patternRef, (pattern) => ({
    ...pattern,
    passes: replaced(pattern.passes, passId, "pass", edit),
  }));
}

function replaced<T extends { readonly id: number }>(
  items: readonly T[],
  id: number,
  what: string,
  edit: (item: T) => T,
): readonly T[] {
  found(items, id, what);
  return items.map((item) => (item.id === id ? edit(item) : item));
}

function found<T extends { readonly id: number }>(items: readonly T[], id: number, what: string): T {
  const item = items.find((candidate) => candidate.id === id);
  if (!item) throw new CoreError("unknown-id", `There is no ${what} ${id} here.`);
  return item;
}
