import { add, addNoise, addSweep, bandPass, highPass, lowPass, saturate, silence } from "../signal/dsp";
import { addModes, type Mode } from "../signal/modes";
import { eachAnew, soften, spotGain, vary, type DrumVoice, type StrokeContext } from "./drum-voice";
import { plateModes, struckPlate } from "./plate";

/** Things that lie about on a quay. */

/** A board, a box, a bottle: partials in no ratio, the higher the shorter; where it is struck changes their shares. */
function body(
  { force, random }: StrokeContext,
  hertz: readonly number[],
  seconds: number,
  brightness: number,
): readonly Mode[] {
  const tune = vary(random, 0.006);
  return hertz.map((one, index) => ({
    hertz: one * tune,
    decaySeconds: seconds / (1 + 0.45 * index),
    gain: (spotGain(random) * (index === 0 ? 1 : brightness * (0.45 + 0.75 * force))) / (1 + 0.35 * index),
    // They do not all begin upwards.
    turns: (0.37 * index) % 1,
  }));
}

/** A heel against an empty crate. */
export const kick = eachAnew((stroke) => {
  const { sampleRate, force, random } = stroke;
  const out = silence(0.5, sampleRate);
  addSweep(out, { fromHertz: 96, toHertz: 63, sweepSeconds: 0.06, decaySeconds: 0.3, gain: 1 }, sampleRate);
  addModes(out, body(stroke, [97, 151, 236, 342, 489], 0.19, 0.6), sampleRate);
  addNoise(
    out,
    { gain: 0.3 + 0.35 * force, decaySeconds: 0.03, lowHertz: 180, highHertz: 900 + 1800 * force },
    sampleRate,
    random,
  );
  // The boards answer.
  addNoise(
    out,
    { startSeconds: 0.012, gain: 0.1 + 0.1 * force, decaySeconds: 0.07, lowHertz: 700, highHertz: 2600 },
    sampleRate,
    random,
  );
  saturate(out, 1.8);
  return out;
});

/** A rope's end on a crate with gravel in it. */
export const snare = eachAnew((stroke) => {
  const { sampleRate, force, random } = stroke;
  const out = silence(0.45, sampleRate);
  addModes(out, body(stroke, [214, 377, 598, 941, 1460], 0.14, 0.7), sampleRate);
  addNoise(out, { gain: 0.8, decaySeconds: 0.022, lowHertz: 700, highHertz: 5200 + 4000 * force }, sampleRate, random);
  for (let stone = 0; stone < 14; stone++)
    addNoise(
      out,
      {
        startSeconds: 0.006 + 0.012 * stone * vary(random, 0.7),
        gain: (0.5 + 0.4 * force) / (1 + 0.22 * stone),
        decaySeconds: 0.02,
        lowHertz: 1900,
        highHertz: 8200,
      },
      sampleRate,
      random,
    );
  saturate(out, 2);
  soften(out, force, sampleRate);
  return out;
});

/** Two slats. */
export const sideStick = eachAnew((stroke) => {
  const { sampleRate, force, random } = stroke;
  const out = silence(0.2, sampleRate);
  addModes(out, body(stroke, [871, 1397, 2263, 3390, 4830], 0.07, 1), sampleRate);
  addNoise(out, { gain: 0.3 + 0.4 * force, decaySeconds: 0.005, lowHertz: 2200 }, sampleRate, random);
  return out;
});

/** Work gloves. */
export const clap = eachAnew(({ sampleRate, force, random }) => {
  const out = silence(0.3, sampleRate);
  for (const startSeconds of [0, 0.006 * vary(random, 0.4), 0.015 * vary(random, 0.3)])
    addNoise(out, { startSeconds, gain: 0.7, decaySeconds: 0.03 }, sampleRate, random);
  addNoise(out, { startSeconds: 0.015, gain: 0.3, decaySeconds: 0.1 }, sampleRate, random);
  const air = out.slice();
  bandPass(out, 790, 1.2, sampleRate);
  bandPass(air, 2100, 1, sampleRate);
  add(out, air, 0.4 + 0.3 * force);
  soften(out, force, sampleRate);
  return out;
});

/** A bucket, a barrel, a larger one. */
const barrel = (hertz: number, seconds: number): DrumVoice =>
  eachAnew((stroke) => {
    const { sampleRate, force, random } = stroke;
    const out = silence(seconds * 1.3, sampleRate);
    const ratios = [1, 1.73, 2.52, 3.31, 4.87, 6.4];
    addModes(
      out,
      body(
        stroke,
        ratios.map((ratio) => hertz * ratio),
        seconds,
        0.75,
      ),
      sampleRate,
    );
    addNoise(
      out,
      { gain: 0.3 + 0.4 * force, decaySeconds: 0.016, lowHertz: 300, highHertz: 1600 + 2600 * force },
      sampleRate,
      random,
    );
    saturate(out, 1);
    return out;
  });

export const lowTom = barrel(94, 0.42);
export const midTom = barrel(137, 0.36);
export const highTom = barrel(191, 0.3);

/** A palm on the neck of a bottle. */
export const conga = eachAnew((stroke) => {
  const { sampleRate, force, random } = stroke;
  const out = silence(0.35, sampleRate);
  addSweep(out, { fromHertz: 281, toHertz: 318, sweepSeconds: 0.05, decaySeconds: 0.2, gain: 0.9 }, sampleRate);
  addModes(out, body(stroke, [318, 867, 1512], 0.1, 0.4), sampleRate);
  addNoise(out, { gain: 0.25 + 0.3 * force, decaySeconds: 0.05, lowHertz: 250, highHertz: 1500 }, sampleRate, random);
  return out;
});

/** Links of a chain, one after the other. */
function chain(links: number, gapSeconds: number, seconds: number): DrumVoice {
  return ({ sampleRate, random }) => {
    const steel = Array.from({ length: links }, (_, link) => {
      const one = silence(seconds, sampleRate);
      addModes(
        one,
        plateModes({ ...STEEL, seed: 31 + link, lowSeconds: seconds, highSeconds: seconds * 0.6 }, random),
        sampleRate,
      );
      return one;
    });
    return ({ force, random: chance }) => {
      const out = silence(links * gapSeconds + seconds + 0.02, sampleRate);
      steel.forEach((ringing, link) => {
        const one = ringing.slice();
        addNoise(one, { gain: 0.35 + 0.4 * force, decaySeconds: 0.006, lowHertz: 4500 }, sampleRate, chance);
        const from = link === 0 ? 0 : Math.round((link + vary(chance, 0.35) - 1) * gapSeconds * sampleRate);
        add(out, one, (1 - (0.7 * link) / links) * (link === 0 ? 1 : 0.6 + 0.4 * force), from);
      });
      highPass(out, 900, sampleRate);
      lowPass(out, 9000 + 8000 * force, sampleRate);
      soften(out, force, sampleRate);
      return [out];
    };
  };
}

const STEEL = {
  partials: 24,
  lowHertz: 1400,
  highHertz: 14_200,
  octaveDb: [-40, -40, -16, -10, -4, 0, -6],
} as const;

export const closedHat = chain(2, 0.009, 0.06);
export const openHat = chain(11, 0.042, 0.2);

/** The lid of a tin, pressed down. */
export const pedalHat = eachAnew((stroke) => {
  const { sampleRate, force, random } = stroke;
  const out = silence(0.16, sampleRate);
  addModes(out, body(stroke, [1130, 2240, 3610, 5380, 7700], 0.06, 1), sampleRate);
  addNoise(out, { gain: 0.4, riseSeconds: 0.004, decaySeconds: 0.04, lowHertz: 1600 }, sampleRate, random);
  lowPass(out, 6000 + 5000 * force, sampleRate);
  return out;
});

/** The blade of a saw. */
export const ride = struckPlate(
  {
    seed: 57,
    partials: 110,
    lowHertz: 430,
    highHertz: 13_000,
    octaveDb: [-30, -12, -2, -4, -4, -6, -16],
    lowSeconds: 2.4,
    highSeconds: 0.7,
  },
  (force) => [{ gain: 0.4 + 0.5 * force, decaySeconds: 0.009, lowHertz: 2800 }],
);

/** A sheet of tin. */
export const crash = struckPlate(
  {
    seed: 83,
    partials: 200,
    lowHertz: 140,
    highHertz: 10_500,
    octaveDb: [-6, -3, -2, 0, -2, -6, -20],
    lowSeconds: 2.2,
    highSeconds: 1.1,
    bloom: { fromHertz: 900, seconds: 0.04 },
  },
  (force) => [{ gain: 0.3 + 0.4 * force, decaySeconds: 0.05, lowHertz: 700, highHertz: 7000 }],
);

/** Bolts in a jar. */
export const tambourine = eachAnew((stroke) => {
  const { sampleRate, force, random } = stroke;
  const out = silence(0.4, sampleRate);
  for (let bolt = 0; bolt < 8; bolt++) {
    const one = silence(0.14, sampleRate);
    addModes(
      one,
      body(
        stroke,
        [2310, 3720, 5470, 7900].map((hertz) => hertz * vary(random, 0.12)),
        0.1,
        1,
      ),
      sampleRate,
    );
    addNoise(one, { gain: 0.4, decaySeconds: 0.005, lowHertz: 3500 }, sampleRate, random);
    const from = Math.round((bolt === 0 ? 0 : 0.02 * bolt * vary(random, 0.5)) * sampleRate);
    add(out, one, (0.6 + 0.4 * force) / (1 + 0.4 * bolt), from);
  }
  highPass(out, 1500, sampleRate);
  soften(out, force, sampleRate);
  return out;
});

/** Sand in a paper bag. */
export const shaker = eachAnew(({ sampleRate, force, random }) => {
  const out = silence(0.22, sampleRate);
  addNoise(out, { gain: 0.7, riseSeconds: 0.018 - 0.01 * force, decaySeconds: 0.08 }, sampleRate, random);
  for (let grain = 0; grain < 9; grain++)
    addNoise(
      out,
      { startSeconds: 0.012 * grain * vary(random, 0.6), gain: 0.6, decaySeconds: 0.004 },
      sampleRate,
      random,
    );
  bandPass(out, 4300, 0.8, sampleRate);
  soften(out, force, sampleRate);
  return out;
});

/** A full bottle, struck with a key. */
export const cowbell = eachAnew((stroke) => {
  const { sampleRate, force, random } = stroke;
  const out = silence(0.5, sampleRate);
  addModes(out, body(stroke, [1343, 2978, 4477, 6130], 0.36, 0.7), sampleRate);
  addNoise(out, { gain: 0.25 + 0.35 * force, decaySeconds: 0.004, lowHertz: 3000 }, sampleRate, random);
  soften(out, force, sampleRate);
  return out;
});
