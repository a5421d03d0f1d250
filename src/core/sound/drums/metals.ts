import type { Random } from "../../random";
import type { Mode, Samples } from "../dsp";
import { addModes, addNoise, bandPass, highPass, lowPass, silence } from "../dsp";
import { vary, type DrumVoice } from "./drum-voice";

/** Taken once: inside the loops over samples a look-up of a global each time is dear, above all in a test's sandbox. */
const { imul } = Math;

/** Partials of thin metal lie close together without order; the seed keeps one cymbal the same cymbal. */
interface Plate {
  readonly count: number;
  readonly lowHertz: number;
  readonly highHertz: number;
  /** How long the lowest and the highest partial ring. */
  readonly lowSeconds: number;
  readonly highSeconds: number;
  /** Ratio 0..1, how much the highest partials lose against the lowest. */
  readonly tilt: number;
}

/** Partials of a plate. @param metal what it is made of @param stroke how it was struck */
export function plateModes(plate: Plate, metal: Random, stroke: Random): Mode[] {
  return Array.from({ length: plate.count }, (_, index) => {
    const share = (index + metal()) / plate.count;
    return {
      hertz: (plate.lowHertz + (plate.highHertz - plate.lowHertz) * share * share) * vary(stroke, 0.001),
      decaySeconds: (plate.lowSeconds + (plate.highSeconds - plate.lowSeconds) * share) * (0.7 + 0.6 * metal()),
      gain: ((1 - plate.tilt * share) * (0.4 + metal()) * vary(stroke, 0.35)) / Math.sqrt(plate.count),
      turns: metal(),
    };
  });
}

/** One piece of metal, whoever strikes it: numbers from a fixed small generator, so it keeps its pitch. */
export function metalOf(seed: number): Random {
  let state = seed;
  return () => {
    state = (imul(state, 1664525) + 1013904223) >>> 0;
    return state / 2 ** 32;
  };
}

const HAT_METAL = 7;

function hat(seconds: number, wash: number, chick: number): DrumVoice {
  return ({ sampleRate, force, random }) => {
    const out = silence(seconds * 1.3 + 0.03, sampleRate);
    const ring = seconds * (0.8 + 0.35 * force);
    const plate = {
      count: 34,
      lowHertz: 2900,
      highHertz: 15500,
      lowSeconds: ring * 0.75,
      highSeconds: ring,
      tilt: 0.25,
    };
    addModes(out, plateModes(plate, metalOf(HAT_METAL), random), sampleRate);
    addNoise(
      out,
      { gain: wash * (0.5 + 0.5 * force), decaySeconds: ring, riseSeconds: 0.0008, lowHertz: 6200 },
      sampleRate,
      random,
    );
    addNoise(out, { gain: 0.25 + 0.75 * force, decaySeconds: 0.006, lowHertz: 4200 }, sampleRate, random);
    if (chick > 0)
      addNoise(
        out,
        { gain: chick, decaySeconds: 0.03, riseSeconds: 0.002, lowHertz: 1400, highHertz: 5200 },
        sampleRate,
        random,
      );
    highPass(out, chick > 0 ? 1500 : 3600, sampleRate);
    lowPass(out, 8500 + 9500 * force, sampleRate);
    return out;
  };
}

export const closedHat = hat(0.1, 0.55, 0);
export const openHat = hat(0.85, 0.5, 0);
export const pedalHat = hat(0.07, 0.35, 0.8);

export const ride: DrumVoice = ({ sampleRate, force, random }) => {
  const out = silence(2.2, sampleRate);
  addModes(
    out,
    plateModes(
      { count: 30, lowHertz: 390, highHertz: 9800, lowSeconds: 1.9, highSeconds: 0.9, tilt: 0.55 },
      metalOf(23),
      random,
    ),
    sampleRate,
  );
  // The wood of the stick on the bow.
  addModes(
    out,
    [
      { hertz: 3180 * vary(random, 0.004), decaySeconds: 0.3, gain: 0.5 },
      { hertz: 4730 * vary(random, 0.004), decaySeconds: 0.24, gain: 0.42 },
      { hertz: 5990 * vary(random, 0.004), decaySeconds: 0.2, gain: 0.3 },
    ],
    sampleRate,
  );
  addNoise(out, { gain: 0.5 + 0.6 * force, decaySeconds: 0.012, lowHertz: 3000 }, sampleRate, random);
  addNoise(
    out,
    { gain: 0.1 + 0.16 * force, decaySeconds: 1.3, riseSeconds: 0.02, lowHertz: 4500, highHertz: 13000 },
    sampleRate,
    random,
  );
  highPass(out, 300, sampleRate);
  lowPass(out, 7000 + 8500 * force, sampleRate);
  return out;
};

export const crash: DrumVoice = ({ sampleRate, force, random }) => {
  const out = silence(2.8, sampleRate);
  const modes = plateModes(
    { count: 46, lowHertz: 330, highHertz: 13500, lowSeconds: 2.2, highSeconds: 1.3, tilt: 0.35 },
    metalOf(91),
    random,
  );
  addModes(out, modes, sampleRate);
  addNoise(
    out,
    { gain: 0.55 + 0.3 * force, decaySeconds: 2.1, riseSeconds: 0.012, lowHertz: 2600, highHertz: 14000 },
    sampleRate,
    random,
  );
  addNoise(out, { gain: 0.7 * force + 0.2, decaySeconds: 0.12, lowHertz: 900, highHertz: 9000 }, sampleRate, random);
  highPass(out, 260, sampleRate);
  lowPass(out, 6000 + 10000 * force, sampleRate);
  return out;
};

export const tambourine: DrumVoice = ({ sampleRate, force, random }) => {
  const out = silence(0.42, sampleRate);
  // Six pairs of jingles land one after another.
  for (let pair = 0; pair < 6; pair++) {
    const startSeconds = pair === 0 ? 0 : 0.004 * pair * vary(random, 0.6);
    addNoise(
      out,
      { startSeconds, gain: 0.55 / (1 + pair * 0.35), decaySeconds: 0.05, lowHertz: 5200 },
      sampleRate,
      random,
    );
  }
  addModes(
    out,
    plateModes(
      { count: 16, lowHertz: 5400, highHertz: 13200, lowSeconds: 0.34, highSeconds: 0.24, tilt: 0.2 },
      metalOf(5),
      random,
    ),
    sampleRate,
  );
  addNoise(out, { gain: 0.25 + 0.3 * force, decaySeconds: 0.02, lowHertz: 700, highHertz: 2600 }, sampleRate, random);
  highPass(out, 900, sampleRate);
  return out;
};

export const shaker: DrumVoice = ({ sampleRate, force, random }) => {
  const out = silence(0.2, sampleRate);
  addNoise(out, { gain: 0.9, riseSeconds: 0.008 - 0.004 * force, decaySeconds: 0.07 }, sampleRate, random);
  addNoise(
    out,
    { startSeconds: 0.03 * vary(random, 0.1), gain: 0.35, riseSeconds: 0.012, decaySeconds: 0.09 },
    sampleRate,
    random,
  );
  const grain = out.slice();
  bandPass(out, 6300 * vary(random, 0.03), 1.2, sampleRate);
  bandPass(grain, 9800, 1.6, sampleRate);
  for (let frame = 0; frame < out.length; frame++) out[frame]! += grain[frame]! * (0.3 + 0.5 * force);
  return out;
};

export const cowbell: DrumVoice = ({ sampleRate, force, random }) => {
  const out: Samples = silence(0.5, sampleRate);
  const tune = vary(random, 0.004);
  addModes(
    out,
    [
      { hertz: 587 * tune, decaySeconds: 0.36, gain: 0.6 },
      { hertz: 871 * tune, decaySeconds: 0.3, gain: 0.55 },
      { hertz: 1494 * tune, decaySeconds: 0.17, gain: 0.28 },
      { hertz: 2143 * tune, decaySeconds: 0.12, gain: 0.2 + 0.15 * force },
      { hertz: 3320 * tune, decaySeconds: 0.08, gain: 0.12 + 0.25 * force },
      { hertz: 4870 * tune, decaySeconds: 0.05, gain: 0.22 * force },
    ],
    sampleRate,
  );
  addNoise(out, { gain: 0.3 + 0.3 * force, decaySeconds: 0.006, lowHertz: 2000, highHertz: 9000 }, sampleRate, random);
  highPass(out, 250, sampleRate);
  return out;
};
