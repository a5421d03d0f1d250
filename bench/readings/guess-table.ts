import { sameMeter } from "../../src/core/time/meter";
import { timeOfStep } from "../../src/core/recover/pulse/align";
import { PHRASE_FEATURES, type PhraseGuess } from "../../src/core/recover/features/phrase-features";
import { LIKELY_METERS, type Reading } from "../../src/core/recover/readings/reading";
import { seededRandom, textSeed, type Random } from "../../src/core/random";
import { momentsOf, readingGuesses, type MeterGuess } from "../../src/core/recover/readings/reading-guesses";
import { READING_FEATURES, readingScores } from "../../src/core/recover/readings/reading-score";
import { caseMeter, judge, type Case } from "./reading-cases";

/** Of how many cases in 4/4 one is asked for its meter, too, and how much such questions count; all others are asked. */
const METERS = { share: 6, common: 3, others: 1 };
/**
 * Weights are learnt from what is right, from guesses that today's weights have so many nats below the best one at most, and of all
 * others from one bar line in so many, each of which stands for as many (sampling of alternatives, McFadden 1978; from memory).
 */
const LEARNT = { nats: 4, oneIn: 12 };

const OWN = READING_FEATURES.pulse.length + READING_FEATURES.meter.length;
const BAR = OWN + READING_FEATURES.bar.length;
const PHRASE = Object.values(PHRASE_FEATURES).flat().length;

/** Guesses of one case among which the right one is to be found. */
interface Question {
  readonly from: number;
  readonly to: number;
  readonly weight: number;
}

/** The guesses at one case that may be learnt from: of its own meter first. */
interface Chunk {
  readonly bars: Float32Array;
  readonly phrases: Float32Array;
  /** By phrase: its bar line, whether it is all right, and the logarithm of how many it stands for. */
  readonly lineOf: Int32Array;
  readonly right: Uint8Array;
  readonly standsFor: Float32Array;
  readonly questions: readonly Question[];
}

/** Guesses at all cases. */
export class GuessTable {
  /** The spread of each feature: what the ridge is for is told in these. */
  readonly scales: Float64Array;

  constructor(private readonly chunks: readonly (Chunk | undefined)[]) {
    this.scales = spreads(chunks);
  }

  /**
   * How badly weights of scaled features find what is right, and which way is down.
   * @param ridge how dear weights are
   */
  loss(scaled: Float64Array, caseWeights: Float64Array, ridge: number) {
    const weights = scaled.map((weight, index) => weight / this.scales[index]!);
    const slope = new Float64Array(scaled.length);
    let value = 0;
    let total = 0;
    this.chunks.forEach((chunk, index) => {
      if (!chunk || caseWeights[index] === 0) return;
      total += caseWeights[index]!;
      value += addLoss(chunk, weights, caseWeights[index]!, slope);
    });
    for (let index = 0; index < slope.length; index++) {
      slope[index] = slope[index]! / total / this.scales[index]! + ridge * scaled[index]!;
      value += 0.5 * total * ridge * scaled[index]! ** 2;
    }
    return { value: value / total, slope };
  }
}

export function guessTable(cases: readonly Case[]): GuessTable {
  return new GuessTable(cases.map(chunkOf));
}

/** A bar line, with all that speaks for it whatever the length. */
interface BarGuess {
  readonly of: MeterGuess;
  readonly features: Float64Array;
  /** By today's weights. */
  readonly score: number;
}

/** A guess of a bar line and a length. */
interface Row {
  readonly bar: BarGuess;
  readonly phrase: PhraseGuess;
  readonly features: readonly number[];
  /** By today's weights. */
  readonly score: number;
}

/** All guesses at a case that have a meter, the thoughts of one bar line one after the other. */
function rowsOf(one: Case, meter: Reading["meter"]): readonly Row[] {
  const moments = momentsOf(one.hits);
  if (moments.times.length < 3) return [];
  return [...readingGuesses(one.hits, moments, [meter], {})].flatMap((of) => {
    const scores = readingScores(of);
    return of.barLines.flatMap((barLine) => {
      const bar = { of, features: barFeaturesOf(of, barLine), score: scores.bar(barLine) };
      return of.phrases(barLine).map((phrase) => {
        return { bar, phrase, features: phraseFeaturesOf(of, phrase), score: bar.score + scores.phrase(phrase) };
      });
    });
  });
}

function barFeaturesOf({ features, barFeatures }: MeterGuess, barLine: number): Float64Array {
  const all = new Float64Array(BAR);
  all.set(features.flat());
  barFeatures(barLine, all.subarray(OWN));
  return all;
}

function phraseFeaturesOf({ phraseFeatures, barSteps }: MeterGuess, { line, bars }: PhraseGuess): readonly number[] {
  const { begin, end, length } = phraseFeatures;
  return [...begin(line), ...end(line + bars * barSteps), ...length(bars)];
}

function readingOf({ bar: { of }, phrase }: Row): Pick<Reading, "bpm" | "downbeat" | "bars"> {
  const downbeat = timeOfStep(of.pulse.alignment.curve, phrase.line);
  return { bpm: 60 / of.pulse.quarterSeconds, downbeat, bars: phrase.bars };
}

/** What weights take for right where the meter is known, of all that is thought of, and how sure that is; undefined for next to nothing. */
export function bestGuess(one: Case, weights: Float64Array) {
  const rows = rowsOf(one, caseMeter(one));
  const ofBar = new Map<BarGuess, number>();
  const barScoreOf = (bar: BarGuess) => {
    const known = ofBar.get(bar) ?? dot(weights, 0, bar.features);
    ofBar.set(bar, known);
    return known;
  };
  const scored = rows.map((row) => ({
    guess: readingOf(row),
    score: barScoreOf(row.bar) + dot(weights, BAR, row.features),
  }));
  const best = scored.reduce((one, other) => (other.score > one.score ? other : one), scored[0]!);
  if (!best) return undefined;
  let [same, all] = [0, 0];
  for (const { guess, score } of scored) {
    const odds = Math.exp(score - best.score);
    all += odds;
    const alike = guess.bars === best.guess.bars && Math.abs(guess.downbeat - best.guess.downbeat) < 0.06;
    if (alike && Math.abs(guess.bpm / best.guess.bpm - 1) < 0.03) same += odds;
  }
  return { guess: best.guess, confidence: same / all };
}

function chunkOf(one: Case, caseIndex: number): Chunk | undefined {
  const own = caseMeter(one);
  const common = own.beats === 4 && own.unit === 4;
  const asked = LIKELY_METERS.some((meter) => sameMeter(meter, own)) && (!common || caseIndex % METERS.share === 0);
  const others = asked ? LIKELY_METERS.filter((meter) => !sameMeter(meter, own)) : [];
  const isRight = (row: Row) => {
    const { tempo, down, bars } = judge(one, readingOf(row));
    // A downbeat that nobody knows is right wherever it is.
    return tempo && (down ?? true) && bars;
  };
  const ofOwn = rowsOf(one, own);
  if (ofOwn.length === 0) return undefined;
  const right = new Set(ofOwn.filter(isRight));
  const random = seededRandom(textSeed(one.id));
  const learnt = learntFrom(ofOwn, right, random);
  const ownCount = learnt.length;
  for (const meter of others) learnt.push(...learntFrom(rowsOf(one, meter), new Set(), random));
  const rows = learnt.map(({ row }) => row);
  const lines = [...new Set(rows.map(({ bar }) => bar))];
  const questions = [{ from: 0, to: ownCount, weight: 1 }];
  if (asked) questions.push({ from: 0, to: rows.length, weight: common ? METERS.common : METERS.others });
  return {
    bars: flat(
      lines.map(({ features }) => features),
      BAR,
    ),
    phrases: flat(
      rows.map(({ features }) => features),
      PHRASE,
    ),
    lineOf: Int32Array.from(rows, ({ bar }) => lines.indexOf(bar)),
    right: Uint8Array.from(rows, (row) => (right.has(row) ? 1 : 0)),
    standsFor: Float32Array.from(learnt, ({ count }) => Math.log(count)),
    questions,
  };
}

/** What of guesses is learnt from, and for how many each stands. */
function learntFrom(rows: readonly Row[], right: ReadonlySet<Row>, random: Random): { row: Row; count: number }[] {
  const best = rows.reduce((most, { score }) => Math.max(most, score), -Infinity);
  const drawn = new Map<BarGuess, boolean>();
  for (const { bar } of rows) if (!drawn.has(bar)) drawn.set(bar, random() * LEARNT.oneIn < 1);
  return rows.flatMap((row) => {
    if (right.has(row) || row.score >= best - LEARNT.nats) return [{ row, count: 1 }];
    return drawn.get(row.bar) ? [{ row, count: LEARNT.oneIn }] : [];
  });
}

function flat(lists: readonly ArrayLike<number>[], width: number): Float32Array {
  const all = new Float32Array(lists.length * width);
  lists.forEach((list, index) => all.set(list, index * width));
  return all;
}

function spreads(chunks: readonly (Chunk | undefined)[]): Float64Array {
  const sums = new Float64Array(2 * (BAR + PHRASE));
  const counts = [0, 0];
  const add = (values: Float32Array, width: number, offset: number, kind: number) => {
    for (let row = 0; row + width <= values.length; row += width, counts[kind]!++)
      for (let index = 0; index < width; index++) {
        const value = values[row + index]!;
        sums[2 * (offset + index)]! += value;
        sums[2 * (offset + index) + 1]! += value * value;
      }
  };
  for (const chunk of chunks)
    if (chunk) {
      add(chunk.bars, BAR, 0, 0);
      add(chunk.phrases, PHRASE, BAR, 1);
    }
  return Float64Array.from({ length: BAR + PHRASE }, (_, index) => {
    const count = counts[index < BAR ? 0 : 1]!;
    const mean = sums[2 * index]! / count;
    return Math.sqrt(Math.max(0, sums[2 * index + 1]! / count - mean * mean)) + 1e-6;
  });
}

/** Weights from one on times values. */
function dot(weights: Float64Array, from: number, values: ArrayLike<number>, at = 0, count = values.length): number {
  let sum = 0;
  for (let index = 0; index < count; index++) sum += weights[from + index]! * values[at + index]!;
  return sum;
}

/** Minus the logarithm of how likely what is right is; adds the slope. */
function addLoss(chunk: Chunk, weights: Float64Array, caseWeight: number, slope: Float64Array): number {
  const { right, standsFor, questions, lineOf, bars, phrases } = chunk;
  const lines = Float64Array.from({ length: bars.length / BAR }, (_, line) => dot(weights, 0, bars, line * BAR, BAR));
  const scores = Float64Array.from(
    lineOf,
    (line, row) => standsFor[row]! + lines[line]! + dot(weights, BAR, phrases, row * PHRASE, PHRASE),
  );
  const pulls = new Float64Array(scores.length);
  let loss = 0;
  for (const { from, to, weight } of questions) {
    const good = spread(scores, from, to, (at) => right[at] === 1);
    if (!good) continue;
    const all = spread(scores, from, to, () => true)!;
    const counts = caseWeight * weight;
    loss += counts * (all.log - good.log);
    for (let at = from; at < to; at++)
      pulls[at]! += counts * (all.odds[at - from]! / all.sum - good.odds[at - from]! / good.sum);
  }
  const linePulls = new Float64Array(lines.length);
  pulls.forEach((pull, row) => {
    linePulls[lineOf[row]!]! += pull;
    addTo(slope, BAR, pull, phrases, row * PHRASE, PHRASE);
  });
  linePulls.forEach((pull, line) => addTo(slope, 0, pull, bars, line * BAR, BAR));
  return loss;
}

function addTo(slope: Float64Array, from: number, pull: number, values: Float32Array, at: number, count: number): void {
  if (Math.abs(pull) < 1e-9) return;
  for (let index = 0; index < count; index++) slope[from + index]! += pull * values[at + index]!;
}

/** The odds of those that count, and the logarithm of their sum; undefined where none does. */
function spread(scores: Float64Array, from: number, to: number, counts: (at: number) => boolean) {
  let most = -Infinity;
  for (let at = from; at < to; at++) if (counts(at) && scores[at]! > most) most = scores[at]!;
  if (most === -Infinity) return undefined;
  const odds = new Float64Array(to - from);
  let sum = 0;
  for (let at = from; at < to; at++) if (counts(at)) sum += odds[at - from] = Math.exp(scores[at]! - most);
  return { odds, sum, log: most + Math.log(sum) };
}
