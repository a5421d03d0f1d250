import type { DrumId } from "../drums";
import { seededRandom, textSeed } from "../random";
import { DECKHOUSE } from "./deckhouse";
import { finish, fromDb, panGains } from "./dsp";
import { VARIANTS, velocityGain, type Sound } from "./sound";

/** Velocities at which every drum is voiced. */
export const LAYER_VELOCITIES = [34, 68, 100, 127] as const;

/** One drum of "Deckhouse". The same sample rate gives the same samples on every machine. */
export function renderDrum(drum: DrumId, sampleRate: number): Sound {
  const { voice, peakDb, pan, chokeGroup } = DECKHOUSE[drum];
  const layers = LAYER_VELOCITIES.map((velocity, layer) =>
    Array.from({ length: VARIANTS }, (_, variant) => {
      const random = seededRandom(textSeed(`${drum} ${layer} ${variant}`));
      const stroke = voice({ sampleRate, force: velocity / 127, random });
      return finish(stroke, fromDb(peakDb) * velocityGain(velocity), sampleRate);
    }),
  );
  const [gainLeft, gainRight] = panGains(pan);
  return { layers, velocities: LAYER_VELOCITIES, gainLeft, gainRight, chokeGroup };
}
