import { HATS, type KitRecipe } from "./drum-recipe";
import * as metals from "./metals";
import * as skins from "./skins";

/** "Deckhouse": a small wooden kit in a small wooden room. */
export const DECKHOUSE: KitRecipe = {
  kick: { voice: skins.kick, peakDb: -9, pan: 0, chokeGroup: 0 },
  snare: { voice: skins.snare, peakDb: -10, pan: -0.06, chokeGroup: 0 },
  sideStick: { voice: skins.sideStick, peakDb: -14, pan: -0.1, chokeGroup: 0 },
  clap: { voice: skins.clap, peakDb: -13, pan: 0.08, chokeGroup: 0 },
  lowTom: { voice: skins.lowTom, peakDb: -11, pan: 0.34, chokeGroup: 0 },
  midTom: { voice: skins.midTom, peakDb: -11, pan: 0.06, chokeGroup: 0 },
  highTom: { voice: skins.highTom, peakDb: -11.5, pan: -0.24, chokeGroup: 0 },
  conga: { voice: skins.conga, peakDb: -14, pan: 0.42, chokeGroup: 0 },
  closedHat: { voice: metals.closedHat, peakDb: -18, pan: -0.32, chokeGroup: HATS },
  openHat: { voice: metals.openHat, peakDb: -18, pan: -0.32, chokeGroup: HATS },
  pedalHat: { voice: metals.pedalHat, peakDb: -20, pan: -0.32, chokeGroup: HATS },
  ride: { voice: metals.ride, peakDb: -18, pan: 0.36, chokeGroup: 0 },
  crash: { voice: metals.crash, peakDb: -15, pan: -0.4, chokeGroup: 0 },
  tambourine: { voice: metals.tambourine, peakDb: -18, pan: 0.26, chokeGroup: 0 },
  shaker: { voice: metals.shaker, peakDb: -20, pan: 0.5, chokeGroup: 0 },
  cowbell: { voice: metals.cowbell, peakDb: -17, pan: 0.2, chokeGroup: 0 },
};
