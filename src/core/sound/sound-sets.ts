import { DRUM_IDS, type DrumId } from "../drums";
import { VOICES, type KitId, type VoiceId } from "../instruments";
import type { LaneSound, SoundId } from "./sound";
import { rootFor, rootsOf } from "./voices/roots";

/** With these an idea can be played; then from the end, where the cymbals are, which take longest. */
const FIRST: readonly DrumId[] = ["kick", "snare", "closedHat"];
/** In the order in which they are best made. */
const DRUMS_IN_TURN: readonly DrumId[] = [...FIRST, ...DRUM_IDS.filter((id) => !FIRST.includes(id)).toReversed()];

/** Goes into the key under which rendered sounds are stored: raise it when a voice changes. */
export const SOUND_REVISION = 2;

/** Sounds that belong together: a kit's, or a voice's over its range. */
export type SoundSetId = KitId | VoiceId;

/** As it stands in a sentence. */
export function soundSetName(set: SoundSetId): string {
  return isVoice(set) ? VOICES[set].name : "the kit";
}

export function drumSound(kit: KitId, drum: DrumId): SoundId {
  return `${kit}/${drum}`;
}

/** What sounds as a note of a voice. @param note 0..127 */
export function noteSound(voice: VoiceId, note: number): LaneSound {
  const { root, rate } = rootFor(voice, note);
  return { soundId: `${voice}/${root}`, rate };
}

/** The sounds of a set, in the order in which they are best made. */
export function soundsOf(set: SoundSetId): readonly SoundId[] {
  const names = isVoice(set) ? rootsOf(set) : DRUMS_IN_TURN;
  return names.map((name) => `${set}/${name}`);
}

export function isVoice(set: SoundSetId): set is VoiceId {
  return set in VOICES;
}
