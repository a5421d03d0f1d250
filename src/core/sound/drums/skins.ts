import { add, addNoise, addSweep, damp, highPass, lowPass, saturate, silence } from "../signal/dsp";
import { addModes, type Mode } from "../signal/modes";
import { soften, spotGain, vary, type DrumVoice, type StrikePoint } from "./drum-voice";

/** Partials of a skin that moves the air in its shell, against its lowest (measured on toms; common practice, no source). */
const SHELL_RATIOS = [1, 1.47, 2.07, 2.74, 3.47, 4.4, 5.9] as const;
/** The same of a snare drum's two heads. */
const SNARE_RATIOS = [1, 1.5, 2.13, 2.82, 3.6] as const;
/** Partials of an ideal round skin against its lowest, from the zeros of Bessel functions (any acoustics handbook). */
const SKIN_RATIOS = [1, 1.593, 2.136, 2.296, 2.653, 2.917] as const;

/** The overtones of a skin. @param seconds of the lowest of them; each of the others rings shorter */
function overtones(
  { random }: StrikePoint,
  hertz: number,
  ratios: readonly number[],
  seconds: number,
  gain: number,
): readonly Mode[] {
  return ratios.slice(1).map((ratio, index) => ({
    hertz: hertz * ratio,
    decaySeconds: seconds / (1 + 0.5 * index),
    gain: (gain * spotGain(random)) / (1 + 0.6 * index),
  }));
}

export const kick: DrumVoice = (point) => {
  const { sampleRate, random } = point;
  const tune = vary(random, 0.006);
  const shell = overtones(point, 55 * tune, [1, 1.5, 2.7, 4.1], 0.2, 0.2);
  return ({ force, random: chance }) => {
    const out = silence(0.75, sampleRate);
    const sweep = { fromHertz: (95 + 35 * force) * tune, toHertz: 48 * tune, sweepSeconds: 0.2 };
    addSweep(out, { ...sweep, decaySeconds: 0.42 + 0.08 * force, gain: 1 }, sampleRate);
    addModes(out, shell, sampleRate);
    saturate(out, 1 + 0.3 * force);
    const click = silence(0.04, sampleRate);
    // The felt of the beater, then the air of the shell, and what the room says to it.
    const beater = { gain: 0.6 + 1.1 * force, decaySeconds: 0.024, lowHertz: 1500, highHertz: 4500 };
    addNoise(click, beater, sampleRate, chance);
    lowPass(click, 6500, sampleRate);
    add(out, click);
    addNoise(out, { gain: 0.4, decaySeconds: 0.08, lowHertz: 90, highHertz: 420 }, sampleRate, chance);
    addNoise(out, { gain: 0.075, decaySeconds: 0.25, lowHertz: 300, highHertz: 5000 }, sampleRate, chance);
    damp(out, 0.17, 0.4, sampleRate);
    return [out];
  };
};

export const snare: DrumVoice = (point) => {
  const { sampleRate, random } = point;
  const tune = 183 * vary(random, 0.008);
  const heads = overtones(point, tune, SNARE_RATIOS, 0.16, 0.3);
  return ({ force, random: chance }) => {
    const out = silence(0.6, sampleRate);
    const sweep = { fromHertz: tune * (1.1 + 0.2 * force), toHertz: tune, sweepSeconds: 0.045 };
    addSweep(out, { ...sweep, decaySeconds: 0.22, gain: 0.7 }, sampleRate);
    addModes(out, heads, sampleRate);
    addNoise(
      out,
      { gain: 0.2 + 0.2 * force, decaySeconds: 0.012, lowHertz: 1200, highHertz: 6000 },
      sampleRate,
      chance,
    );
    // The wires: those that lie on the head, and their rattle.
    const wires = 0.42 + 0.1 * force;
    addNoise(
      out,
      { gain: wires, riseSeconds: 0.002, decaySeconds: 0.38, lowHertz: 900, highHertz: 5200 },
      sampleRate,
      chance,
    );
    addNoise(
      out,
      { gain: wires / 3, riseSeconds: 0.003, decaySeconds: 0.2, lowHertz: 4000, highHertz: 10_000 },
      sampleRate,
      chance,
    );
    saturate(out, 1.2 + 0.5 * force);
    soften(out, force, sampleRate);
    return [out];
  };
};

const tom =
  (hertz: number, seconds: number, stickHertz: number): DrumVoice =>
  (point) => {
    const { sampleRate, random } = point;
    const tune = hertz * vary(random, 0.006);
    const head = silence(seconds, sampleRate);
    addModes(head, overtones(point, tune, SHELL_RATIOS, seconds * 0.6, 0.5), sampleRate);
    return ({ force, random: chance }) => {
      const out = silence(seconds, sampleRate);
      const sweep = { fromHertz: tune * (1.08 + 0.12 * force), toHertz: tune, sweepSeconds: 0.13 };
      addSweep(out, { ...sweep, decaySeconds: seconds, gain: 0.9 }, sampleRate);
      add(out, head, 0.6 + 0.4 * force);
      // The stick, and the air that the shell lets out.
      const stick = silence(0.04, sampleRate);
      const contact = {
        gain: (5600 + 11_600 * force) / stickHertz,
        decaySeconds: 0.02,
        lowHertz: 900,
        highHertz: stickHertz,
      };
      addNoise(stick, contact, sampleRate, chance);
      lowPass(stick, 1.4 * stickHertz, sampleRate);
      addNoise(out, { gain: 7.5 / hertz, decaySeconds: 0.4, lowHertz: 200, highHertz: 4000 }, sampleRate, chance);
      saturate(out, 0.9);
      add(out, stick);
      return [out];
    };
  };

export const lowTom = tom(83, 1.25, 4300);
export const midTom = tom(121, 1.15, 5600);
export const highTom = tom(160, 1, 7000);

export const conga: DrumVoice = (point) => {
  const { sampleRate, random } = point;
  const tune = 236 * vary(random, 0.006);
  const skin = overtones(point, tune, SKIN_RATIOS, 0.45, 0.4);
  return ({ force, random: chance }) => {
    const out = silence(0.7, sampleRate);
    const sweep = { fromHertz: tune * (1.04 + 0.06 * force), toHertz: tune, sweepSeconds: 0.05 };
    addSweep(out, { ...sweep, decaySeconds: 0.48, gain: 0.8 }, sampleRate);
    addModes(out, skin, sampleRate);
    const slap = silence(0.06, sampleRate);
    addNoise(slap, { gain: 0.15 + 0.3 * force, decaySeconds: 0.022, lowHertz: 900 }, sampleRate, chance);
    lowPass(slap, 2500 + 3000 * force, sampleRate);
    add(out, slap);
    addNoise(out, { gain: 0.03, decaySeconds: 0.3, lowHertz: 300, highHertz: 3000 }, sampleRate, chance);
    highPass(out, 165, sampleRate);
    highPass(out, 135, sampleRate);
    return [out];
  };
};
