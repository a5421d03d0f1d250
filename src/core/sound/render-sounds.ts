import { DRUM_IDS } from "../drums";
import { renderDrum } from "./kit";
import type { Sound, SoundBank, SoundId, Sounds } from "./sound";
import { isVoice, type SoundSetId } from "./sound-sets";
import { renderNote } from "./voices/voices";

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
