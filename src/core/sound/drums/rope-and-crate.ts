import { HATS, type KitRecipe } from "./drum-recipe";
import * as found from "./found";

/** "Rope and Crate": what lies about on a quay, struck with whatever is at hand. */
export const ROPE_AND_CRATE: KitRecipe = {
  kick: { voice: found.kick, pan: 0, chokeGroup: 0 },
  snare: { voice: found.snare, pan: -0.06, chokeGroup: 0 },
  sideStick: { voice: found.sideStick, pan: -0.2, chokeGroup: 0 },
  clap: { voice: found.clap, pan: -0.12, chokeGroup: 0 },
  lowTom: { voice: found.lowTom, pan: 0.34, chokeGroup: 0 },
  midTom: { voice: found.midTom, pan: 0.06, chokeGroup: 0 },
  highTom: { voice: found.highTom, pan: -0.24, chokeGroup: 0 },
  conga: { voice: found.conga, pan: 0.42, chokeGroup: 0 },
  closedHat: { voice: found.closedHat, pan: 0.3, chokeGroup: HATS },
  openHat: { voice: found.openHat, pan: 0.3, chokeGroup: HATS },
  pedalHat: { voice: found.pedalHat, pan: 0.26, chokeGroup: HATS },
  ride: { voice: found.ride, pan: -0.3, chokeGroup: 0 },
  crash: { voice: found.crash, trimDb: 1.8, pan: 0.36, chokeGroup: 0 },
  tambourine: { voice: found.tambourine, pan: 0.26, chokeGroup: 0 },
  shaker: { voice: found.shaker, pan: 0.5, chokeGroup: 0 },
  cowbell: { voice: found.cowbell, pan: 0.2, chokeGroup: 0 },
};
