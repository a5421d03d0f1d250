import type { DrumId } from "../../drums";
import type { KitId } from "../../instruments";
import { seededRandom, textSeed } from "../../random";
import { DECKHOUSE } from "../drums/deckhouse";
import { DRUM_LUFS, type DrumLayers, type KitRecipe } from "../drums/drum-recipe";
import { ROPE_AND_CRATE } from "../drums/rope-and-crate";
import { SIGNAL_LAMP } from "../drums/signal-lamp";
import { finishSides, type Samples } from "../signal/dsp";
import { panGains } from "../signal/gain";
import { VARIANTS, velocityDb, type Sound } from "../signal/sound";
import { setLoudness } from "../loudness/stroke-loudness";

/** How most drums are voiced. */
export const LAYERS: DrumLayers = { velocities: [34, 68, 100, 127], variants: VARIANTS };

/** The kits, all of our own synthesis. */
const KIT_RECIPES: Readonly<Record<KitId, KitRecipe>> = {
  deckhouse: DECKHOUSE,
  signalLamp: SIGNAL_LAMP,
  ropeAndCrate: ROPE_AND_CRATE,
};

/** One drum of a kit. The same sample rate gives the same samples on every machine. */
export function renderDrum(kit: KitId, drum: DrumId, sampleRate: number): Sound {
  const { voice, layers = LAYERS, trimDb = 0, pan, chokeGroup } = KIT_RECIPES[kit][drum];
  const lufs = DRUM_LUFS[drum] + trimDb;
  const random = (...which: readonly number[]) => seededRandom(textSeed([kit + drum, ...which].join(" ")));
  const spots = Array.from({ length: layers.variants }, (_, variant) => voice({ sampleRate, random: random(variant) }));
  const strokes = layers.velocities.map((velocity, layer) =>
    spots.map((strike, variant) => {
      const stroke = strike({ force: velocity / 127, random: random(layer, variant) });
      return setLoudness(finishSides(stroke, sampleRate), lufs + velocityDb(velocity), sampleRate);
    }),
  );
  const side = (of: (sides: readonly Samples[]) => Samples) => strokes.map((variants) => variants.map(of));
  const [gainLeft, gainRight] = panGains(pan);
  return {
    layers: side(([left]) => left!),
    ...(strokes[0]![0]!.length === 2 && { right: side(([, right]) => right!) }),
    velocities: layers.velocities,
    gainLeft,
    gainRight,
    chokeGroup,
  };
}
