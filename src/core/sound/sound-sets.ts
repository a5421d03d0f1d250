import { DRUM_IDS, type DrumId } from "../drums";
import { VOICES, type KitId, type VoiceId } from "../instruments";
import { DRUMS_IN_TURN, renderDrum } from "./kit";
import type { LaneSound, Sound, SoundBank, SoundId, Sounds } from "./sound";
import { renderNote, rootFor, rootsOf } from "./voices/voices";

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

/** The same sample rate gives the same samples on every machine. */
export function renderSound(id: SoundId, sampleRate: number): Sound {
  const [set, name] = id.split("/") as [SoundSetId, string];
  return isVoice(set)
    ? renderNote(set, Number(name), sampleRate)
    : renderDrum(
        DRUM_IDS.find((drum) => drum === name)!,
        sampleRate,
      );
}

/** @param have those that are made already */
export function renderSounds(ids: readonly SoundId[], sampleRate: number, have: Sounds = {}): SoundBank {
  return {
    sampleRate,
    sounds: Object.fromEntries(ids.map((id) => [id, have[id] ?? renderSound(id, sampleRate)])),
  };
}

function isVoice(set: SoundSetId): set is VoiceId {
  return set in VOICES;
}
