import { HATS, type KitRecipe } from "./drum-recipe";
import * as found from "./found";

/** "Rope and Crate": what lies about on a quay, struck with whatever is at hand. */
export const ROPE_AND_CRATE: KitRecipe = {
  kick: { voice: found.kick, peakDb: -6.5, pan: 0, chokeGroup: 0 },
  snare: { voice: found.snare, peakDb: -7, pan: -0.06, chokeGroup: 0 },
  sideStick: { voice: found.sideStick, peakDb: -13, pan: -0.2, chokeGroup: 0 },
  clap: { voice: found.clap, peakDb: -14.5, pan: -0.12, chokeGroup: 0 },
  lowTom: { voice: found.lowTom, peakDb: -9, pan: 0.34, chokeGroup: 0 },
  midTom: { voice: found.midTom, peakDb: -9.5, pan: 0.06, chokeGroup: 0 },
  highTom: { voice: found.highTom, peakDb: -10.5, pan: -0.24, chokeGroup: 0 },
  conga: { voice: found.conga, peakDb: -16, pan: 0.42, chokeGroup: 0 },
  closedHat: { voice: found.closedHat, peakDb: -15.5, pan: 0.3, chokeGroup: HATS },
  openHat: { voice: found.openHat, peakDb: -17, pan: 0.3, chokeGroup: HATS },
  pedalHat: { voice: found.pedalHat, peakDb: -18, pan: 0.26, chokeGroup: HATS },
  ride: { voice: found.ride, peakDb: -18.5, pan: -0.3, chokeGroup: 0 },
  crash: { voice: found.crash, peakDb: -14, pan: 0.36, chokeGroup: 0 },
  tambourine: { voice: found.tambourine, peakDb: -17, pan: 0.26, chokeGroup: 0 },
  shaker: { voice: found.shaker, peakDb: -18.5, pan: 0.5, chokeGroup: 0 },
  cowbell: { voice: found.cowbell, peakDb: -17, pan: 0.2, chokeGroup: 0 },
};
