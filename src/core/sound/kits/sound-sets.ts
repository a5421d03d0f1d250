import { DRUM_IDS, type DrumId } from "../../drums";
import { KITS, VOICES, type KitId, type VoiceId } from "../../instruments";
import type { LaneSound, SoundId } from "../signal/sound";
import type { Cut } from "./own-sample";
import { semitoneRatio } from "../voices/pitch";
import { rootFor, rootsOf } from "../voices/roots";

/** With these an idea can be played; then from the end, where the cymbals are, which take longest. */
const FIRST: readonly DrumId[] = ["kick", "snare", "closedHat"];
/** In the order in which they are best made. */
const DRUMS_IN_TURN: readonly DrumId[] = [...FIRST, ...DRUM_IDS.filter((id) => !FIRST.includes(id)).toReversed()];

/** Goes into the key under which rendered sounds are stored: raise it when a voice changes. */
export const SOUND_REVISION = 4;

/** Sounds that belong together: a kit's, or a voice's over its range. */
export type SoundSetId = KitId | VoiceId;

/** @example soundSetName("deckhouse") // "Deckhouse" */
export function soundSetName(set: SoundSetId): string {
  return isVoice(set) ? VOICES[set].name : KITS[set].name;
}

/** @example drumSound("deckhouse", "kick") // "deckhouse/kick" */
export function drumSound(kit: KitId, drum: DrumId): SoundId {
  return `${kit}/${drum}`;
}

/** The same sound so many semitones higher, made anew without what would fold back. @example tunedSound("deckhouse/kick", -2) // "deckhouse/kick@-200" */
export function tunedSound(id: SoundId, semitones: number): SoundId {
  const cents = Math.round(semitones * 100);
  return cents === 0 ? id : `${id}@${cents}`;
}

/**
 * What a sound is made of: another one, at a ratio of speeds; itself where it is not tuned.
 * @example untuned("deckhouse/kick@1200") // { base: "deckhouse/kick", ratio: 2 }
 */
export function untuned(id: SoundId): { readonly base: SoundId; readonly ratio: number } {
  const [base, cents] = id.split("@") as [SoundId, string | undefined];
  return { base, ratio: cents === undefined ? 1 : semitoneRatio(Number(cents) / 100) };
}

const OWN = "own";

/** One side of what is cut out of a sample. */
export function ownSoundId(sampleId: string, channel: number, cut: Cut): SoundId {
  const { startFrame, endFrame, fadeMs, reversed } = cut;
  return [OWN, sampleId, channel, startFrame, endFrame, fadeMs, reversed ? 1 : 0].join("/");
}

/** @returns undefined for what is no sound of the player's own */
export function readOwnSoundId(
  id: SoundId,
): { readonly sampleId: string; readonly channel: number; readonly cut: Cut } | undefined {
  const [set, sampleId, ...numbers] = untuned(id).base.split("/");
  if (set !== OWN) return undefined;
  const [channel, startFrame, endFrame, fadeMs, reversed] = numbers.map(Number) as [
    number,
    number,
    number,
    number,
    number,
  ];
  return { sampleId: sampleId!, channel, cut: { startFrame, endFrame, fadeMs, reversed: reversed === 1 } };
}

/** It is of no set: tuned, or cut out of a sample. @example isDerived("deckhouse/kick@-200") // true */
export function isDerived(id: SoundId): boolean {
  return id.includes("@") || id.startsWith(`${OWN}/`);
}

/** What sounds as a note of a voice. @param note 0..127 */
export function noteSound(voice: VoiceId, note: number): LaneSound {
  const { root, rate } = rootFor(voice, note);
  return { soundId: `${voice}/${root}`, rate };
}

/** The sounds of a set, in the order in which they are best made. @example soundsOf("deckhouse").length // 16 */
export function soundsOf(set: SoundSetId): readonly SoundId[] {
  const names = isVoice(set) ? rootsOf(set) : DRUMS_IN_TURN;
  return names.map((name) => `${set}/${name}`);
}

/** @example isVoice("deckhouse") // false */
export function isVoice(set: SoundSetId): set is VoiceId {
  return set in VOICES;
}
