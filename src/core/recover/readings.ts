import { median } from "simple-statistics";
import { sameMeter, type Meter } from "../time/meter";
import { align, stepAt, timeOfStep, type Alignment } from "./align";
import { barQuarters, placeInBar, PROFILE, roleOf, type DrumRole } from "./meter-profile";
import { smoothPulse, type Paced } from "./pulse";

/** A stroke that was played without a click. */
export interface FreeHit {
  /** Seconds from any moment. */
  readonly time: number;
  /** General MIDI percussion key. */
  readonly note: number;
  /** 1..127 */
  readonly velocity: number;
}

/** One guess at the tempo, the first downbeat and the length of what was played. */
export interface Reading extends Paced {
  readonly bars: number;
  readonly meter: Meter;
  /** Steps in a quarter: 4 is straight, 3 and 6 are triplets. */
  readonly perQuarter: number;
  /** Ratio 0..1 among the readings. */
  readonly confidence: number;
}

/** What the player says about a performance: every reading keeps to it. */
export interface ReadingHints {
  /** The length of a quarter note. */
  readonly quarterSeconds?: number | undefined;
  /** A moment near the first downbeat. */
  readonly downbeat?: number | undefined;
  readonly bars?: number | undefined;
  /** The meter that is usual here: others must be clearly better. */
  readonly session?: Meter;
}

export const MAX_READINGS = 5;
/** The meters that are thought of where none is known. */
export const LIKELY_METERS: readonly Meter[] = [
  { beats: 4, unit: 4 },
  { beats: 3, unit: 4 },
  { beats: 6, unit: 8 },
];
const MIN_HITS = 3;
const BPM = { low: 56, high: 200, step: 1.012, usual: 118, spread: 0.36 };
const STEPS = [4, 3, 6, 2] as const;
/** Strokes so close are one to a grid. */
const TOGETHER_SECONDS = 0.025;
const STRAY_SHARE = 0.03;
const SPREAD_SECONDS = { min: 0.004, max: 0.04 };
/** More hits than this are no more evidence: they repeat one another. */
const MOST_EVIDENCE = 60;
/** What each kind of evidence counts. Broad optima: half or twice of any of them costs a few cases in a hundred. */
const WEIGHTS = { grid: 0.8, profile: 0.22, repeat: 1.2, tempo: 6, length: 1.2 };
/** What a meter that is not the session's has to make up for. */
const OTHER_METER = 6;
/** A tempo that the player gave is right to within so much. */
const HINTED_TEMPO = 0.04;
/** Of these the best are looked at closely. */
const KEPT_TEMPI = 28;
const SAME_TEMPO = 0.03;

interface Guess {
  readonly meter: Meter;
  readonly alignment: Alignment;
  readonly length: Length;
  readonly score: number;
}

/**
 * Works out how something was played that had no click: for many tempi the strokes are laid on a grid that may drift, and
 * each is scored by how well and how sparingly the grid explains the times, how kick, snare and cymbals lie in the bar, how
 * far bars repeat one another, and how usual the tempo is.
 * @param hits ascending in time
 * @param meters those that are thinkable; one where it is known
 * @param hints what the player says about it
 * @returns up to five, the best first; none for fewer than three hits
 */
export function findReadings(
  hits: readonly FreeHit[],
  meters: readonly Meter[],
  hints: ReadingHints = {},
): readonly Reading[] {
  if (hits.length < MIN_HITS) return [];
  const events = together(hits);
  if (events.length < 2) return [];
  const strokes = hits.map(({ note, velocity }, index) => ({
    role: roleOf(note),
    note,
    weight: (velocity / 100) ** 1.2,
    event: events.findLastIndex(({ from }) => from <= index),
  }));
  const alignments = bestAlignments(
    events.map(({ time }) => time),
    hints,
  );
  const guesses = meters
    .flatMap((meter) => alignments.map(({ alignment, grid }) => bestBar(strokes, meter, alignment, grid, hints)))
    .sort((a, b) => b.score - a.score);
  const distinct: Guess[] = [];
  for (const guess of guesses) {
    const same = (other: Guess) =>
      other.meter === guess.meter &&
      Math.abs(other.alignment.quarterSeconds / guess.alignment.quarterSeconds - 1) < SAME_TEMPO;
    if (!distinct.some(same)) distinct.push(guess);
    if (distinct.length === MAX_READINGS) break;
  }
  const total = distinct.reduce((sum, { score }) => sum + Math.exp((score - distinct[0].score) / 4), 0);
  const times = events.map(({ time }) => time);
  return distinct.map((guess) => toReading(guess, times, Math.exp((guess.score - distinct[0].score) / 4) / total));
}

/** Times of strokes that fall together, with the first hit of each. */
function together(hits: readonly FreeHit[]): readonly { readonly time: number; readonly from: number }[] {
  const events: { time: number; from: number; count: number }[] = [];
  hits.forEach(({ time }, from) => {
    const last = events.at(-1);
    if (last && time - last.time < TOGETHER_SECONDS) {
      last.time += (time - last.time) / ++last.count;
    } else events.push({ time, from, count: 1 });
  });
  return events;
}

function bestAlignments(
  times: readonly number[],
  { quarterSeconds }: ReadingHints,
): readonly { readonly alignment: Alignment; readonly grid: number }[] {
  const tried: { alignment: Alignment; grid: number; rank: number }[] = [];
  const hinted = quarterSeconds === undefined ? undefined : 60 / quarterSeconds;
  const low = hinted === undefined ? BPM.low : hinted * (1 - HINTED_TEMPO);
  const high = hinted === undefined ? BPM.high : hinted * (1 + HINTED_TEMPO);
  for (let bpm = low; bpm <= high; bpm *= BPM.step) {
    for (const perQuarter of STEPS) {
      const alignment = align(times, 60 / bpm, perQuarter);
      const grid = gridLikelihood(alignment);
      tried.push({ alignment, grid, rank: WEIGHTS.grid * grid * evidence(times.length) + tempoPrior(alignment) });
    }
  }
  tried.sort((a, b) => b.rank - a.rank);
  const kept: typeof tried = [];
  for (const one of tried) {
    const same = ({ alignment: { quarterSeconds, perQuarter } }: (typeof tried)[number]) =>
      perQuarter === one.alignment.perQuarter && Math.abs(quarterSeconds / one.alignment.quarterSeconds - 1) < 0.008;
    if (!kept.some(same)) kept.push(one);
    if (kept.length === KEPT_TEMPI) break;
  }
  return kept;
}

function evidence(count: number): number {
  return Math.min(MOST_EVIDENCE, count);
}

/** Mean log likelihood of a stroke's time, a second: lines that are further apart explain more. */
function gridLikelihood({ misses, quarterSeconds, perQuarter }: Alignment): number {
  const spread = Math.max(
    SPREAD_SECONDS.min,
    Math.min(SPREAD_SECONDS.max, 1.4826 * median(misses.map(Math.abs)) * 0.5 + rms(misses) * 0.5),
  );
  const peak = ((1 - STRAY_SHARE) * (quarterSeconds / perQuarter)) / (spread * Math.sqrt(2 * Math.PI));
  const sum = misses.reduce(
    (total, miss) => total + Math.log(peak * Math.exp((-miss * miss) / (2 * spread * spread)) + STRAY_SHARE),
    0,
  );
  return sum / misses.length;
}

function rms(values: readonly number[]): number {
  return Math.sqrt(values.reduce((sum, value) => sum + value * value, 0) / values.length);
}

function tempoPrior({ quarterSeconds }: Alignment): number {
  const distance = Math.log(60 / quarterSeconds / BPM.usual) / BPM.spread;
  return (-WEIGHTS.tempo * distance * distance) / 2;
}

interface Stroke {
  readonly role: DrumRole;
  readonly note: number;
  readonly weight: number;
  readonly event: number;
}

/** The bar line that the drums speak for, and the length that goes with it. */
function bestBar(
  strokes: readonly Stroke[],
  meter: Meter,
  alignment: Alignment,
  grid: number,
  { downbeat, bars, session }: ReadingHints,
): Guess {
  const { steps, perQuarter, curve } = alignment;
  const barSteps = Math.round(barQuarters(meter) * perQuarter);
  const known = downbeat === undefined ? undefined : stepAt(curve, downbeat);
  const table = Array.from({ length: barSteps }, (_, step) => placeInBar(step / perQuarter, meter));
  const weight = strokes.reduce((sum, stroke) => sum + stroke.weight, 0);
  let best: Pick<Guess, "length" | "score"> | undefined;
  for (let barStep = 0; barStep < barSteps; barStep++) {
    if (known !== undefined && (known - barStep) % barSteps !== 0) continue;
    let sum = 0;
    for (const { role, weight: own, event } of strokes) {
      const inBar = (((steps[event] - barStep) % barSteps) + barSteps) % barSteps;
      sum += own * PROFILE[role][table[inBar]];
    }
    const length = bestLength(steps[0], steps.at(-1)!, barStep, barSteps, perQuarter, { line: known, bars });
    const score = (WEIGHTS.profile * evidence(strokes.length) * sum) / weight + WEIGHTS.length * length.rank;
    if (!best || score > best.score) best = { length, score };
  }
  const repeat = repetition(strokes, steps, barSteps);
  const fits = evidence(strokes.length) * (WEIGHTS.grid * grid + WEIGHTS.repeat * repeat);
  const usual = session && !sameMeter(meter, session) ? -OTHER_METER : 0;
  return { meter, alignment, length: best!.length, score: best!.score + fits + tempoPrior(alignment) + usual };
}

/** How much of the playing comes again a bar later, and two bars later: ratio 0..1. */
function repetition(strokes: readonly Stroke[], steps: readonly number[], barSteps: number): number {
  const there = new Set(strokes.map(({ note, event }) => note * 100_000 + steps[event]));
  const last = steps.at(-1)!;
  const share = (lag: number) => {
    let again = 0;
    let all = 0;
    for (const { note, event, weight } of strokes) {
      if (steps[event] + lag > last) continue;
      all += weight;
      if (there.has(note * 100_000 + steps[event] + lag)) again += weight;
    }
    return all === 0 ? 0 : again / all;
  };
  return 0.7 * share(barSteps) + 0.3 * share(2 * barSteps);
}

/** Lengths that are usual, as shares (common practice, no source). */
const LENGTHS: Readonly<Record<number, number>> = {
  1: 0.08,
  2: 0.3,
  3: 0.04,
  4: 0.3,
  5: 0.02,
  6: 0.04,
  8: 0.3,
  12: 0.03,
  16: 0.08,
};
const UNUSUAL = 0.006;
/** Playing begins on a bar line, with a pick-up of up to a beat, anywhere, or after a rest: logarithms of likelihoods. */
const BEGINS = { line: 0, pickup: -1.6, anywhere: -2.3, rest: -2 };
/** It ends before a bar line, on one, or in the next bar. */
const ENDS = { before: 0, on: -1, beyond: -1.6, silencePerBar: -6, restPerBar: -3 };

interface Length {
  /** The step of the first bar line. */
  readonly line: number;
  readonly bars: number;
  /** Logarithm of how likely it is. */
  readonly rank: number;
}

/** How many whole bars were meant, from where playing begins and ends between bar lines. */
function bestLength(
  first: number,
  last: number,
  barStep: number,
  barSteps: number,
  perQuarter: number,
  known: { readonly line: number | undefined; readonly bars: number | undefined },
): Length {
  const firstLine = Math.ceil((first - barStep) / barSteps) * barSteps + barStep;
  let best: Length = { line: known.line ?? firstLine, bars: known.bars ?? 1, rank: -Infinity };
  for (const line of known.line === undefined ? [firstLine, firstLine - barSteps] : [known.line]) {
    const rest = (first - line) / barSteps;
    const begin =
      rest > 0
        ? BEGINS.rest + ENDS.restPerBar * rest
        : rest === 0
          ? BEGINS.line
          : line - first <= perQuarter
            ? BEGINS.pickup
            : BEGINS.anywhere;
    const inLast = (last - line) / barSteps;
    const whole = Math.floor(inLast);
    const over = inLast - whole;
    for (const bars of known.bars === undefined ? [whole, whole + 1] : [known.bars]) {
      if (bars < 1) continue;
      const end = bars > whole ? ENDS.before + ENDS.silencePerBar * (1 - over) : over === 0 ? ENDS.on : ENDS.beyond;
      const rank = begin + end + Math.log(LENGTHS[bars] ?? UNUSUAL);
      if (rank > best.rank) best = { line, bars, rank };
    }
  }
  return best;
}

function toReading({ meter, alignment, length }: Guess, times: readonly number[], confidence: number): Reading {
  const { perQuarter, curve, quarterSeconds, steps } = alignment;
  const downbeat = timeOfStep(curve, length.line);
  const pulse = smoothPulse(
    steps.map((step) => (step - length.line) / perQuarter),
    times,
  );
  return { bpm: 60 / quarterSeconds, downbeat, bars: length.bars, meter, perQuarter, confidence, pulse };
}
