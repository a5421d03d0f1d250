import { rise } from "../signal/dsp";
import { addModes } from "../signal/modes";
import { vary } from "./drum-voice";
import { struckPlate } from "./plate";

/** Both hats are one piece of metal, whatever holds it. */
const HAT = { seed: 7, partials: 320, lowHertz: 280, highHertz: 16_500 };

export const closedHat = struckPlate(
  { ...HAT, octaveDb: [-20, -20, -18, -14, -4, 0, -1], lowSeconds: 0.28, highSeconds: 0.16 },
  (force) => [
    { gain: 0.3 + 0.7 * force, decaySeconds: 0.012, lowHertz: 4200 },
    { gain: 0.35, decaySeconds: 0.03, lowHertz: 70, highHertz: 600 },
  ],
);

export const openHat = struckPlate(
  {
    ...HAT,
    octaveDb: [-20, -2, -5, -4, -1, -3, -10],
    lowSeconds: 3,
    highSeconds: 2,
    wash: { gain: 0.2, decaySeconds: 2, lowHertz: 700 },
  },
  (force) => [
    { gain: 0.3 + 0.7 * force, decaySeconds: 0.02, lowHertz: 4200 },
    { gain: 3, decaySeconds: 0.05, lowHertz: 50, highHertz: 200 },
  ],
);

export const pedalHat = struckPlate(
  { ...HAT, octaveDb: [-14, -14, -15, -13, -6, -1, -3], lowSeconds: 0.28, highSeconds: 0.16 },
  () => [{ gain: 4, decaySeconds: 0.06, riseSeconds: 0.003, lowHertz: 45, highHertz: 260 }],
  (rung, { sampleRate }) => rise(rung, 0.01, sampleRate),
);

export const ride = struckPlate(
  {
    seed: 23,
    partials: 340,
    lowHertz: 290,
    highHertz: 16_500,
    octaveDb: [-20, -16, -13, -7, -3, 0, -8],
    lowSeconds: 4,
    highSeconds: 1.1,
    wash: { gain: 0.12, decaySeconds: 2, riseSeconds: 0.02, lowHertz: 1500 },
  },
  (force) => [
    { gain: 1 + 1.6 * force, decaySeconds: 0.01, lowHertz: 3000 },
    { gain: 1, decaySeconds: 0.04, lowHertz: 40, highHertz: 160 },
  ],
  // The wood of the stick on the bow.
  (rung, { sampleRate, random }) =>
    addModes(
      rung,
      [
        { hertz: 3180, decaySeconds: 0.3, gain: 0.2 * vary(random, 0.3) },
        { hertz: 4730, decaySeconds: 0.24, gain: 0.2 * vary(random, 0.3) },
        { hertz: 5990, decaySeconds: 0.2, gain: 0.15 * vary(random, 0.3) },
      ],
      sampleRate,
    ),
);

export const crash = struckPlate(
  {
    seed: 91,
    partials: 360,
    lowHertz: 280,
    highHertz: 15_000,
    octaveDb: [-26, -12, -11, -8, 0, -4, -20],
    lowSeconds: 4.5,
    highSeconds: 2.6,
    wash: { gain: 0.15, decaySeconds: 3, riseSeconds: 0.06, lowHertz: 1500, highHertz: 9000 },
    bloom: { fromHertz: 1500, seconds: 0.09 },
  },
  (force) => [
    { gain: 0.2 + 0.4 * force, decaySeconds: 0.1, lowHertz: 900, highHertz: 9000 },
    { gain: 0.6, decaySeconds: 0.05, lowHertz: 40, highHertz: 180 },
  ],
);
