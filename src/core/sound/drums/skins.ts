import { addModes, addNoise, addSweep, bandPass, damp, highPass, lowPass, saturate, silence } from "../dsp";
import { vary, type DrumVoice } from "./drum-voice";

/** Partials of an ideal round skin against its lowest, from the zeros of Bessel functions (any acoustics handbook). */
const SKIN_RATIOS = [1, 1.593, 2.136, 2.296, 2.653, 2.917] as const;

export const kick: DrumVoice = ({ sampleRate, force, random }) => {
  const out = silence(0.75, sampleRate);
  const tune = vary(random, 0.008);
  addSweep(
    out,
    {
      fromHertz: (130 + 90 * force) * tune,
      toHertz: 51 * tune,
      sweepSeconds: 0.11,
      decaySeconds: 0.5 + 0.12 * force,
      gain: 1,
    },
    sampleRate,
  );
  addModes(
    out,
    [
      { hertz: 83 * tune, decaySeconds: 0.24, gain: 0.25 },
      { hertz: 148 * tune, decaySeconds: 0.11, gain: 0.12 },
    ],
    sampleRate,
  );
  saturate(out, 1.1 + 0.7 * force);
  // The felt of the beater, then the air of the shell.
  addNoise(
    out,
    { gain: 0.16 + 0.5 * force, decaySeconds: 0.016, lowHertz: 900, highHertz: 2200 + 4200 * force },
    sampleRate,
    random,
  );
  addNoise(out, { gain: 0.3, decaySeconds: 0.09, lowHertz: 60, highHertz: 420 }, sampleRate, random);
  damp(out, 0.17, 0.4, sampleRate);
  return out;
};

export const snare: DrumVoice = ({ sampleRate, force, random }) => {
  const out = silence(0.6, sampleRate);
  const tune = vary(random, 0.01);
  addSweep(
    out,
    { fromHertz: 262 * tune, toHertz: 187 * tune, sweepSeconds: 0.045, decaySeconds: 0.19, gain: 0.62 },
    sampleRate,
  );
  addModes(
    out,
    [
      { hertz: 334 * tune, decaySeconds: 0.13, gain: 0.3 },
      { hertz: 468 * tune, decaySeconds: 0.09, gain: 0.17 * vary(random, 0.3) },
      { hertz: 702 * tune, decaySeconds: 0.055, gain: 0.11 * vary(random, 0.3) },
    ],
    sampleRate,
  );
  const wires = silence(0.6, sampleRate);
  addNoise(
    wires,
    {
      gain: 0.5 + 0.42 * force,
      riseSeconds: 0.0012,
      decaySeconds: 0.2 + 0.14 * force,
      lowHertz: 1100,
      highHertz: 4600 + 7000 * force,
    },
    sampleRate,
    random,
  );
  addNoise(
    wires,
    { gain: 0.2, riseSeconds: 0.004, decaySeconds: 0.13, lowHertz: 380, highHertz: 1500 },
    sampleRate,
    random,
  );
  for (let frame = 0; frame < out.length; frame++) out[frame]! += wires[frame]!;
  addNoise(out, { gain: 0.35 + 0.6 * force, decaySeconds: 0.008, lowHertz: 2200, highHertz: 9000 }, sampleRate, random);
  saturate(out, 0.9 + 0.5 * force);
  return out;
};

export const sideStick: DrumVoice = ({ sampleRate, force, random }) => {
  const out = silence(0.25, sampleRate);
  const tune = vary(random, 0.012);
  addModes(
    out,
    [
      { hertz: 415 * tune, decaySeconds: 0.075, gain: 0.5 },
      { hertz: 1020 * tune, decaySeconds: 0.05, gain: 0.6 },
      { hertz: 1730 * tune, decaySeconds: 0.042, gain: 0.75 },
      { hertz: 2680 * tune, decaySeconds: 0.03, gain: 0.4 + 0.4 * force },
      { hertz: 4120 * tune, decaySeconds: 0.018, gain: 0.15 + 0.35 * force },
    ],
    sampleRate,
  );
  addNoise(out, { gain: 0.5 + 0.5 * force, decaySeconds: 0.007, lowHertz: 1800, highHertz: 8000 }, sampleRate, random);
  addNoise(out, { gain: 0.12, decaySeconds: 0.09, lowHertz: 900, highHertz: 3600 }, sampleRate, random);
  return out;
};

export const clap: DrumVoice = ({ sampleRate, force, random }) => {
  const out = silence(0.45, sampleRate);
  // Several pairs of hands never meet at once.
  const hands = [0, 0.0085, 0.0172, 0.0268].map((seconds) => seconds * vary(random, 0.12));
  hands.forEach((startSeconds, index) =>
    addNoise(
      out,
      { startSeconds, gain: [0.7, 0.6, 0.75, 1][index]!, decaySeconds: index === 3 ? 0.05 : 0.018 },
      sampleRate,
      random,
    ),
  );
  addNoise(out, { startSeconds: hands[3]!, gain: 0.34, decaySeconds: 0.2 + 0.1 * force }, sampleRate, random);
  const body = out.slice();
  bandPass(out, 1250 * vary(random, 0.03), 1.1, sampleRate);
  bandPass(body, 2500, 0.8, sampleRate);
  for (let frame = 0; frame < out.length; frame++) out[frame]! += body[frame]! * (0.25 + 0.4 * force);
  highPass(out, 480, sampleRate);
  return out;
};

const tom =
  (hertz: number, ringSeconds: number): DrumVoice =>
  ({ sampleRate, force, random }) => {
    const out = silence(ringSeconds * 1.3, sampleRate);
    const tune = hertz * vary(random, 0.007);
    addSweep(
      out,
      {
        fromHertz: tune * (1.25 + 0.25 * force),
        toHertz: tune,
        sweepSeconds: 0.13,
        decaySeconds: ringSeconds,
        gain: 0.9,
      },
      sampleRate,
    );
    addModes(
      out,
      SKIN_RATIOS.slice(1).map((ratio, index) => ({
        hertz: tune * ratio,
        decaySeconds: (ringSeconds * 0.55) / (1 + index * 0.6),
        gain: ((0.3 + 0.2 * force) / (1 + index)) * vary(random, 0.25),
      })),
      sampleRate,
    );
    addNoise(
      out,
      { gain: 0.25 + 0.5 * force, decaySeconds: 0.014, lowHertz: 700, highHertz: 2400 + 3600 * force },
      sampleRate,
      random,
    );
    addNoise(out, { gain: 0.12, decaySeconds: 0.14, lowHertz: 120, highHertz: 800 }, sampleRate, random);
    saturate(out, 1);
    damp(out, ringSeconds * 0.35, ringSeconds * 0.8, sampleRate);
    return out;
  };

export const lowTom = tom(88, 0.62);
export const midTom = tom(121, 0.52);
export const highTom = tom(163, 0.44);

export const conga: DrumVoice = ({ sampleRate, force, random }) => {
  const out = silence(0.5, sampleRate);
  const tune = 236 * vary(random, 0.008);
  addSweep(
    out,
    { fromHertz: tune * (1.08 + 0.1 * force), toHertz: tune, sweepSeconds: 0.05, decaySeconds: 0.34, gain: 0.8 },
    sampleRate,
  );
  addModes(
    out,
    SKIN_RATIOS.slice(1).map((ratio, index) => ({
      hertz: tune * ratio,
      decaySeconds: 0.17 / (1 + index * 0.5),
      gain: ((0.24 + 0.32 * force) / (1 + index * 0.7)) * vary(random, 0.3),
    })),
    sampleRate,
  );
  const slap = silence(0.06, sampleRate);
  addNoise(slap, { gain: 0.3 + 0.7 * force, decaySeconds: 0.022, lowHertz: 900 }, sampleRate, random);
  lowPass(slap, 2500 + 3000 * force, sampleRate);
  for (let frame = 0; frame < slap.length; frame++) out[frame]! += slap[frame]!;
  return out;
};
