import { HATS, type DrumLayers, type KitRecipe } from "./drum-recipe";
import * as metals from "./metals";
import * as percussion from "./percussion";
import * as skins from "./skins";

/** Two sides that ring for seconds are told apart by fewer strokes. */
const LONG: DrumLayers = { velocities: [50, 90, 127], variants: 2 };

/** "Deckhouse": a small wooden kit in a small wooden room. */
export const DECKHOUSE: KitRecipe = {
  kick: { voice: skins.kick, pan: 0, chokeGroup: 0 },
  snare: { voice: skins.snare, pan: -0.06, chokeGroup: 0 },
  sideStick: { voice: percussion.sideStick, pan: -0.1, chokeGroup: 0 },
  clap: { voice: percussion.clap, pan: 0.08, chokeGroup: 0 },
  lowTom: { voice: skins.lowTom, pan: 0.34, chokeGroup: 0 },
  midTom: { voice: skins.midTom, pan: 0.06, chokeGroup: 0 },
  highTom: { voice: skins.highTom, pan: -0.24, chokeGroup: 0 },
  conga: { voice: skins.conga, pan: 0.42, chokeGroup: 0 },
  closedHat: { voice: metals.closedHat, pan: -0.32, chokeGroup: HATS },
  openHat: { voice: metals.openHat, layers: LONG, pan: -0.32, chokeGroup: HATS },
  pedalHat: { voice: metals.pedalHat, pan: -0.32, chokeGroup: HATS },
  ride: { voice: metals.ride, layers: LONG, pan: 0.36, chokeGroup: 0 },
  crash: { voice: metals.crash, layers: LONG, pan: -0.4, chokeGroup: 0 },
  tambourine: { voice: percussion.tambourine, pan: 0.26, chokeGroup: 0 },
  shaker: { voice: percussion.shaker, pan: 0.5, chokeGroup: 0 },
  cowbell: { voice: percussion.cowbell, pan: 0.2, chokeGroup: 0 },
};
