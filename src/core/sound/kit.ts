import type { DrumId } from "../drums";
import type { KitId } from "../instruments";
import { seededRandom, textSeed } from "../random";
import { DECKHOUSE } from "./drums/deckhouse";
import { DRUM_LUFS, type KitRecipe } from "./drums/drum-recipe";
import { ROPE_AND_CRATE } from "./drums/rope-and-crate";
import { SIGNAL_LAMP } from "./drums/signal-lamp";
import { finish, panGains } from "./dsp";
import { VARIANTS, velocityDb, type Sound } from "./sound";
import { setLoudness } from "./stroke-loudness";

/** Velocities at which every drum is voiced. */
export const LAYER_VELOCITIES = [34, 68, 100, 127] as const;

/** The kits, all of our own synthesis. */
const KIT_RECIPES: Readonly<Record<KitId, KitRecipe>> = {
  deckhouse: DECKHOUSE,
  signalLamp: SIGNAL_LAMP,
  ropeAndCrate: ROPE_AND_CRATE,
};

/** One drum of a kit. The same sample rate gives the same samples on every machine. */
export function renderDrum(kit: KitId, drum: DrumId, sampleRate: number): Sound {
  const { voice, trimDb = 0, pan, chokeGroup } = KIT_RECIPES[kit][drum];
  const lufs = DRUM_LUFS[drum] + trimDb;
  const layers = LAYER_VELOCITIES.map((velocity, layer) =>
    Array.from({ length: VARIANTS }, (_, variant) => {
      const random = seededRandom(textSeed(`${kit === "deckhouse" ? "" : kit}${drum} ${layer} ${variant}`));
      const stroke = voice({ sampleRate, force: velocity / 127, random });
      return setLoudness(finish(stroke, sampleRate), lufs + velocityDb(velocity), sampleRate);
    }),
  );
  const [gainLeft, gainRight] = panGains(pan);
  return { layers, velocities: LAYER_VELOCITIES, gainLeft, gainRight, chokeGroup };
}
