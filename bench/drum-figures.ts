import { loudestMoment } from "../src/core/sound/loudness/sample-level";
import { powerSpectrum } from "../tests/support/spectrum";

/** What tells one drum from another; undefined where it says nothing of it. */
export type Figures = Readonly<Record<string, number | undefined>>;

export const OCTAVES_HERTZ = [63, 125, 250, 500, 1000, 2000, 4000, 8000, 16000] as const;
/** Octaves further below the loudest are noise. */
const FLOOR_DB = -60;
const PARTIALS_FROM_DB = -45;

/**
 * Figures of a stroke: octave bands in dB below the loudest, the time in which it falls by 60 dB, where its spectrum lies in the middle
 * in its first 10 ms and from 50 to 200 ms, how far its peak is above its first 150 ms, how loud it is, and how many partials it has.
 */
export function drumFigures(samples: Float32Array, sampleRate: number): Figures {
  const from = onset(samples);
  const stroke = samples.subarray(from);
  const part = (start: number, end: number) => stroke.subarray(start * sampleRate, Math.round(end * sampleRate));
  return {
    ...octaves(stroke, sampleRate),
    "T60 s": t60(stroke, sampleRate),
    "centroid 0-10 ms, Hz": centroid(part(0, 0.01), sampleRate),
    "centroid 50-200 ms, Hz": centroid(part(0.05, 0.2), sampleRate),
    "crest dB": crestDb(part(0, 0.15)),
    "loudness LUFS": loudestMoment([stroke], sampleRate),
    partials: partials(stroke, sampleRate),
  };
}

const db = (power: number) => 10 * Math.log10(power + 1e-30);

/** Where it begins: 40 dB below its peak. */
function onset(samples: Float32Array): number {
  const peak = samples.reduce((most, x) => Math.max(most, Math.abs(x)), 0);
  return Math.max(
    0,
    samples.findIndex((x) => Math.abs(x) > peak / 100),
  );
}

function lengthFor(samples: Float32Array): number {
  return 2 ** Math.ceil(Math.log2(Math.max(512, samples.length)));
}

function octaves(stroke: Float32Array, sampleRate: number): Figures {
  const length = lengthFor(stroke);
  const spectrum = powerSpectrum(stroke, length, false);
  const levels = OCTAVES_HERTZ.map((hertz) => {
    const [low, high] = [hertz / Math.SQRT2, hertz * Math.SQRT2].map((edge) =>
      Math.round((edge * length) / sampleRate),
    );
    return db(spectrum.slice(low, Math.min(high!, spectrum.length)).reduce((sum, power) => sum + power, 0));
  });
  const most = Math.max(...levels);
  return Object.fromEntries(
    OCTAVES_HERTZ.map((hertz, index) => [`${hertz} Hz dB`, Math.max(FLOOR_DB, levels[index]! - most)]),
  );
}

/** By Schroeder's backward integration (1965, from memory), from 5 to 35 dB down; undefined for what is over before. */
function t60(stroke: Float32Array, sampleRate: number): number | undefined {
  let left = 0;
  const after = new Float64Array(stroke.length + 1);
  for (let at = stroke.length - 1; at >= 0; at--) after[at] = left += stroke[at]! ** 2;
  const when = (level: number) => after.findIndex((energy) => db(energy / after[0]!) <= level);
  const [early, late] = [when(-5), when(-35)];
  return early < 0 || late <= early ? undefined : (2 * (late - early)) / sampleRate;
}

function centroid(part: Float32Array, sampleRate: number): number | undefined {
  const length = lengthFor(part);
  const spectrum = powerSpectrum(part, length, true);
  let [sum, weighted] = [0, 0];
  spectrum.forEach((power, bin) => {
    const amplitude = Math.sqrt(power);
    sum += amplitude;
    weighted += amplitude * bin;
  });
  return sum < 1e-6 ? undefined : ((weighted / sum) * sampleRate) / length;
}

function crestDb(part: Float32Array): number {
  const peak = part.reduce((most, x) => Math.max(most, Math.abs(x)), 0);
  const mean = part.reduce((sum, x) => sum + x * x, 0) / part.length;
  return db(peak ** 2 / mean);
}

/** Peaks of the spectrum of the first second, as far as they stand out by 6 dB among their neighbours. */
function partials(stroke: Float32Array, sampleRate: number): number {
  // Also of a shorter one, so that neighbours are as near.
  const second = new Float32Array(sampleRate);
  second.set(stroke.subarray(0, sampleRate));
  const spectrum = powerSpectrum(second, lengthFor(second), true);
  const most = db(spectrum.reduce((one, other) => Math.max(one, other), 0));
  let count = 0;
  for (let bin = 6; bin < spectrum.length - 6; bin++) {
    const here = spectrum[bin]!;
    if (db(here) < most + PARTIALS_FROM_DB || here < spectrum[bin - 1]! || here <= spectrum[bin + 1]!) continue;
    const valley = Math.max(Math.min(...spectrum.slice(bin - 6, bin)), Math.min(...spectrum.slice(bin + 1, bin + 7)));
    if (db(here) - db(valley) > 6) count++;
  }
  return count;
}
