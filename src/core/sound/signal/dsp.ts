import { fromDb } from "./gain";
import type { Random } from "../../random";

/** Hoisted: looking up a global per sample is slow, above all in a test's sandbox. */
const { abs, ceil, floor, max, min, round } = Math;

/**
 * Building blocks of the drum voices. A browser, a worker and a server must make the same samples to the bit, but
 * their sin, exp and pow differ in the last place. So those functions only make coefficients, which `single` rounds to
 * 24 bits, and the path of the samples knows nothing but + - * /, which IEEE 754 defines exactly.
 */
export const single = Math.fround;

/** Mono samples, about -1..1. */
export type Samples = Float32Array;

/** @example silence(0.001, 48_000).length // 48 */
export function silence(seconds: number, sampleRate: number): Samples {
  return new Float32Array(ceil(seconds * sampleRate));
}

/** What is in one is in the other, too, as far as it goes. @param from the frame at which it begins there */
export function add(target: Samples, samples: Samples, gain = 1, from = 0): void {
  const end = min(samples.length, target.length - from);
  for (let frame = 0; frame < end; frame++) target[from + frame]! += samples[frame]! * gain;
}

/** Begins softly. */
export function rise(target: Samples, seconds: number, sampleRate: number): void {
  const frames = seconds * sampleRate;
  for (let frame = 0; frame < frames && frame < target.length; frame++) target[frame]! *= frame / frames;
}

/** The factor per sample with which something falls by 60 dB in `seconds`. @example decayFactor(1, 48_000) // 0.999856114 */
export function decayFactor(seconds: number, sampleRate: number): number {
  return single(Math.exp(Math.log(0.001) / (seconds * sampleRate)));
}

/**
 * Sine of a phase in turns by an odd polynomial on a quarter turn: error below 4e-6, made of + and * only.
 * @example sineTurns(0.25) // 1.000003543
 */
export function sineTurns(turns: number): number {
  let x = turns - floor(turns + 0.5);
  if (x > 0.25) x = 0.5 - x;
  else if (x < -0.25) x = -0.5 - x;
  const square = x * x;
  // Taylor's terms of sin(2 pi x) up to the ninth power.
  return (
    x *
    (6.283185307179586 +
      square *
        (-41.34170224039975 +
          square * (81.60524927607504 + square * (-76.70585975306136 + square * 42.05869394489765))))
  );
}

/** A sine whose pitch falls from `fromHertz` to `toHertz`, by 60 dB of the difference in `sweepSeconds`. */
export interface Sweep {
  readonly fromHertz: number;
  readonly toHertz: number;
  readonly sweepSeconds: number;
  readonly decaySeconds: number;
  readonly gain: number;
}

export function addSweep(target: Samples, sweep: Sweep, sampleRate: number): void {
  const pitchFall = decayFactor(sweep.sweepSeconds, sampleRate);
  const levelFall = decayFactor(sweep.decaySeconds, sampleRate);
  let extra = (sweep.fromHertz - sweep.toHertz) / sampleRate;
  let level = sweep.gain;
  let turns = 0;
  for (let frame = 0; frame < target.length; frame++) {
    target[frame]! += level * sineTurns(turns);
    turns += sweep.toHertz / sampleRate + extra;
    turns -= floor(turns);
    extra *= pitchFall;
    level *= levelFall;
  }
}

/** The rate at which gains of noise are meant. */
const NOISE_RATE = 48_000;
/** Above hearing there is none, so that it is the same noise at every rate. */
const NOISE_TOP_HERTZ = 18_000;

/** Noise that rises in a straight line and falls by 60 dB in `decaySeconds`, through a band. */
export interface NoiseBurst {
  readonly gain: number;
  readonly decaySeconds: number;
  readonly riseSeconds?: number;
  readonly startSeconds?: number;
  readonly lowHertz?: number;
  readonly highHertz?: number;
}

export function addNoise(target: Samples, burst: NoiseBurst, sampleRate: number, random: Random): void {
  const start = round((burst.startSeconds ?? 0) * sampleRate);
  const rise = max(1, (burst.riseSeconds ?? 0.0003) * sampleRate);
  const length = min(target.length - start, ceil(burst.decaySeconds * 1.2 * sampleRate + rise));
  if (length <= 0) return;
  const noise = new Float32Array(length);
  for (let frame = 0; frame < length; frame++) noise[frame] = random() * 2 - 1;
  if (burst.lowHertz !== undefined) highPass(noise, burst.lowHertz, sampleRate);
  lowPass(noise, burst.highHertz ?? NOISE_TOP_HERTZ, sampleRate);
  const fall = decayFactor(burst.decaySeconds, sampleRate);
  // Noise has its power in all frequencies up to half the rate: at twice the rate there is half of it in every hertz.
  const gain = burst.gain * single(Math.sqrt(sampleRate / NOISE_RATE));
  let level = gain;
  for (let frame = 0; frame < length; frame++) {
    if (frame < rise) target[start + frame]! += (noise[frame]! * gain * frame) / rise;
    else {
      target[start + frame]! += noise[frame]! * level;
      level *= fall;
    }
  }
}

/** Second-order sections after R. Bristow-Johnson, "Audio EQ Cookbook" (W3C Note 2021; formulas from memory), Q 0.707. */
export function lowPass(target: Samples, hertz: number, sampleRate: number): void {
  const { cosine, alpha } = corner(hertz, sampleRate);
  const b = (1 - cosine) / 2;
  biquad(target, b, 2 * b, b, 1 + alpha, -2 * cosine, 1 - alpha);
}

export function highPass(target: Samples, hertz: number, sampleRate: number): void {
  const { cosine, alpha } = corner(hertz, sampleRate);
  const b = (1 + cosine) / 2;
  biquad(target, b, -2 * b, b, 1 + alpha, -2 * cosine, 1 - alpha);
}

/** Rings at its centre; unity gain there. */
export function bandPass(target: Samples, hertz: number, q: number, sampleRate: number): void {
  const { cosine, alpha } = corner(hertz, sampleRate, q);
  biquad(target, alpha, 0, -alpha, 1 + alpha, -2 * cosine, 1 - alpha);
}

/** Turns what is above a corner up or down, all of it alike. */
export function highShelf(target: Samples, hertz: number, db: number, sampleRate: number): void {
  const { cosine, alpha } = corner(hertz, sampleRate);
  const a = fromDb(db / 2);
  const slope = 2 * Math.sqrt(a) * alpha;
  const [more, less] = [a + 1 + (a - 1) * cosine, a + 1 - (a - 1) * cosine];
  biquad(
    target,
    a * (more + slope),
    -2 * a * (a - 1 + (a + 1) * cosine),
    a * (more - slope),
    less + slope,
    2 * (a - 1 - (a + 1) * cosine),
    less - slope,
  );
}

function corner(hertz: number, sampleRate: number, q = Math.SQRT1_2): { cosine: number; alpha: number } {
  const angle = (2 * Math.PI * min(hertz, sampleRate * 0.45)) / sampleRate;
  return { cosine: single(Math.cos(angle)), alpha: single(Math.sin(angle)) / (2 * q) };
}

function biquad(target: Samples, b0: number, b1: number, b2: number, a0: number, a1: number, a2: number): void {
  let s1 = 0;
  let s2 = 0;
  for (let frame = 0; frame < target.length; frame++) {
    const x = target[frame]!;
    const y = (b0 * x + s1) / a0;
    s1 = b1 * x - a1 * y + s2;
    s2 = b2 * x - a2 * y;
    target[frame] = y;
  }
}

/** Rounds peaks off: a rational curve close to tanh, exact on every machine. */
export function saturate(target: Samples, drive: number): void {
  for (let frame = 0; frame < target.length; frame++) {
    const x = max(-3, min(3, target[frame]! * drive));
    target[frame] = (x * (27 + x * x)) / (27 + 9 * x * x) / drive;
  }
}

/** A hand or a cushion on the skin: fades from full to nothing by a smooth curve. */
export function damp(target: Samples, fromSeconds: number, toSeconds: number, sampleRate: number): void {
  const from = fromSeconds * sampleRate;
  const length = (toSeconds - fromSeconds) * sampleRate;
  for (let frame = ceil(from); frame < target.length; frame++) {
    const left = max(0, 1 - (frame - from) / length);
    target[frame]! *= left * left * (3 - 2 * left);
  }
}

const START_FADE_SECONDS = 0.0004;
const END_FADE_SECONDS = 0.012;
/** Where a tail is cut: 66 dB under its own peak, so that the soft fade after it goes unheard. */
const TAIL_FLOOR = 0.0005;

/** Takes out what is below hearing, cuts the tail, and makes both ends silent. */
export function finish(target: Samples, sampleRate: number): Samples {
  return finishSides([target], sampleRate)[0]!;
}

/** The same with sides that end together. */
export function finishSides(sides: readonly Samples[], sampleRate: number): Samples[] {
  for (const side of sides) highPass(side, 24, sampleRate);
  const floor = TAIL_FLOOR * sides.reduce((peak, side) => max(peak, loudest(side)), 0);
  const last = sides.reduce((most, side) => max(most, lastAbove(side, floor)), 0);
  return sides.map((side) => fadeEnds(side.slice(0, last + round(END_FADE_SECONDS * sampleRate)), sampleRate));
}

/** The last frame that is as loud as that; 0 where none is. */
function lastAbove(samples: Samples, floor: number): number {
  let last = samples.length - 1;
  while (last > 0 && abs(samples[last]!) < floor) last--;
  return last;
}

function fadeEnds(samples: Samples, sampleRate: number): Samples {
  const endFrames = round(END_FADE_SECONDS * sampleRate);
  const startFrames = round(START_FADE_SECONDS * sampleRate);
  const last = samples.length - 1;
  const fade = (from: number, to: number) => {
    for (let frame = from; frame < to; frame++)
      samples[frame]! *= min(1, frame / startFrames, (last - frame) / endFrames);
  };
  const started = min(startFrames, samples.length);
  fade(0, started);
  fade(max(started, last - endFrames), samples.length);
  return samples;
}

/** Makes the highest sample so high, whichever it is. @example [...setPeak(Float32Array.of(0.25, -0.5), 1)] // [0.5, -1] */
export function setPeak(target: Samples, peak: number): Samples {
  const scale = peak / (loudest(target) || 1);
  for (let frame = 0; frame < target.length; frame++) target[frame]! *= scale;
  return target;
}

/** The highest absolute sample. @example loudest(Float32Array.of(0.25, -0.5)) // 0.5 */
export function loudest(samples: Samples): number {
  let peak = 0;
  // By number: an iterator takes three times as long.
  for (let frame = 0; frame < samples.length; frame++) peak = max(peak, abs(samples[frame]!));
  return peak;
}
