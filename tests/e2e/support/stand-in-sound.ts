import { seededRandom, textSeed } from "@/core/random";
import { VARIANTS, type Sound, type SoundBank, type SoundId } from "@/core/sound/signal/sound";

const VELOCITIES = [34, 68, 100, 127];
const SECONDS = 0.04;
/** Of a full scale, at the highest velocity. */
const PEAK = 0.3;

/** A burst of noise that dies away; its first sample is silent, like those of a drum. */
function burst(id: SoundId, layer: number, variant: number, sampleRate: number): Float32Array {
  const random = seededRandom(textSeed(`${id} ${layer} ${variant}`));
  const length = Math.round(SECONDS * sampleRate);
  const peak = PEAK * (VELOCITIES[layer]! / 127) ** 2;
  return Float32Array.from({ length }, (_, frame) => {
    const fade = (1 - frame / length) ** 2 * Math.min(1, frame / 8);
    return peak * fade * (2 * random() - 1);
  });
}

/** Stands in for a drum or a note: made in no time, and unlike every other one. */
export function standInSound(id: SoundId, sampleRate: number): Sound {
  const layers = VELOCITIES.map((_, layer) =>
    Array.from({ length: VARIANTS }, (_one, variant) => burst(id, layer, variant, sampleRate)),
  );
  return { layers, velocities: VELOCITIES, gainLeft: 1, gainRight: 1, chokeGroup: 0 };
}

export function standInBank(ids: readonly SoundId[], sampleRate: number): SoundBank {
  return { sampleRate, sounds: Object.fromEntries(ids.map((id) => [id, standInSound(id, sampleRate)])) };
}
