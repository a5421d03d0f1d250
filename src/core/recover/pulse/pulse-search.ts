import { countSteps, fitSteps, inHalfSteps, spreadOf, type Alignment } from "./align";

/** Strokes aligned to a pulse that is thought of as a part of a quarter note. */
export interface PulseGuess {
  readonly alignment: Alignment;
  /** Steps in a quarter note: 4 are straight, 3 and 6 are triplets. */
  readonly perQuarter: number;
  /** Of these so many are played: 2 where there is nothing faster than eighths. */
  readonly playedPerQuarter: number;
  readonly quarterSeconds: number;
  /** Mean log likelihood of a stroke's time. */
  readonly grid: number;
}

/** Tempi that are tried. */
export const BPM = { low: 56, high: 200, step: 1.018 };
const STEPS_PER_QUARTER = [2, 3, 4, 6] as const;
/** A share of strokes belongs to no line. */
const STRAY_SHARE = 0.03;
const SPREAD_SECONDS = { min: 0.004, max: 0.04 };
const SAME_TEMPO = 0.008;

/**
 * Lays strokes on many pulses, each of which may drift.
 * @param times seconds, ascending, at least two
 * @param bpm the lowest and the highest tempo
 * @param rank how likely a guess is, before bars are thought of
 * @param most how many are wanted
 * @returns the best first, no two of one tempo and feel
 */
export function searchPulses(
  times: readonly number[],
  { low, high }: { readonly low: number; readonly high: number },
  rank: (guess: PulseGuess) => number,
  most: number,
): readonly PulseGuess[] {
  const tried: { readonly guess: PulseGuess; readonly rank: number }[] = [];
  const shortest = 60 / high / Math.max(...STEPS_PER_QUARTER);
  const longest = 60 / low / Math.min(...STEPS_PER_QUARTER);
  let known: { readonly found: Pick<PulseGuess, "alignment" | "grid">; readonly feels: Set<number> } | undefined;
  for (let step = shortest; step < longest * BPM.step; step *= BPM.step) {
    const feels = STEPS_PER_QUARTER.filter((count) => 60 / (step * count) >= low && 60 / (step * count) <= high);
    if (feels.length === 0) continue;
    // Neighbouring lengths mostly count alike; then they are fitted once.
    const steps = countSteps(times, step);
    if (!known || !areEqual(known.found.alignment.steps, steps))
      known = { found: aligned(times, steps), feels: new Set() };
    const { found } = known;
    for (const perQuarter of feels) {
      if (known.feels.has(perQuarter)) continue;
      known.feels.add(perQuarter);
      const guess = {
        // In sixteenths all the same, so that a bar line may be a sixteenth away.
        alignment: perQuarter === 2 ? inHalfSteps(found.alignment) : found.alignment,
        grid: found.grid,
        perQuarter: perQuarter === 2 ? 4 : perQuarter,
        playedPerQuarter: perQuarter,
        quarterSeconds: found.alignment.stepSeconds * perQuarter,
      };
      tried.push({ guess, rank: rank(guess) });
    }
  }
  const kept: PulseGuess[] = [];
  for (const { guess } of tried.sort((a, b) => b.rank - a.rank)) {
    const same = ({ playedPerQuarter, quarterSeconds }: PulseGuess) =>
      playedPerQuarter === guess.playedPerQuarter && Math.abs(quarterSeconds / guess.quarterSeconds - 1) < SAME_TEMPO;
    if (!kept.some(same)) kept.push(guess);
    if (kept.length === most) break;
  }
  return kept;
}

function areEqual(a: readonly number[], b: readonly number[]): boolean {
  for (let index = 0; index < a.length; index++) if (a[index] !== b[index]) return false;
  return true;
}

function aligned(times: readonly number[], steps: readonly number[]): Pick<PulseGuess, "alignment" | "grid"> {
  const alignment = fitSteps(times, steps);
  return { alignment, grid: gridLikelihood(alignment) };
}

/** Mean log likelihood of a stroke's time, a step: lines that are further apart explain more. */
function gridLikelihood(alignment: Alignment): number {
  const { misses, stepSeconds } = alignment;
  const spread = Math.max(SPREAD_SECONDS.min, Math.min(SPREAD_SECONDS.max, spreadOf(alignment)));
  const peak = ((1 - STRAY_SHARE) * stepSeconds) / (spread * Math.sqrt(2 * Math.PI));
  let [sum, product] = [0, 1];
  for (const miss of misses) {
    product *= peak * Math.exp((-miss * miss) / (2 * spread * spread)) + STRAY_SHARE;
    // One logarithm for many is quicker; of too many the product would run out of range.
    if (product < 1e-100 || product > 1e100) {
      sum += Math.log(product);
      product = 1;
    }
  }
  return (sum + Math.log(product)) / misses.length;
}
