/** Where the quarter notes of a performance fell, smoothly: tempo that drifts slowly, without the unevenness of single hits. */
export interface Pulse {
  /** The number of the first quarter, counted from the downbeat: 0 or less. */
  readonly from: number;
  /** Seconds of every quarter from that one on. */
  readonly times: readonly number[];
}

/** Playing with a tempo: steady, and as it drifts. */
export interface Paced {
  /** Quarter notes a minute, in the mean. */
  readonly bpm: number;
  /** Seconds of the first downbeat. */
  readonly downbeat: number;
  readonly pulse: Pulse;
}

/**
 * How stiff the pulse is. Changes of tempo within two bars are taken for playing, those over four and more for drift:
 * of a change with a period of eight bars nothing is lost, of four bars 7 %, of two bars 82 %.
 */
const STIFFNESS = 20;
/** Strokes further off than so many spreads count little. */
const STRAY_SPREADS = 2.5;
const ROUNDS = 3;
/** The tempo at the ends is measured over so many quarters. */
const END_QUARTERS = 4;

/**
 * The smoothest pulse through strokes: least squares with a penalty on the third differences of the quarters' times
 * (Whittaker 1923; Eilers, A perfect smoother, Anal. Chem. 75, 2003; from memory), so that a steady tempo and one that
 * changes steadily are followed exactly. Strays count less in every round.
 * @param places of the strokes in quarters from the downbeat, ascending
 * @param times of the strokes in seconds
 * @example smoothPulse([0, 1, 2, 3, 4], [0, 0.5, 1, 1.5, 2]).times.map((time) => Math.round(1000 * time)) // [0, 500, 1000, 1500, 2000]
 */
export function smoothPulse(places: readonly number[], times: readonly number[]): Pulse {
  // Moments of a calendar have too many figures for what follows.
  const [start] = times;
  const since = times.map((time) => time - start!);
  const from = Math.min(0, Math.floor(places[0]!));
  const count = Math.max(4, Math.ceil(places.at(-1)!) - from + 1);
  const stiffness = (STIFFNESS * places.length) / count;
  let weights = places.map(() => 1);
  let solved: number[] = [];
  for (let round = 0; round < ROUNDS; round++) {
    solved = solve(places, since, weights, from, count, stiffness);
    const misses = places.map((place, index) => since[index]! - interpolate(solved, place - from));
    const spread = Math.max(0.002, Math.sqrt(misses.reduce((sum, miss) => sum + miss * miss, 0) / misses.length));
    weights = misses.map((miss) => 1 / (1 + (miss / (STRAY_SPREADS * spread)) ** 2));
  }
  return { from, times: solved.map((time) => start! + time) };
}

/**
 * How far a moment is from the downbeat, in quarter notes; by the pulse, or by the mean tempo.
 * @example quartersAt({ bpm: 120, downbeat: 1, pulse: { from: 0, times: [1, 1.5, 2] } }, 1.75, true) // 1.5
 */
export function quartersAt({ pulse, bpm, downbeat }: Paced, seconds: number, byPulse: boolean): number {
  if (!byPulse) return ((seconds - downbeat) * bpm) / 60;
  const { from, times } = pulse;
  const last = times.length - 1;
  let index = times.findLastIndex((time) => time <= seconds);
  index = Math.max(0, Math.min(last - 1, index));
  return from + index + (seconds - times[index]!) / (times[index + 1]! - times[index]!);
}

/**
 * How much faster the playing is at its end than at its beginning: 0.04 is four in a hundred.
 * @example driftOf({ from: 0, times: [0, 0.5, 1, 1.5, 2] }) // 0
 */
export function driftOf({ times }: Pulse): number {
  const span = Math.min(END_QUARTERS, times.length - 1);
  const begin = times[span]! - times[0]!;
  const end = times.at(-1)! - times[times.length - 1 - span]!;
  return begin / end - 1;
}

/**
 * How far the bar lines lie from where a steady tempo would have them, at most, in seconds.
 * @example mostAstray({ bpm: 120, downbeat: 0, pulse: { from: 0, times: [0, 0.5, 1.02, 1.5] } }) // 0.02
 */
export function mostAstray({ pulse, bpm, downbeat }: Paced): number {
  return pulse.times.reduce(
    (most, time, index) => Math.max(most, Math.abs(time - downbeat - ((pulse.from + index) * 60) / bpm)),
    0,
  );
}

/** The tempo of every quarter, in quarter notes a minute. @example pulseTempi({ from: 0, times: [0, 0.5, 1] }) // [120, 120] */
export function pulseTempi({ times }: Pulse): readonly number[] {
  return times.slice(1).map((time, index) => 60 / (time - times[index]!));
}

/**
 * When a place of the pulse is, in seconds.
 * @param quarters from the downbeat
 * @example secondsAt({ bpm: 120, downbeat: 1, pulse: { from: 0, times: [1, 1.5, 2] } }, 1.5, true) // 1.75
 */
export function secondsAt({ pulse, bpm, downbeat }: Paced, quarters: number, byPulse: boolean): number {
  if (!byPulse) return downbeat + (quarters * 60) / bpm;
  return interpolate(pulse.times, quarters - pulse.from);
}

function interpolate(values: readonly number[], at: number): number {
  const index = Math.max(0, Math.min(values.length - 2, Math.floor(at)));
  return values[index]! + (at - index) * (values[index + 1]! - values[index]!);
}

/** Third differences. */
const THIRD = [-1, 3, -3, 1] as const;

/** The normal equations have three side diagonals, and are solved as L·Lᵀ (Cholesky). */
function solve(
  places: readonly number[],
  times: readonly number[],
  weights: readonly number[],
  from: number,
  count: number,
  stiffness: number,
): number[] {
  // band[4 * row + k] is the matrix at row, row - k.
  const band = new Float64Array(4 * count);
  const right = new Float64Array(count);
  for (let row = 0; row < count; row++) band[4 * row] = 1e-9;
  for (let index = 0; index < places.length; index++) {
    const place = places[index]! - from;
    const low = Math.max(0, Math.min(count - 2, Math.floor(place)));
    const share = place - low;
    const weight = weights[index]!;
    band[4 * low]! += weight * (1 - share) ** 2;
    band[4 * low + 4]! += weight * share ** 2;
    band[4 * low + 5]! += weight * share * (1 - share);
    right[low]! += weight * (1 - share) * times[index]!;
    right[low + 1]! += weight * share * times[index]!;
  }
  for (let row = 0; row + 3 < count; row++)
    for (let a = 0; a < 4; a++)
      for (let b = 0; b <= a; b++) band[4 * (row + a) + a - b]! += stiffness * THIRD[a]! * THIRD[b]!;
  for (let row = 0; row < count; row++) {
    for (let k = Math.min(3, row); k >= 0; k--) {
      let sum = band[4 * row + k]!;
      for (let j = k + 1; j <= Math.min(3, row); j++) sum -= band[4 * row + j]! * band[4 * (row - k) + j - k]!;
      band[4 * row + k] = k === 0 ? Math.sqrt(sum) : sum / band[4 * (row - k)]!;
    }
  }
  for (let row = 0; row < count; row++) {
    for (let k = 1; k <= Math.min(3, row); k++) right[row]! -= band[4 * row + k]! * right[row - k]!;
    right[row]! /= band[4 * row]!;
  }
  for (let row = count - 1; row >= 0; row--) {
    for (let k = 1; k <= 3 && row + k < count; k++) right[row]! -= band[4 * (row + k) + k]! * right[row + k]!;
    right[row]! /= band[4 * row]!;
  }
  return [...right];
}
