import { DRUM_IDS, type DrumId } from "../drums";
import { seededRandom, textSeed } from "../random";
import { DECKHOUSE } from "./deckhouse";
import { finish, fromDb, panGains } from "./dsp";
import { velocityGain, type Sound } from "./sound";

/** Velocities at which every drum is voiced. */
export const LAYER_VELOCITIES = [34, 68, 100, 127] as const;
/** Different strokes of equal force, taken in turn. */
export const VARIANTS = 3;

/** With these an idea can be played; then from the end, where the cymbals are, which take longest. */
const FIRST: readonly DrumId[] = ["kick", "snare", "closedHat"];
/** In the order in which they are best made. */
export const DRUMS_IN_TURN: readonly DrumId[] = [
  ...FIRST,
  ...DRUM_IDS.filter((id) => !FIRST.includes(id)).toReversed(),
];

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
