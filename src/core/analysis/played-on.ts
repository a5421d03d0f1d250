import { median } from "simple-statistics";
import type { BetweenLines, Ladder } from "./ladder";

/** Figures learned from strokes on the lines of a ladder. */
export interface Learned {
  /** Share of the strokes on each level; they add up to 1. */
  readonly weights: readonly number[];
  readonly spreadMs: number;
}

/** Strokes that belong to no line. */
const STRAY_SHARE = 0.01;
const SPREAD_MS = { least: 3, most: 45 };
const ROUNDS = 4;
/** Of a share of which nothing is known: half a stroke (Jeffreys' prior, from memory). */
const HALF_A_STROKE = 0.5;
/** Hoisted: looking up a global per stroke and round is slow in a test's sandbox. */
const { exp, log, max, min, sqrt, PI } = Math;

/** Density of strays, per ms. */
export function strayDensity({ barTicks }: Ladder, msPerTick: number): number {
  return STRAY_SHARE / (barTicks * msPerTick);
}

/** Density of strokes at a stroke's line, per ms: normal round the line, times the share of its level. @param at 2 × stroke + side */
function density(at: number, { levels, missMs }: BetweenLines, { counts }: Ladder, learned: Learned): number {
  const { weights, spreadMs } = learned;
  const level = levels[at]!;
  const peak = ((1 - STRAY_SHARE) * weights[level]!) / (counts[level]! * spreadMs * sqrt(2 * PI));
  const spreads = missMs[at]! / spreadMs;
  return peak * exp(-0.5 * spreads * spreads);
}

/**
 * Learns the share of each level and the spread (expectation maximization, Dempster, Laird and Rubin 1977, from memory).
 * @param stray density of strays
 */
export function learn(strokes: BetweenLines, ladder: Ladder, stray: number): Learned {
  const levels = ladder.counts.length;
  let learned: Learned = { weights: ladder.counts.map(() => 1 / levels), spreadMs: firstSpread(strokes) };
  for (let round = 0; round < ROUNDS; round++) {
    const sums = new Float64Array(levels).fill(HALF_A_STROKE);
    let squares = 0;
    let own = 0;
    for (let at = 0; at < 2 * strokes.count; at += 2) {
      const before = density(at, strokes, ladder, learned);
      const after = density(at + 1, strokes, ladder, learned);
      const all = before + after + stray;
      sums[strokes.levels[at]!]! += before / all;
      sums[strokes.levels[at + 1]!]! += after / all;
      squares += (before * strokes.missMs[at]! ** 2 + after * strokes.missMs[at + 1]! ** 2) / all;
      own += (before + after) / all;
    }
    const total = strokesAnd(own, levels);
    learned = { weights: [...sums].map((one) => one / total), spreadMs: limited(sqrt(squares / max(own, 1))) };
  }
  return learned;
}

const strokesAnd = (own: number, levels: number) => own + HALF_A_STROKE * levels;
const limited = (ms: number) => max(SPREAD_MS.least, min(SPREAD_MS.most, ms));

/** A robust guess: of what lies within three robust spreads of its nearest line. */
function firstSpread({ count, missMs }: BetweenLines): number {
  const misses = Array.from({ length: count }, (_, index) => min(missMs[2 * index]!, missMs[2 * index + 1]!));
  const guess = max(SPREAD_MS.least, 1.4826 * median(misses));
  const near = misses.filter((ms) => ms <= 3 * guess);
  return limited(sqrt(near.reduce((sum, ms) => sum + ms * ms, 0) / near.length));
}

/** Every line as likely as another: of a few strokes nothing can be learned. */
export function evenly({ counts }: Ladder, spreadMs: number): Learned {
  const all = counts.reduce((sum, count) => sum + count, 0);
  return { weights: counts.map((count) => count / all), spreadMs };
}

/** Number of strokes on lines that only the finest level has. */
export function onFinest({ weights }: Learned, count: number): number {
  return max(0, weights.at(-1)! * strokesAnd(count, weights.length) - HALF_A_STROKE);
}

/** The logarithm of how dense strokes are where each of them is. */
export function logDensities(
  strokes: BetweenLines,
  ladder: Ladder,
  learned: Learned,
  stray: number,
): readonly number[] {
  return Array.from({ length: strokes.count }, (_, index) =>
    log(density(2 * index, strokes, ladder, learned) + density(2 * index + 1, strokes, ladder, learned) + stray),
  );
}

/** The line that a lone stroke belongs to; undefined where it is more likely a stray. */
export function likelyLine(stroke: BetweenLines, ladder: Ladder, learned: Learned, stray: number): number | undefined {
  const before = density(0, stroke, ladder, learned);
  const after = density(1, stroke, ladder, learned);
  return max(before, after) < stray ? undefined : stroke.lines[before >= after ? 0 : 1];
}
