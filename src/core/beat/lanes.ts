import type { DrumFamily, PadRole } from "../drums";
import { VOICES } from "../instruments";
import type { Instrument, KitPart, Lane, Pass, Pattern, TonalPart } from "./beat";
import { remember } from "../remember";
import { noteName, scaleNotes, type Scale } from "./scale";

/** Families share a shape and a hue on screen. */
export type LaneFamily = DrumFamily | "pitch";

/** What a lane is called, drawn and written as: a pad of a kit, a note of a tonal part. */
export interface LaneInfo {
  readonly id: Lane;
  readonly name: string;
  /** MIDI note, 0..127 */
  readonly note: number;
  readonly role: PadRole;
  readonly family: LaneFamily;
  readonly muted: boolean;
  readonly soloed: boolean;
}

/** Keys of the computer that play, and places of the pads. */
export const KEYS = 16;
const NOTES = 128;

/**
 * All lanes that a part has: a kit's pads, every note of a tonal part, the lowest first.
 * @example lanesOf(part).slice(0, 3).map(({ name }) => name) // ["Kick", "Snare", "Side stick"]
 */
export function lanesOf(part: Instrument): readonly LaneInfo[] {
  return part.kind === "kit" ? part.pads : noteLanes(part.scale);
}

/**
 * @returns undefined where the part has no such lane
 * @example findLane(part, 8).name // "Closed hat"
 */
export function findLane(part: Instrument, lane: Lane): LaneInfo | undefined {
  return part.kind === "kit" ? part.pads.find(({ id }) => id === lane) : noteLanes(part.scale)[lane];
}

/**
 * The lanes that a key strikes: one, none where nothing lies on it, or those of a chord.
 * @param key 0..15 @param octaves up, or down where negative
 * @example keyLanes(part, 8) // [8]
 */
export function keyLanes(part: Instrument, key: number, octaves = 0): readonly Lane[] {
  if (part.kind === "kit") return part.pads.filter(({ slot }) => slot === key).map(({ id }) => id);
  return keyNotes(part, key, octaves).filter((note) => note >= 0 && note < NOTES);
}

function keyNotes(
  { voiceId, scale }: Pick<TonalPart, "voiceId" | "scale">,
  key: number,
  octaves: number,
): readonly number[] {
  const base = VOICES[voiceId].base + 12 * octaves;
  return scale ? scaleNotes(scale, key, base) : [base + key];
}

/**
 * The lanes that hits of a pattern lie on, in the order of the part's.
 * @example usedLanes(part, pattern).map(({ id }) => id) // [8]
 */
export function usedLanes(part: Instrument, pattern: Pattern): readonly LaneInfo[] {
  const used = lanesIn(pattern);
  return lanesOf(part).filter(({ id }) => used.has(id));
}

const lanesOfPass = remember<Pass, ReadonlySet<Lane>>();

/**
 * The lanes on which a pattern has hits; of a pass that does not change they are worked out once.
 * @example [...lanesIn(pattern)] // [8]
 */
export function lanesIn({ passes }: Pattern): ReadonlySet<Lane> {
  const lanesOf = (pass: Pass) => lanesOfPass(pass, [], () => new Set(pass.hits.map(({ lane }) => lane)));
  return new Set(passes.flatMap((pass) => [...lanesOf(pass)]));
}

/**
 * The lanes that are shown of a part, the lowest first: all pads, of notes the lowest of each key, and those that hits lie on.
 * @param folded only those that hits lie on, where there are any
 */
export function shownLanes(part: Instrument, pattern: Pattern, octaves: number, folded: boolean): readonly LaneInfo[] {
  const used = usedLanes(part, pattern);
  if (folded && used.length > 0) return used;
  if (part.kind === "kit") return part.pads;
  const shown = new Set([
    ...used.map(({ id }) => id),
    ...Array.from({ length: KEYS }, (_, key) => keyLanes(part, key, octaves).slice(0, 1)).flat(),
  ]);
  return lanesOf(part).filter(({ id }) => shown.has(id));
}

/** True for a note that is a black key of a piano. @example isBlackKey({ family: "pitch", note: 61 }) // true */
export function isBlackKey({ family, note }: Pick<LaneInfo, "family" | "note">): boolean {
  return family === "pitch" && [1, 3, 6, 8, 10].includes(note % 12);
}

/** The pads of a kit; a tonal part has none. @example padsOf(part).length // 16 */
export function padsOf(part: Instrument): KitPart["pads"] {
  return part.kind === "kit" ? part.pads : [];
}

const spelt = new Map<string, readonly LaneInfo[]>();

function noteLanes(scale: Scale | undefined): readonly LaneInfo[] {
  const key = scale ? `${scale.root} ${scale.name}` : "";
  const known = spelt.get(key);
  if (known) return known;
  const lanes = Array.from({ length: NOTES }, (_, note): LaneInfo => ({
    id: note,
    name: noteName(note, scale),
    note,
    role: "other",
    family: "pitch",
    muted: false,
    soloed: false,
  }));
  spelt.set(key, lanes);
  return lanes;
}
