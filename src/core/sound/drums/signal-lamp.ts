import { HATS, type KitRecipe } from "./drum-recipe";
import * as circuits from "./circuits";

/** "Signal Lamp": oscillators and filtered noise. */
export const SIGNAL_LAMP: KitRecipe = {
  kick: { voice: circuits.kick, pan: 0, chokeGroup: 0 },
  snare: { voice: circuits.snare, pan: 0, chokeGroup: 0 },
  sideStick: { voice: circuits.sideStick, pan: -0.1, chokeGroup: 0 },
  clap: { voice: circuits.clap, pan: 0.04, chokeGroup: 0 },
  lowTom: { voice: circuits.lowTom, pan: 0.34, chokeGroup: 0 },
  midTom: { voice: circuits.midTom, pan: 0.06, chokeGroup: 0 },
  highTom: { voice: circuits.highTom, pan: -0.24, chokeGroup: 0 },
  conga: { voice: circuits.conga, pan: 0.3, chokeGroup: 0 },
  closedHat: { voice: circuits.closedHat, pan: -0.18, chokeGroup: HATS },
  openHat: { voice: circuits.openHat, trimDb: 1.5, pan: -0.18, chokeGroup: HATS },
  pedalHat: { voice: circuits.pedalHat, pan: -0.18, chokeGroup: HATS },
  ride: { voice: circuits.ride, pan: 0.36, chokeGroup: 0 },
  crash: { voice: circuits.crash, trimDb: 2, pan: -0.4, chokeGroup: 0 },
  tambourine: { voice: circuits.tambourine, pan: 0.26, chokeGroup: 0 },
  shaker: { voice: circuits.shaker, pan: 0.5, chokeGroup: 0 },
  cowbell: { voice: circuits.cowbell, pan: -0.24, chokeGroup: 0 },
};
