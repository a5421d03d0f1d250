import type { DrumId } from "../drums";
import { DRUMS_IN_TURN, renderDrum } from "./kit";
import type { Sound, SoundBank, SoundId, Sounds } from "./sound";

/** Goes into the key under which rendered sounds are stored: raise it when a voice changes. */
export const SOUND_REVISION = 2;

/** Sounds that belong together: a kit's. */
export type SoundSetId = "deckhouse";

/** As it stands in a sentence. */
export function soundSetName(set: SoundSetId): string {
  return set === "deckhouse" ? "the kit" : set;
}

export function drumSound(set: SoundSetId, drum: DrumId): SoundId {
  return `${set}/${drum}`;
}

/** The sounds of a set, in the order in which they are best made. */
export function soundsOf(set: SoundSetId): readonly SoundId[] {
  return DRUMS_IN_TURN.map((drum) => drumSound(set, drum));
}

/** The same sample rate gives the same samples on every machine. */
export function renderSound(id: SoundId, sampleRate: number): Sound {
  const [, name] = id.split("/");
  return renderDrum(name as DrumId, sampleRate);
}

/** All sounds of sets, @param have those that are made already */
export function renderSounds(sets: readonly SoundSetId[], sampleRate: number, have: Sounds = {}): SoundBank {
  const ids = sets.flatMap(soundsOf);
  return {
    sampleRate,
    sounds: Object.fromEntries(ids.map((id) => [id, have[id] ?? renderSound(id, sampleRate)])),
  };
}
