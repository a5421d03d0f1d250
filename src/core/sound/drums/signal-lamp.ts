import { HATS, type KitRecipe } from "./drum-recipe";
import * as circuits from "./circuits";

/** "Signal Lamp": oscillators and filtered noise. */
export const SIGNAL_LAMP: KitRecipe = {
  kick: { voice: circuits.kick, peakDb: -10.5, pan: 0, chokeGroup: 0 },
  snare: { voice: circuits.snare, peakDb: -8.5, pan: 0, chokeGroup: 0 },
  sideStick: { voice: circuits.sideStick, peakDb: -18, pan: -0.1, chokeGroup: 0 },
  clap: { voice: circuits.clap, peakDb: -17, pan: 0.04, chokeGroup: 0 },
  lowTom: { voice: circuits.lowTom, peakDb: -11.5, pan: 0.34, chokeGroup: 0 },
  midTom: { voice: circuits.midTom, peakDb: -12.5, pan: 0.06, chokeGroup: 0 },
  highTom: { voice: circuits.highTom, peakDb: -14, pan: -0.24, chokeGroup: 0 },
  conga: { voice: circuits.conga, peakDb: -17.5, pan: 0.3, chokeGroup: 0 },
  closedHat: { voice: circuits.closedHat, peakDb: -14, pan: -0.18, chokeGroup: HATS },
  openHat: { voice: circuits.openHat, peakDb: -14, pan: -0.18, chokeGroup: HATS },
  pedalHat: { voice: circuits.pedalHat, peakDb: -19, pan: -0.18, chokeGroup: HATS },
  ride: { voice: circuits.ride, peakDb: -16.5, pan: 0.36, chokeGroup: 0 },
  crash: { voice: circuits.crash, peakDb: -14, pan: -0.4, chokeGroup: 0 },
  tambourine: { voice: circuits.tambourine, peakDb: -16, pan: 0.26, chokeGroup: 0 },
  shaker: { voice: circuits.shaker, peakDb: -19, pan: 0.5, chokeGroup: 0 },
  cowbell: { voice: circuits.cowbell, peakDb: -16, pan: -0.24, chokeGroup: 0 },
};
