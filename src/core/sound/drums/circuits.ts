import { addNoise, addSweep, bandPass, damp, highPass, lowPass, saturate, silence } from "../signal/dsp";
import { addModes, type Mode } from "../signal/modes";
import type { Samples } from "../signal/dsp";
import { eachAnew, soften, vary, type DrumVoice } from "./drum-voice";

/** Drums of oscillators and filtered noise. */

export const kick = eachAnew(({ sampleRate, force, random }) => {
  const out = silence(0.95, sampleRate);
  const tune = vary(random, 0.002);
  addSweep(
    out,
    { fromHertz: 47 + (160 + 170 * force) * tune, toHertz: 47, sweepSeconds: 0.075, decaySeconds: 0.78, gain: 1 },
    sampleRate,
  );
  saturate(out, 1.4 + 0.8 * force);
  addNoise(out, { gain: 0.12 + 0.3 * force, decaySeconds: 0.006, lowHertz: 2500 }, sampleRate, random);
  damp(out, 0.4, 0.9, sampleRate);
  return out;
});

export const snare = eachAnew(({ sampleRate, force, random }) => {
  const out = silence(0.42, sampleRate);
  const tune = vary(random, 0.003);
  for (const [hertz, gain] of [
    [171, 0.7],
    [286, 0.5],
  ] as const)
    addSweep(
      out,
      { fromHertz: hertz * 1.6 * tune, toHertz: hertz * tune, sweepSeconds: 0.03, decaySeconds: 0.13, gain },
      sampleRate,
    );
  addNoise(
    out,
    { gain: 0.5 + 0.4 * force, decaySeconds: 0.2 + 0.08 * force, lowHertz: 1500, highHertz: 6500 + 6000 * force },
    sampleRate,
    random,
  );
  saturate(out, 1.1);
  return out;
});

export const sideStick = eachAnew(({ sampleRate, force, random }) => {
  const out = silence(0.12, sampleRate);
  addModes(
    out,
    [
      { hertz: 1640, decaySeconds: 0.05, gain: 0.7 },
      { hertz: 2390, decaySeconds: 0.03, gain: 0.45 + 0.3 * force },
      { hertz: 497, decaySeconds: 0.03, gain: 0.4 },
    ],
    sampleRate,
  );
  addNoise(out, { gain: 0.2 + 0.3 * force, decaySeconds: 0.004, lowHertz: 3000 }, sampleRate, random);
  saturate(out, 1.8);
  soften(out, force, sampleRate);
  return out;
});

export const clap = eachAnew(({ sampleRate, force, random }) => {
  const out = silence(0.5, sampleRate);
  [0, 0.011, 0.021].forEach((startSeconds) =>
    addNoise(out, { startSeconds, gain: 0.8, decaySeconds: 0.014 }, sampleRate, random),
  );
  addNoise(out, { startSeconds: 0.03, gain: 0.85, decaySeconds: 0.16 + 0.14 * force }, sampleRate, random);
  bandPass(out, 1480, 1.4 - 0.4 * force, sampleRate);
  highPass(out, 600, sampleRate);
  soften(out, force, sampleRate);
  return out;
});

const tom = (hertz: number): DrumVoice =>
  eachAnew(({ sampleRate, force, random }) => {
    const out = silence(0.75, sampleRate);
    addSweep(
      out,
      { fromHertz: hertz * (1.7 + 0.7 * force), toHertz: hertz, sweepSeconds: 0.16, decaySeconds: 0.55, gain: 1 },
      sampleRate,
    );
    addSweep(
      out,
      { fromHertz: hertz * 3.1, toHertz: hertz * 1.5, sweepSeconds: 0.1, decaySeconds: 0.2, gain: 0.2 },
      sampleRate,
    );
    addNoise(out, { gain: 0.1 + 0.2 * force, decaySeconds: 0.02, lowHertz: 1200, highHertz: 5000 }, sampleRate, random);
    saturate(out, 1.2);
    return out;
  });

export const lowTom = tom(78);
export const midTom = tom(112);
export const highTom = tom(158);

export const conga = eachAnew(({ sampleRate, force, random }) => {
  const out = silence(0.35, sampleRate);
  const tune = vary(random, 0.004);
  addSweep(
    out,
    {
      fromHertz: (330 + 160 * force) * tune,
      toHertz: 296 * tune,
      sweepSeconds: 0.03,
      decaySeconds: 0.24,
      gain: 1,
    },
    sampleRate,
  );
  addModes(out, [{ hertz: 598 * tune, decaySeconds: 0.09, gain: 0.25 + 0.2 * force }], sampleRate);
  return out;
});

/** Odd overtones, as square waves have them, of six tones that are in no ratio to each other. */
const TONES = [243, 317, 389, 461, 557, 683] as const;

function squares(decaySeconds: number, gain: number, octaves: number): readonly Mode[] {
  return TONES.flatMap((hertz, tone) =>
    Array.from({ length: 16 }, (_, index) => {
      const overtone = 2 * index + 1;
      return { hertz: hertz * octaves * overtone, decaySeconds, gain: gain / overtone, turns: (tone * 0.37) % 1 };
    }),
  );
}

function hat(seconds: number, noise: number): DrumVoice {
  return eachAnew(({ sampleRate, force, random }) => {
    const out = silence(seconds * 1.25 + 0.02, sampleRate);
    addModes(out, squares(seconds, 1, 2), sampleRate);
    addNoise(out, { gain: noise, decaySeconds: seconds * 0.9, lowHertz: 7000 }, sampleRate, random);
    highPass(out, 6200, sampleRate);
    highPass(out, 5200, sampleRate);
    lowPass(out, 9500 + 8000 * force, sampleRate);
    return out;
  });
}

export const closedHat = hat(0.055, 0.35);
export const openHat = hat(0.48, 0.3);
export const pedalHat = hat(0.1, 0.1);

function metal(seconds: number, octaves: number, noise: number, lowHertz: number): DrumVoice {
  return eachAnew(({ sampleRate, force, random }) => {
    const out = silence(seconds * 1.2, sampleRate);
    addModes(out, squares(seconds, 0.6, octaves), sampleRate);
    addModes(out, squares(seconds * 0.15, 0.6, octaves * 1.618), sampleRate);
    addNoise(out, { gain: noise, decaySeconds: seconds * 0.8, riseSeconds: 0.002, lowHertz }, sampleRate, random);
    highPass(out, lowHertz, sampleRate);
    lowPass(out, 8000 + 8000 * force, sampleRate);
    return out;
  });
}

export const ride = metal(1.1, 2.6, 0.06, 4200);
export const crash = metal(1.9, 1.3, 0.55, 2400);

export const tambourine = eachAnew(({ sampleRate, force, random }) => {
  const out = silence(0.26, sampleRate);
  for (const [startSeconds, gain] of [
    [0, 0.9],
    [0.013, 0.5],
    [0.027, 0.35],
  ] as const)
    addNoise(out, { startSeconds, gain, decaySeconds: 0.07 }, sampleRate, random);
  bandPass(out, 9200, 1.6, sampleRate);
  addModes(out, [{ hertz: 7410, decaySeconds: 0.15, gain: 0.12 + 0.1 * force }], sampleRate);
  soften(out, force, sampleRate);
  return out;
});

export const shaker = eachAnew(({ sampleRate, force, random }) => {
  const out = silence(0.14, sampleRate);
  addNoise(
    out,
    { gain: 0.9, riseSeconds: 0.02 - 0.012 * force, decaySeconds: 0.05, lowHertz: 5400 },
    sampleRate,
    random,
  );
  soften(out, force, sampleRate);
  return out;
});

/** Two tones that are cut off by a curve of their own: a signal rather than a bell. */
export const cowbell = eachAnew(({ sampleRate, force, random }) => {
  const out: Samples = silence(0.4, sampleRate);
  const tune = vary(random, 0.001);
  for (const [hertz, gain] of [
    [633, 0.6],
    [977, 0.5],
  ] as const)
    addModes(
      out,
      [1, 3, 5, 7].map((overtone) => ({
        hertz: hertz * tune * overtone,
        decaySeconds: 0.3 / (1 + 0.2 * overtone),
        gain: (gain / overtone) * (0.6 + 0.4 * force),
      })),
      sampleRate,
    );
  bandPass(out, 1500, 0.7, sampleRate);
  soften(out, force, sampleRate);
  return out;
});
