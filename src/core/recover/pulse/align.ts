import { median } from "simple-statistics";

/** Strokes as whole steps of a steady or slowly changing pulse. */
export interface Alignment {
  /** The step of every time, from the first one's on. */
  readonly steps: readonly number[];
  /** Seconds of step 0, of a step there, and half of what a step grows by from one to the next. */
  readonly curve: readonly [start: number, step: number, bend: number];
  /** How far each time lies from its step, in seconds. */
  readonly misses: readonly number[];
  /** The mean length of a step over what was played. */
  readonly stepSeconds: number;
}

/** How fast a follower's pulse and its step go after the strokes, and how far the step may go from where it began. */
const FOLLOW = { phase: 0.3, period: 0.06, mostAstray: 0.04 };
/** Fewer strokes than this say nothing about a change of tempo. */
const MIN_BENT = 14;
/** A tempo that changes by more is no drift. */
const MAX_BEND_SHARE = 0.06;
/** Over so long before and after a stroke its misses are taken for drift. */
const DRIFT_SECONDS = 3;
const SLIP_SPREADS = 3;
const LEAST_SPREAD_SECONDS = 0.004;
const MAD_TO_DEVIATION = 1.4826;

/**
 * Counts times in steps of about a length, following them as they drift.
 * @param times seconds, ascending, at least one
 * @example countSteps([0, 0.26, 0.49, 1.01], 0.25) // [0, 1, 2, 4]
 */
export function countSteps(times: readonly number[], stepSeconds: number): readonly number[] {
  const shortest = stepSeconds * (1 - FOLLOW.mostAstray);
  const longest = stepSeconds * (1 + FOLLOW.mostAstray);
  let step = stepSeconds;
  let pulse = times[0]!;
  let count = 0;
  const steps: number[] = [];
  for (let index = 0; index < times.length; index++) {
    const time = times[index]!;
    const by = Math.round((time - pulse) / step);
    const error = time - (pulse + by * step);
    count += by;
    pulse += by * step + FOLLOW.phase * error;
    if (by > 0) step += (FOLLOW.period * error) / Math.min(by, 4);
    // A follower that has lost its way must not run off to another tempo.
    step = Math.max(shortest, Math.min(longest, step));
    steps.push(count);
  }
  return steps;
}

/**
 * The smoothest curve through strokes that are counted: least squares of time over step, of the second degree where there
 * are enough, without what lies far off.
 * @param steps whole, ascending, as many as times
 */
export function fitSteps(times: readonly number[], steps: readonly number[]): Alignment {
  const rough = fitCurve(steps, times, false);
  const misses = missesOf(steps, times, rough);
  const limit = SLIP_SPREADS * Math.max(LEAST_SPREAD_SECONDS, MAD_TO_DEVIATION * median(misses.map(Math.abs)));
  const nearSteps: number[] = [];
  const nearTimes: number[] = [];
  for (let index = 0; index < misses.length; index++) {
    if (Math.abs(misses[index]!) > limit) continue;
    nearSteps.push(steps[index]!);
    nearTimes.push(times[index]!);
  }
  const bent = nearSteps.length >= MIN_BENT;
  let curve = nearSteps.length >= 2 ? fitCurve(nearSteps, nearTimes, bent) : rough;
  const last = steps.at(-1)!;
  if (bent && Math.abs(2 * curve[2] * last) > MAX_BEND_SHARE * curve[1]) curve = fitCurve(nearSteps, nearTimes, false);
  const left = withoutDrift(times, missesOf(steps, times, curve));
  return { steps, curve, misses: left, stepSeconds: curve[1] + curve[2] * last };
}

/** Takes off what misses around a moment have in common: tempo that goes up and down, which no curve of two degrees has. */
function withoutDrift(times: readonly number[], misses: readonly number[]): number[] {
  let from = 0;
  let to = 0;
  let sum = 0;
  const left: number[] = [];
  for (let index = 0; index < misses.length; index++) {
    while (to < misses.length && times[to]! <= times[index]! + DRIFT_SECONDS) sum += misses[to++]!;
    while (times[from]! < times[index]! - DRIFT_SECONDS) sum -= misses[from++]!;
    left.push(misses[index]! - sum / (to - from));
  }
  return left;
}

/** The same times, counted in steps of half the length. */
export function inHalfSteps({ steps, curve: [start, step, bend], misses, stepSeconds }: Alignment): Alignment {
  return {
    steps: steps.map((one) => 2 * one),
    curve: [start, step / 2, bend / 4],
    misses,
    stepSeconds: stepSeconds / 2,
  };
}

/** When a step is, on the curve. @example timeOfStep([1, 0.25, 0], 4) // 2 */
export function timeOfStep([start, step, bend]: Alignment["curve"], at: number): number {
  return start + at * (step + bend * at);
}

/** The step nearest to a moment, on the curve. @example stepAt([1, 0.25, 0], 2) // 4 */
export function stepAt(curve: Alignment["curve"], seconds: number): number {
  const [start, step, bend] = curve;
  // One correction is enough: the bend is a small part of a step.
  const straight = (seconds - start) / step;
  const at = straight - (timeOfStep(curve, straight) - seconds) / (step + 2 * bend * straight);
  return Math.round(at);
}

/**
 * How far the times lie from their steps, in seconds: half by the middle one, half by the mean square.
 * @example spreadOf({ misses: [0.01, 0.01, 0.01, 0.01] }) // 0.012413
 */
export function spreadOf({ misses }: Pick<Alignment, "misses">): number {
  let square = 0;
  for (const miss of misses) square += (miss * miss) / misses.length;
  return (MAD_TO_DEVIATION * median(misses.map(Math.abs)) + Math.sqrt(square)) / 2;
}

function missesOf(steps: readonly number[], times: readonly number[], curve: Alignment["curve"]): number[] {
  const misses: number[] = [];
  for (let index = 0; index < times.length; index++) misses.push(times[index]! - timeOfStep(curve, steps[index]!));
  return misses;
}

/** By the normal equations of centred values, in one loop: this is what recovering spends its time on. */
function fitCurve(steps: readonly number[], times: readonly number[], bent: boolean): Alignment["curve"] {
  const count = steps.length;
  const centre = meanOf(steps);
  const level = meanOf(times);
  let xx = 0;
  let xy = 0;
  let xxx = 0;
  let xxxx = 0;
  let xxy = 0;
  for (let index = 0; index < count; index++) {
    const x = steps[index]! - centre;
    const y = times[index]! - level;
    const square = x * x;
    xx += square;
    xy += x * y;
    if (!bent) continue;
    xxx += square * x;
    xxxx += square * square;
    xxy += square * y;
  }
  if (xx === 0) return [level, 0.1, 0];
  const spread = xxxx - (xx * xx) / count;
  const determinant = xx * spread - xxx * xxx;
  const slope = xy / xx;
  if (!bent || Math.abs(determinant) < 1e-9 * xx * spread) return [level - slope * centre, slope, 0];
  const bend = (xx * xxy - xxx * xy) / determinant;
  const tilt = (xy - bend * xxx) / xx;
  return [level - (bend * xx) / count - tilt * centre + bend * centre * centre, tilt - 2 * bend * centre, bend];
}

function meanOf(values: readonly number[]): number {
  let sum = 0;
  for (const value of values) sum += value;
  return sum / values.length;
}
