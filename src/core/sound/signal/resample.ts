import { single, type Samples } from "./dsp";

/** Hoisted: looking up a global per sample is slow, above all in a test's sandbox. */
const { ceil, floor, max, min } = Math;

/** On either side so many zero crossings are weighed. */
const CROSSINGS = 24;
/** Points of the table a crossing; between them in a straight line, which is good to -100 dB. */
const POINTS = 512;
/** Of Kaiser's window: what it folds back is 90 dB down. */
const BETA = 9;
/** As far up as the pass band goes of what both rates can hold; the rest is left for the slope. */
const PASS_BAND = 0.94;

let kernel: Float32Array | undefined;

/**
 * The same sound at another speed: `ratio` samples go by in the time of one, 2 is an octave up and half as long. What would
 * fold back above half the sample rate is taken out first, by a windowed sinc (J. O. Smith, "Digital audio resampling", and
 * Kaiser's window; from memory), with + - * alone on the samples: every machine makes the same bytes.
 * @param ratio above 0; taken to single precision
 * @example resample(new Float32Array(48_000), 2).length // 24000
 */
export function resample(samples: Samples, ratio: number): Samples {
  const step = single(ratio);
  if (step === 1) return samples.slice();
  const table = (kernel ??= kaiserSinc());
  const out = new Float32Array(ceil(samples.length / step));
  const cutoff = single(PASS_BAND * min(1, 1 / step));
  const reach = CROSSINGS / cutoff;
  for (let frame = 0; frame < out.length; frame++) {
    const centre = frame * step;
    const first = max(0, ceil(centre - reach));
    const last = min(samples.length - 1, floor(centre + reach));
    let sum = 0;
    for (let at = first; at <= last; at++) {
      const place = (at < centre ? centre - at : at - centre) * cutoff * POINTS;
      const point = floor(place);
      const low = table[point]!;
      sum += samples[at]! * (low + (table[point + 1]! - low) * (place - point));
    }
    out[frame] = sum * cutoff;
  }
  return out;
}

/** From its middle outwards. */
function kaiserSinc(): Float32Array {
  const length = CROSSINGS * POINTS + 2;
  const most = besselI0(BETA);
  return Float32Array.from({ length }, (_, point) => {
    const x = point / POINTS;
    const share = x / CROSSINGS;
    if (share >= 1) return 0;
    const window = besselI0(BETA * Math.sqrt(1 - share * share)) / most;
    return single((x === 0 ? 1 : Math.sin(Math.PI * x) / (Math.PI * x)) * window);
  });
}

/** The modified Bessel function of the first kind and order 0, by its series. */
function besselI0(x: number): number {
  let [sum, term] = [1, 1];
  for (let k = 1; term > 1e-12 * sum; k++) {
    term *= (x / (2 * k)) ** 2;
    sum += term;
  }
  return sum;
}
