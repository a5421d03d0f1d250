import type { Random } from "../../random";
import { add, addNoise, bandPass, highPass, highShelf, silence } from "../signal/dsp";
import { addModes, type Mode } from "../signal/modes";
import { eachAnew, soften, spotGain, vary, type DrumVoice } from "./drum-voice";
import { plateModes } from "./plate";

/** Hertz, how long it rings in seconds, and its share. */
type Partial = readonly [hertz: number, seconds: number, gain: number];

/** What rings at a spot. */
function partialsAt(partials: readonly Partial[], tune: number, spot: Random): readonly Mode[] {
  return partials.map(([hertz, decaySeconds, gain], index) => ({
    hertz: hertz * tune,
    decaySeconds,
    gain: gain * spotGain(spot),
    // They do not all begin upwards.
    turns: (0.37 * index) % 1,
  }));
}

const STICK_PARTIALS: readonly Partial[] = [
  [325, 0.09, 0.15],
  [470, 0.09, 0.1],
  [890, 0.08, 0.4],
  [1120, 0.075, 1.1],
  [1730, 0.06, 0.7],
  [2380, 0.06, 0.6],
  [2960, 0.05, 0.7],
  [3820, 0.05, 0.8],
  [4710, 0.04, 0.8],
  [6250, 0.035, 0.6],
  [8100, 0.03, 0.4],
];

export const sideStick: DrumVoice = ({ sampleRate, random }) => {
  const tune = vary(random, 0.012);
  const wood = partialsAt(STICK_PARTIALS, tune, random);
  return ({ force, random: chance }) => {
    const out = silence(0.3, sampleRate);
    addModes(out, wood, sampleRate);
    addNoise(
      out,
      { gain: 0.3 + 0.3 * force, decaySeconds: 0.007, lowHertz: 1800, highHertz: 14_000 },
      sampleRate,
      chance,
    );
    addNoise(out, { gain: 0.12, decaySeconds: 0.45, lowHertz: 220, highHertz: 5200 }, sampleRate, chance);
    soften(out, force, sampleRate);
    return [out];
  };
};

export const clap: DrumVoice = eachAnew(({ sampleRate, force, random }) => {
  const out = silence(0.45, sampleRate);
  // Several pairs of hands never meet at once.
  const hands = [0, 0.0085, 0.0172, 0.0268].map((seconds) => seconds * vary(random, 0.12));
  hands.forEach((startSeconds, index) =>
    addNoise(out, { startSeconds, gain: [0.7, 0.6, 0.75, 1][index]!, decaySeconds: 0.033 }, sampleRate, random),
  );
  addNoise(out, { startSeconds: hands[3]!, gain: 0.34, decaySeconds: 0.2 + 0.1 * force }, sampleRate, random);
  const body = out.slice();
  bandPass(out, 1200 * vary(random, 0.03), 1, sampleRate);
  bandPass(body, 2000, 0.9, sampleRate);
  add(out, body, 0.2 + 0.2 * force);
  highShelf(out, 3000, -3, sampleRate);
  soften(out, force, sampleRate);
  return out;
});

const JINGLES = 7;
const JINGLE = {
  partials: 34,
  lowHertz: 2100,
  highHertz: 17_000,
  octaveDb: [-34, -34, -34, -28, -3, 0, -4],
  lowSeconds: 0.5,
  highSeconds: 0.35,
} as const;

export const tambourine: DrumVoice = ({ sampleRate, random }) => {
  // Pairs of jingles land one after another.
  const rung = silence(0.6, sampleRate);
  for (let pair = 0; pair < JINGLES; pair++) {
    const one = silence(0.5, sampleRate);
    addModes(one, plateModes({ ...JINGLE, seed: 50 + pair }, random), sampleRate);
    const late = pair === 0 ? 0 : 0.0035 * pair * vary(random, 0.6);
    add(rung, one, 1 / (1 + 0.2 * pair), Math.round(late * sampleRate));
  }
  return ({ force, random: chance }) => {
    const out = rung.slice();
    addNoise(out, { gain: 1.2, decaySeconds: 0.35, lowHertz: 5800 }, sampleRate, chance);
    // The hand on the frame.
    addNoise(out, { gain: 0.5 + 0.7 * force, decaySeconds: 0.05, lowHertz: 40, highHertz: 3200 }, sampleRate, chance);
    soften(out, force, sampleRate);
    return [out];
  };
};

export const shaker: DrumVoice = eachAnew(({ sampleRate, force, random }) => {
  const out = silence(0.2, sampleRate);
  addNoise(out, { gain: 0.9, riseSeconds: 0.008 - 0.004 * force, decaySeconds: 0.07 }, sampleRate, random);
  addNoise(
    out,
    { startSeconds: 0.03 * vary(random, 0.1), gain: 0.35, riseSeconds: 0.012, decaySeconds: 0.09 },
    sampleRate,
    random,
  );
  bandPass(out, 8600 * vary(random, 0.03), 1.2, sampleRate);
  highPass(out, 5200, sampleRate);
  // The hand and what holds the grains.
  addNoise(
    out,
    { gain: 0.03, riseSeconds: 0.006, decaySeconds: 0.06, lowHertz: 40, highHertz: 1800 },
    sampleRate,
    random,
  );
  soften(out, force, sampleRate);
  return out;
});

const BELL_PARTIALS: readonly Partial[] = [
  [587, 0.3, 0.6],
  [871, 0.22, 0.18],
  [1494, 0.2, 0.08],
  [2143, 0.26, 0.22],
  [2710, 0.25, 0.18],
  [3320, 0.24, 0.18],
  [4130, 0.19, 0.13],
  [4870, 0.18, 0.12],
  [5980, 0.17, 0.11],
  [7350, 0.16, 0.1],
];

export const cowbell: DrumVoice = ({ sampleRate, random }) => {
  const tune = vary(random, 0.004);
  const bell = partialsAt(BELL_PARTIALS, tune, random);
  return ({ force, random: chance }) => {
    const out = silence(0.5, sampleRate);
    addModes(out, bell, sampleRate);
    addNoise(
      out,
      { gain: 0.4 + 0.4 * force, decaySeconds: 0.006, lowHertz: 2000, highHertz: 12_000 },
      sampleRate,
      chance,
    );
    highPass(out, 400, sampleRate);
    highPass(out, 400, sampleRate);
    soften(out, force, sampleRate);
    return [out];
  };
};
