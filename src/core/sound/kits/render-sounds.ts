import { CoreError } from "../../core-error";
import { DRUM_IDS } from "../../drums";
import type { KitId } from "../../instruments";
import { renderDrum } from "./kit";
import { ownSound, type OwnSamples } from "./own-sample";
import { resample } from "../signal/resample";
import type { Sound, SoundBank, SoundId, Sounds } from "../signal/sound";
import { isVoice, readOwnSoundId, untuned, type SoundSetId } from "./sound-sets";
import { renderNote } from "../voices/voices";

/**
 * The same sample rate gives the same samples on every machine.
 * @param have sounds that are made already, which others may be made of
 * @throws CoreError "unknown-id" where a sample is missing that it is cut out of
 */
export function renderSound(id: SoundId, sampleRate: number, samples: OwnSamples = {}, have: Sounds = {}): Sound {
  const { base, ratio } = untuned(id);
  if (ratio === 1) return renderPlain(id, sampleRate, samples);
  const sound = have[base] ?? renderPlain(base, sampleRate, samples);
  const tuned = (layers: Sound["layers"]) => layers.map((variants) => variants.map((one) => resample(one, ratio)));
  return { ...sound, layers: tuned(sound.layers), ...(sound.right && { right: tuned(sound.right) }) };
}

function renderPlain(id: SoundId, sampleRate: number, samples: OwnSamples): Sound {
  const own = readOwnSoundId(id);
  if (own) {
    const sample = samples[own.sampleId];
    if (!sample) throw new CoreError("unknown-id", `The sample ${own.sampleId} is not there.`);
    return ownSound(sample, own.channel, own.cut, sampleRate);
  }
  const [set, name] = id.split("/") as [SoundSetId, string];
  if (isVoice(set)) return renderNote(set, Number(name), sampleRate);
  return renderDrum(
    set as KitId,
    DRUM_IDS.find((drum) => drum === name)!,
    sampleRate,
  );
}

/** @param have those that are made already */
export function renderSounds(
  ids: readonly SoundId[],
  sampleRate: number,
  have: Sounds = {},
  samples: OwnSamples = {},
): SoundBank {
  const sounds: Record<SoundId, Sound> = {};
  for (const id of ids) sounds[id] = have[id] ?? renderSound(id, sampleRate, samples, { ...have, ...sounds });
  return { sampleRate, sounds };
}
