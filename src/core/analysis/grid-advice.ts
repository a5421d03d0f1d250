import { median } from "simple-statistics";
import { SWING_RANGE } from "../timing/swing";
import { swingMiss } from "../timing/fit-swing";
import { quantize } from "../timing/quantize";
import { GRID_TICKS, isTriplet, type LineGridName } from "../time/grid";
import type { Bpm } from "../time/tempo";
import { ticksToSeconds } from "../time/tempo";
import type { Ticks } from "../time/ticks";
import { TICKS_PER_QUARTER } from "../time/ticks";

/** A hit as far as a grid is found for it. */
export interface AdvisedHit {
  readonly id: number;
  readonly pad: number;
  /** Where it was played, from the loop start or the first downbeat. */
  readonly ticks: Ticks;
}

export interface GridAdvice {
  readonly grid: LineGridName;
  readonly family: "straight" | "swung" | "triplet";
  /** Where the middle of two steps was played; 50 on triplet grids and where there is nothing to tell it by. */
  readonly swingPercent: number;
  readonly swingUnit: "1/8" | "1/16" | undefined;
  /** The middle distance from the lines that were found. */
  readonly residualMs: number;
  /** Hits that the other grid would pull to a line that is not theirs. */
  readonly pulled: readonly number[];
  /** Hits of one pad that would fall together on the other grid though they were played apart. */
  readonly collisions: readonly number[];
  readonly sentence: string;
}

/** Fewer say too little. */
export const MIN_ADVISED_HITS = 12;
/** In spreads of the player: what lies so far from a line still belongs to it; what lies so far surely does not; and how far
 * apart lines must be to be told from one another. */
const EXPLAINED_SPREADS = 3;
const EVIDENT_SPREADS = 4;
const DISTINCT_SPREADS = { usual: 4, hardlyPlayed: 6 };
/** So much less must the squares of all misses, in spreads, add up to: e to the power of its half is how much likelier. */
const TOLD_APART = 9;
/** Hits that belong to no line, such as slips and flams. */
const STRAY_SHARE = 0.03;
const SPREAD_MS = { min: 3, max: 45 };
/** Lines so close are hardly played: what each hit must show more before they are believed (common practice, no source). */
const HARDLY_PLAYED = [
  { belowMs: 50, perHit: 0.4 },
  { belowMs: 75, perHit: 0.12 },
];
/** A first search; the middle of the hits near the best of them is the answer. */
const SWING_RATIOS = Array.from({ length: 26 }, (_, index) => SWING_RANGE.min + index / 100);
/** Hits further from the middle than this many robust spreads are slips. */
const SLIP_SPREADS = 3;
/** Below this it is called straight. */
const SWUNG_FROM_PERCENT = 53;
const NO_HARM = { pulled: [], collisions: [] } as const;

interface Candidate {
  readonly grid: LineGridName;
  readonly swings: boolean;
}

const CANDIDATES: readonly Candidate[] = [
  { grid: "1/4", swings: false },
  { grid: "1/8", swings: true },
  { grid: "1/16", swings: true },
  { grid: "1/32", swings: false },
  { grid: "1/4T", swings: false },
  { grid: "1/8T", swings: false },
  { grid: "1/16T", swings: false },
];

interface Fitted {
  readonly grid: LineGridName;
  readonly ratio: number;
  readonly swings: boolean;
  readonly missesMs: readonly number[];
  readonly score: number;
}

/**
 * Which grid some hits were played on. Each grid is scored by how likely the hits are on its lines, with the spread that
 * fits them best and a few strays; a grid with more lines spreads its likelihood over them, so the coarsest that explains
 * the playing wins, and a swing costs what one more figure costs (Bayesian information criterion, Schwarz 1978, from
 * memory). But a hit that lies further from every line than the player's own spread explains is no stray where a finer grid
 * has a line for it: then that grid is the answer, however few such hits there are. Where neither can be said, nothing is.
 * @param against the grid that is set now
 * @param strokes where a hand came down: of the notes of a chord once
 * @returns undefined for fewer than twelve strokes, and where it can't be told
 */
export function adviseGrid(
  hits: readonly AdvisedHit[],
  bpm: Bpm,
  barTicks: Ticks,
  against: LineGridName = "1/16",
  strokes: readonly Ticks[] = hits.map(({ ticks }) => ticks),
): GridAdvice | undefined {
  if (strokes.length < MIN_ADVISED_HITS) return undefined;
  const msPerTick = ticksToSeconds(1 as Ticks, bpm) * 1000;
  const fitted = CANDIDATES.map((candidate) => fit(candidate, strokes, msPerTick, barTicks)).sort(
    (a, b) => b.score - a.score,
  );
  const best = explaining(fitted, msPerTick);
  if (!best) return undefined;
  const swingPercent = best.swings ? best.ratio * 100 : 50;
  const family = best.grid.endsWith("T") ? "triplet" : swingPercent >= SWUNG_FROM_PERCENT ? "swung" : "straight";
  const { pulled, collisions } = best.grid === against ? NO_HARM : harm(hits, best, against, barTicks);
  return {
    grid: best.grid,
    family,
    swingPercent: Math.round(swingPercent * 10) / 10,
    swingUnit: best.swings ? (best.grid as "1/8" | "1/16") : undefined,
    residualMs: Math.round(median(best.missesMs.map(Math.abs)) * 10) / 10,
    pulled,
    collisions,
    sentence: sentenceFor(best, family, swingPercent, against, pulled.length, collisions.length),
  };
}

/**
 * The likeliest grid, or the coarsest finer one that also has lines for the hits which that one leaves between its own.
 * @param fitted the likeliest first
 */
function explaining(fitted: readonly Fitted[], msPerTick: number): Fitted | undefined {
  const [best] = fitted;
  const spreadMs = ownSpread(best!.missesMs);
  // Lines that the playing does not tell from one another are not what was played on.
  if (!isDistinct(GRID_TICKS[best!.grid], msPerTick, spreadMs)) return undefined;
  const between = best!.missesMs.map(Math.abs).filter((ms) => ms > EXPLAINED_SPREADS * spreadMs);
  if (between.length === 0) return best;
  if (!between.some((ms) => ms > EVIDENT_SPREADS * spreadMs)) return undefined;
  const misfit = ({ missesMs }: Fitted) => missesMs.reduce((sum, ms) => sum + (ms / spreadMs) ** 2, 0);
  const finer = fitted
    .filter((other) => refines(other, best!) && isDistinct(GRID_TICKS[other.grid], msPerTick, spreadMs))
    .toSorted((a, b) => GRID_TICKS[b.grid] - GRID_TICKS[a.grid]);
  const has = (one: Fitted) => one.missesMs.every((ms) => Math.abs(ms) <= EVIDENT_SPREADS * spreadMs);
  const straight = finer.find((one) => !isTriplet(one.grid) && has(one));
  const triplet = finer.find((one) => isTriplet(one.grid) && has(one));
  if (!straight || !triplet) return straight;
  // A few hits between straight lines are hardly ever triplets.
  const more = misfit(straight) - misfit(triplet);
  if (more > TOLD_APART) return triplet;
  return more < 0 ? straight : undefined;
}

function isDistinct(step: number, msPerTick: number, spreadMs: number): boolean {
  const spreads = step < GRID_TICKS["1/16"] ? DISTINCT_SPREADS.hardlyPlayed : DISTINCT_SPREADS.usual;
  return step * msPerTick > spreads * spreadMs;
}

/** It has all lines of the other one, and more. */
function refines(finer: Fitted, { grid, ratio }: Fitted): boolean {
  const [step, coarse] = [GRID_TICKS[finer.grid], GRID_TICKS[grid]];
  return (
    ratio * 100 < SWUNG_FROM_PERCENT && finer.ratio * 100 < SWUNG_FROM_PERCENT && step < coarse && coarse % step === 0
  );
}

/** A robust first guess, then the spread of what lies within three of it. */
function ownSpread(missesMs: readonly number[]): number {
  const guess = Math.max(SPREAD_MS.min, 1.4826 * median(missesMs.map(Math.abs)));
  const near = missesMs.filter((ms) => Math.abs(ms) <= EXPLAINED_SPREADS * guess);
  return Math.max(SPREAD_MS.min, Math.sqrt(near.reduce((sum, ms) => sum + ms * ms, 0) / near.length));
}

function fit({ grid, swings }: Candidate, positions: readonly Ticks[], msPerTick: number, bar: Ticks): Fitted {
  const unit = GRID_TICKS[grid];
  const ratio = swings ? bestRatio(positions, unit, bar) : SWING_RANGE.min;
  const missesMs = positions.map((ticks) => msPerTick * missFrom(ticks, grid, ratio, swings, bar));
  const beatMs = TICKS_PER_QUARTER * msPerTick;
  const perHit = logLikelihood(missesMs, unit * msPerTick, beatMs);
  const hardly = HARDLY_PLAYED.find(({ belowMs }) => unit * msPerTick < belowMs)?.perHit ?? 0;
  const cost = (swings ? 1 : 0.5) * Math.log(positions.length);
  return { grid, ratio, swings, missesMs, score: perHit - hardly * positions.length - cost };
}

function missFrom(ticks: Ticks, grid: LineGridName, ratio: number, swings: boolean, bar: Ticks): number {
  if (swings) return swingMiss(ticks, ratio, GRID_TICKS[grid], bar);
  return ticks - quantize(ticks, [GRID_TICKS[grid] as Ticks], { strength: 1, reach: 1 }, bar).line!;
}

/** The ratio from which the hits lie least far, then the middle of those hits that lie on it. */
function bestRatio(positions: readonly Ticks[], unit: number, bar: Ticks): number {
  // Absolute distances: a few hits on other lines must not draw it away.
  const sums = SWING_RATIOS.map((ratio) =>
    positions.reduce((sum, ticks) => sum + Math.min(unit / 3, Math.abs(swingMiss(ticks, ratio, unit, bar))), 0),
  );
  const rough = SWING_RATIOS[sums.indexOf(Math.min(...sums))]!;
  const middles = positions
    .map((ticks) => (ticks - Math.floor(ticks / bar) * bar) % (2 * unit))
    .filter((inPair) => Math.abs(inPair - rough * 2 * unit) < unit / 3);
  if (middles.length === 0) return SWING_RANGE.min;
  const centre = median(middles);
  const slip = SLIP_SPREADS * Math.max(1, 1.4826 * median(middles.map((ticks) => Math.abs(ticks - centre))));
  const near = middles.filter((ticks) => Math.abs(ticks - centre) <= slip);
  const mean = near.reduce((sum, ticks) => sum + ticks, 0) / near.length;
  return Math.max(SWING_RANGE.min, Math.min(SWING_RANGE.max, mean / (2 * unit)));
}

function logLikelihood(missesMs: readonly number[], stepMs: number, beatMs: number): number {
  const squares = missesMs.map((ms) => ms * ms);
  // A robust first guess, then the mean of what lies within three of it.
  const guess = Math.max(SPREAD_MS.min, 1.4826 * median(missesMs.map(Math.abs)));
  const near = squares.filter((square) => square <= 9 * guess * guess);
  const spread = near.length === 0 ? guess : Math.sqrt(near.reduce((sum, square) => sum + square, 0) / near.length);
  const sigma = Math.max(SPREAD_MS.min, Math.min(SPREAD_MS.max, spread));
  const lines = beatMs / stepMs;
  const peak = (1 - STRAY_SHARE) / (lines * sigma * Math.sqrt(2 * Math.PI));
  return squares.reduce(
    (sum, square) => sum + Math.log(peak * Math.exp(-square / (2 * sigma * sigma)) + STRAY_SHARE / beatMs),
    0,
  );
}

/** What the other grid would do to the hits. */
function harm(hits: readonly AdvisedHit[], best: Fitted, against: LineGridName, bar: Ticks) {
  const step = GRID_TICKS[against] as Ticks;
  const lineOn = (ticks: Ticks, grid: LineGridName) =>
    quantize(ticks, [GRID_TICKS[grid] as Ticks], { strength: 1, reach: 1 }, bar).line!;
  const pulled: number[] = [];
  const collisions: number[] = [];
  const taken = new Map<string, AdvisedHit>();
  for (const hit of hits) {
    const line = lineOn(hit.ticks, against);
    const own = hit.ticks - missFrom(hit.ticks, best.grid, best.ratio, best.swings, bar);
    if (lineOn(Math.round(own) as Ticks, against) !== line) pulled.push(hit.id);
    const place = `${hit.pad} ${line}`;
    const rival = taken.get(place);
    if (rival && Math.abs(rival.ticks - hit.ticks) > step / 4) collisions.push(rival.id, hit.id);
    taken.set(place, hit);
  }
  return { pulled, collisions: [...new Set(collisions)] };
}

const NAMES: Partial<Record<LineGridName, string>> = {
  "1/4": "quarters",
  "1/8": "eighths",
  "1/16": "sixteenths",
  "1/32": "thirty-seconds",
  "1/4T": "quarter triplets",
  "1/8T": "eighth triplets",
  "1/16T": "sixteenth triplets",
};

function sentenceFor(
  { grid }: Fitted,
  family: GridAdvice["family"],
  swingPercent: number,
  against: LineGridName,
  pulled: number,
  collisions: number,
): string {
  const swung = family === "swung" ? `, swung ${Math.round(swingPercent)} %` : "";
  const played =
    GRID_TICKS[grid] > GRID_TICKS[against]
      ? `Nothing faster than ${NAMES[grid]}${swung}`
      : `Played in ${NAMES[grid]}${swung}`;
  const hits = (count: number) => (count === 1 ? "1 hit" : `${count} hits`);
  const harms = [
    ...(pulled > 0 ? [`pull ${hits(pulled)} to the wrong line`] : []),
    ...(collisions > 0 ? [`press ${hits(collisions)} together`] : []),
  ];
  if (grid === against) return `${played}; ${against} ${family === "swung" ? "alone straightens it" : "fits"}.`;
  return harms.length === 0
    ? `${played}; ${against} does no harm.`
    : `${played}; ${against} would ${harms.join(" and ")}.`;
}
