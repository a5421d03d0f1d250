import { GRID_TICKS, type LineGridName } from "../time/grid";
import type { Bpm } from "../time/tempo";
import { ticksToSeconds } from "../time/tempo";
import { asTicks, type Ticks } from "../time/ticks";
import { TICKS_PER_QUARTER } from "../time/ticks";
import { SWING_RANGE } from "../timing/swing";
import { bestSwing } from "./best-swing";
import { betweenLines, ladder, type Ladder } from "./ladder";
import { evenly, learn, likelyLine, logDensities, onFinest, strayDensity, type Learned } from "./played-on";

/** Lines that something may have been played on. */
interface PlayedGrid {
  readonly grid: LineGridName;
  /** Triplets that some beats were played in. */
  readonly triplets: LineGridName | undefined;
  /** Place of the second step in each pair, ratio; 0.5 is straight. */
  readonly ratio: number;
}

/** A reading of strokes: the grid they lie on, and how well. */
export interface GridFit extends PlayedGrid {
  /** Probability beside the other readings, 0..1. */
  readonly share: number;
  /** The player's spread round the lines. */
  readonly spreadMs: number;
  /** The line that a position belongs to; undefined where it belongs to none, such as a slip or a flam. */
  readonly lineOf: (ticks: Ticks) => number | undefined;
}

// Set by what 1,320 generated beats of eleven kinds say; the test has others.
/** Lines so close are hardly played: what each stroke there must show more before they are believed (natural logarithm). */
const HARDLY_PLAYED = [
  { belowMs: 50, perStroke: 1.5 },
  { belowMs: 75, perStroke: 0.5 },
];
/** So likely is a beat of triplets among others; in fewer strokes there is none. */
const TRIPLET_BEAT = { share: 0.05, strokes: 3 };
/** By so much one stroke on a sixteenth is likelier than a stray there (natural logarithm). */
const SIXTEENTHS_LIKELIER = 3;
/** A swing is told by so many strokes at least. */
const LEAST_SWUNG = 4;

const STRAIGHT = ["1/4", "1/8", "1/16", "1/32"] as const;
const TRIPLETS = ["1/8T", "1/16T"] as const;
const SWINGS = ["1/8", "1/16"] as const;

/** Strokes on the lines of one ladder. */
interface OnLines {
  readonly lines: Ladder;
  readonly learned: Learned;
  readonly logs: readonly number[];
  /** Penalty for each learned figure and for lines that are hardly ever played (natural logarithm). */
  readonly cost: number;
}

interface Frame {
  readonly strokes: readonly Ticks[];
  readonly msPerTick: number;
  readonly bar: Ticks;
}

type Scored = Omit<GridFit, "share"> & { readonly score: number };

/** @param own those of the strokes that were played on it: the others have logarithms too, but teach nothing */
function onLines({ grid, ratio }: PlayedGrid, { strokes, msPerTick, bar }: Frame, own = strokes): OnLines {
  const lines = ladder(grid, ratio, bar);
  const stray = strayDensity(lines, msPerTick);
  const between = betweenLines(strokes, lines, msPerTick);
  const learned = learn(own === strokes ? between : betweenLines(own, lines, msPerTick), lines, stray);
  const swings = ratio > SWING_RANGE.min;
  // Bayesian information criterion (Schwarz 1978, from memory).
  const figures = 0.5 * (lines.steps.length + (swings ? 1 : 0)) * Math.log(strokes.length);
  const finest = onFinest(learned, own.length);
  const likelier = grid === "1/16" ? SIXTEENTHS_LIKELIER * Math.min(1, finest) : 0;
  const hardly = hardlyPlayed(lines, learned, own.length, msPerTick);
  const unswung = swings && finest < LEAST_SWUNG ? Infinity : 0;
  return {
    lines,
    learned,
    logs: logDensities(between, lines, learned, stray),
    cost: figures - likelier + hardly + unswung,
  };
}

function hardlyPlayed({ steps }: Ladder, { weights }: Learned, count: number, msPerTick: number): number {
  return steps.reduce((all, step, level) => {
    const each = HARDLY_PLAYED.find(({ belowMs }) => step * msPerTick < belowMs)?.perStroke ?? 0;
    return all + each * weights[level]! * count;
  }, 0);
}

/** Some strokes on triplets, of which nothing is learned. */
function onThirds(grid: LineGridName, { strokes, msPerTick, bar }: Frame, spreadMs: number): OnLines {
  const lines = ladder(grid, SWING_RANGE.min, bar);
  const learned = evenly(lines, spreadMs);
  const between = betweenLines(strokes, lines, msPerTick);
  return { lines, learned, logs: logDensities(between, lines, learned, strayDensity(lines, msPerTick)), cost: 0 };
}

function lineOn({ lines, learned }: OnLines, ticks: Ticks, { msPerTick }: Frame): number | undefined {
  return likelyLine(betweenLines([ticks], lines, msPerTick), lines, learned, strayDensity(lines, msPerTick));
}

/** One grid all the time. */
function single(played: PlayedGrid, frame: Frame): Scored {
  const fit = onLines(played, frame);
  return {
    ...played,
    spreadMs: fit.learned.spreadMs,
    score: sum(fit.logs) - fit.cost,
    lineOf: (ticks) => lineOn(fit, ticks, frame),
  };
}

/** Some beats in triplets: each beat in what explains its strokes better. */
function mixed(played: PlayedGrid & { readonly triplets: LineGridName }, frame: Frame): Scored | undefined {
  const { strokes } = frame;
  let straight = onLines(played, frame);
  let thirds = onThirds(played.triplets, frame, straight.learned.spreadMs);
  let beats = tripletBeats(strokes, straight, thirds);
  for (let round = 0; round < 2; round++) {
    const inThirds = strokes.filter((ticks) => beats.has(beatOf(ticks))).length;
    if (Math.min(inThirds, strokes.length - inThirds) < TRIPLET_BEAT.strokes) return undefined;
    const others = strokes.filter((ticks) => !beats.has(beatOf(ticks)));
    straight = onLines(played, frame, others);
    thirds = onThirds(played.triplets, frame, straight.learned.spreadMs);
    beats = round === 0 ? tripletBeats(strokes, straight, thirds) : beats;
  }
  const all = new Set(strokes.map(beatOf)).size;
  const prior = beats.size * Math.log(TRIPLET_BEAT.share) + (all - beats.size) * Math.log(1 - TRIPLET_BEAT.share);
  const ofStroke = (ticks: Ticks) => (beats.has(beatOf(ticks)) ? thirds : straight);
  return {
    ...played,
    spreadMs: straight.learned.spreadMs,
    score: sum(strokes.map((ticks, index) => ofStroke(ticks).logs[index]!)) + prior - straight.cost,
    lineOf: (ticks) => lineOn(ofStroke(ticks), ticks, frame),
  };
}

const sum = (values: readonly number[]) => values.reduce((total, one) => total + one, 0);
const beatOf = (ticks: Ticks) => Math.floor(ticks / TICKS_PER_QUARTER);

function tripletBeats(strokes: readonly Ticks[], straight: OnLines, thirds: OnLines): ReadonlySet<number> {
  const gains = new Map<number, number>();
  const odds = Math.log(TRIPLET_BEAT.share / (1 - TRIPLET_BEAT.share));
  strokes.forEach((ticks, index) => {
    const gain = thirds.logs[index]! - straight.logs[index]!;
    gains.set(beatOf(ticks), (gains.get(beatOf(ticks)) ?? odds) + gain);
  });
  return new Set([...gains].filter(([, gain]) => gain > 0).map(([beat]) => beat));
}

/**
 * Reads the grid that strokes were played on, the likeliest first. Of each grid is learned how often its levels (quarters,
 * eighths between them, and so on) are played and how exactly; what explains the strokes with fewer figures wins. A beat may
 * be in triplets where the rest is not.
 * @param strokes from the loop start or the first downbeat; one at least
 * @returns shares that add up to 1
 */
export function fitGrids(strokes: readonly Ticks[], bpm: Bpm, bar: Ticks): readonly GridFit[] {
  const frame: Frame = { strokes, msPerTick: ticksToSeconds(asTicks(1), bpm) * 1000, bar };
  const ratio = SWING_RANGE.min;
  const swung = SWINGS.map((grid) => ({ grid, triplets: undefined, ratio: bestSwing(strokes, GRID_TICKS[grid], bar) }));
  const singles = [
    ...[...STRAIGHT, ...TRIPLETS].map((grid) => ({ grid, triplets: undefined, ratio })),
    ...swung.filter((one) => one.ratio > ratio),
  ];
  const mixes = STRAIGHT.slice(0, -1).flatMap((grid) => TRIPLETS.map((triplets) => ({ grid, triplets, ratio })));
  const scored = [...singles.map((one) => single(one, frame)), ...mixes.flatMap((one) => mixed(one, frame) ?? [])].sort(
    (a, b) => b.score - a.score,
  );
  const likely = scored.map(({ score }) => Math.exp(score - scored[0]!.score));
  return scored.map(({ score: _, ...fit }, index) => ({ ...fit, share: likely[index]! / sum(likely) }));
}
