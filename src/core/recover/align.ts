import { median } from "simple-statistics";

/** Strokes as whole steps of a steady or slowly changing pulse. */
export interface Alignment {
  /** Steps in a quarter note. */
  readonly perQuarter: number;
  /** The step of every time, from the first one's on. */
  readonly steps: readonly number[];
  /** Seconds of step 0, of a step there, and half of what a step grows by from one to the next. */
  readonly curve: readonly [start: number, step: number, bend: number];
  /** How far each time lies from its step, in seconds. */
  readonly misses: readonly number[];
  /** The mean length of a quarter note over what was played, in seconds. */
  readonly quarterSeconds: number;
}

/** How fast a follower's pulse and its tempo go after the strokes. */
const FOLLOW = { phase: 0.3, period: 0.06 };
/** Fewer strokes than this say nothing about a change of tempo. */
const MIN_BENT = 14;
/** A tempo that changes by more is no drift. */
const MAX_BEND_SHARE = 0.06;
const SLIP_SPREADS = 3;

/**
 * Counts times in steps of about a length, following them as they drift, then lays the smoothest curve through them: least
 * squares of a second degree, without what lies far off.
 * @param times seconds, ascending
 */
export function align(times: readonly number[], quarterSeconds: number, perQuarter: number): Alignment {
  let period = quarterSeconds / perQuarter;
  const first = times[0];
  let pulse = first;
  let count = 0;
  const steps = times.map((time) => {
    const by = Math.round((time - pulse) / period);
    const error = time - (pulse + by * period);
    count += by;
    pulse += by * period + FOLLOW.phase * error;
    if (by > 0) period += (FOLLOW.period * error) / Math.max(1, Math.min(by, 4));
    // A follower that has lost its way must not run off to another tempo.
    const target = quarterSeconds / perQuarter;
    period = Math.max(target * 0.96, Math.min(target * 1.04, period));
    return count;
  });
  const rough = fitCurve(steps, times, false);
  const misses = missesOf(steps, times, rough);
  const limit = SLIP_SPREADS * Math.max(0.004, 1.4826 * median(misses.map(Math.abs)));
  const near = steps.map((_, index) => index).filter((index) => Math.abs(misses[index]) <= limit);
  const bent = near.length >= MIN_BENT;
  const pick = (all: readonly number[]) => near.map((index) => all[index]);
  let curve = near.length >= 2 ? fitCurve(pick(steps), pick(times), bent) : rough;
  const last = steps.at(-1)!;
  if (bent && Math.abs(2 * curve[2] * last) > MAX_BEND_SHARE * curve[1])
    curve = fitCurve(pick(steps), pick(times), false);
  const mean = last === 0 ? curve[1] : curve[1] + curve[2] * last;
  return {
    perQuarter,
    steps,
    curve,
    misses: missesOf(steps, times, curve),
    quarterSeconds: mean * perQuarter,
  };
}

/** When a step is, on the curve. */
export function timeOfStep([start, step, bend]: Alignment["curve"], at: number): number {
  return start + at * (step + bend * at);
}

/** The step nearest to a moment, on the curve. */
export function stepAt(curve: Alignment["curve"], seconds: number): number {
  const [start, step, bend] = curve;
  // One correction is enough: the bend is a small part of a step.
  const straight = (seconds - start) / step;
  const at = straight - (timeOfStep(curve, straight) - seconds) / (step + 2 * bend * straight);
  return Math.round(at);
}

function missesOf(steps: readonly number[], times: readonly number[], curve: Alignment["curve"]): number[] {
  return times.map((time, index) => time - timeOfStep(curve, steps[index]));
}

/** Least squares of time over step, of the first or second degree, by the normal equations of centred values. */
function fitCurve(steps: readonly number[], times: readonly number[], bent: boolean): Alignment["curve"] {
  const count = steps.length;
  const mean = (values: readonly number[]) => values.reduce((sum, value) => sum + value, 0) / count;
  const centre = mean(steps);
  const x = steps.map((step) => step - centre);
  const y = mean(times);
  const xx = mean(x.map((value) => value * value));
  if (xx === 0) return [y, 0.1, 0];
  const xy = mean(x.map((value, index) => value * (times[index] - y)));
  if (!bent) {
    const slope = xy / xx;
    return [y - slope * centre, slope, 0];
  }
  const xxx = mean(x.map((value) => value ** 3));
  const xxxx = mean(x.map((value) => value ** 4));
  const xxy = mean(x.map((value, index) => value * value * (times[index] - y)));
  const spread = xxxx - xx * xx;
  const determinant = xx * spread - xxx * xxx;
  if (Math.abs(determinant) < 1e-9 * xx * spread) return fitCurve(steps, times, false);
  const bend = (xx * xxy - xxx * xy) / determinant;
  const slope = (xy - bend * xxx) / xx;
  const level = y - bend * xx;
  return [level - slope * centre + bend * centre * centre, slope - 2 * bend * centre, bend];
}
