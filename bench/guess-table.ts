import { sameMeter } from "../src/core/time/meter";
import { timeOfStep } from "../src/core/recover/align";
import { PHRASE_FEATURES } from "../src/core/recover/phrase-features";
import { LIKELY_METERS } from "../src/core/recover/reading";
import { momentsOf, readingGuesses } from "../src/core/recover/reading-guesses";
import { READING_FEATURES } from "../src/core/recover/reading-score";
import { caseMeter, judge, type Case } from "./reading-cases";

/** What is to be likely, and how much each counts: all right; the tempo; the tempo and the first downbeat. */
export const GRADES = [1, 0.5, 0.5] as const;
/** Of how many cases in 4/4 one is asked for its meter, too, and how much such questions count; all others are asked. */
const METERS = { share: 6, common: 3, others: 1 };

const BAR = READING_FEATURES.flat().length;
const PHRASE = PHRASE_FEATURES.length;

/** Guesses of one case among which the right one is to be found. */
interface Question {
  readonly caseIndex: number;
  readonly from: number;
  readonly to: number;
  readonly weight: number;
}

interface Chunk {
  readonly bars: Float32Array;
  readonly phrases: Float32Array;
  /** By phrase: its bar line, bits of what is right, tempo, downbeat, bars. */
  readonly lineOf: Int32Array;
  readonly right: Uint8Array;
  readonly bpm: Float32Array;
  readonly downbeat: Float64Array;
  readonly length: Uint16Array;
  readonly questions: readonly Question[];
}

/** All guesses at all cases. */
export class GuessTable {
  /** The spread of each feature: what the ridge is for is told in these. */
  readonly scales: Float64Array;

  constructor(private readonly chunks: readonly (Chunk | undefined)[]) {
    this.scales = spreads(chunks);
  }

  has(caseIndex: number): boolean {
    return this.chunks[caseIndex] !== undefined;
  }

  /** How badly weights of scaled features find what is right, and which way is down. */
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

  /** What weights take for right, where the meter is known. */
  best(caseIndex: number, weights: Float64Array, temperature: number) {
    const chunk = this.chunks[caseIndex]!;
    const { bpm, downbeat, length, questions } = chunk;
    const scores = scoresOf(chunk, weights);
    const { from, to } = questions[0]!;
    let best = from;
    for (let at = from; at < to; at++) if (scores[at]! > scores[best]!) best = at;
    let [same, all] = [0, 0];
    for (let at = from; at < to; at++) {
      const odds = Math.exp((scores[at]! - scores[best]!) / temperature);
      all += odds;
      const alike = length[at] === length[best] && Math.abs(downbeat[at]! - downbeat[best]!) < 0.06;
      if (alike && Math.abs(bpm[at]! / bpm[best]! - 1) < 0.03) same += odds;
    }
    return { guess: { bpm: bpm[best]!, downbeat: downbeat[best]!, bars: length[best]! }, confidence: same / all };
  }
}

export function guessTable(cases: readonly Case[]): GuessTable {
  return new GuessTable(cases.map(chunkOf));
}

function chunkOf(one: Case, caseIndex: number): Chunk | undefined {
  const moments = momentsOf(one.hits);
  if (moments.times.length < 3) return undefined;
  const own = caseMeter(one);
  const common = own.beats === 4 && own.unit === 4;
  const asked = LIKELY_METERS.some((meter) => sameMeter(meter, own)) && (!common || caseIndex % METERS.share === 0);
  const meters = [own, ...(asked ? LIKELY_METERS.filter((meter) => !sameMeter(meter, own)) : [])];
  const bars: (readonly number[])[] = [];
  const phrases: (readonly number[])[] = [];
  const rows: { line: number; right: number; bpm: number; downbeat: number; length: number }[] = [];
  let ownEnd = 0;
  for (const meter of meters) {
    for (const guess of readingGuesses(one.hits, moments, [meter], {})) {
      const bpm = 60 / guess.pulse.quarterSeconds;
      for (const { phrase, features } of guess.phrases) {
        const downbeat = timeOfStep(guess.pulse.alignment.curve, phrase.line);
        const right = meter === own ? rightness(one, { bpm, downbeat, bars: phrase.bars }) : 0;
        rows.push({ line: bars.length, right, bpm, downbeat, length: phrase.bars });
        phrases.push(features);
      }
      bars.push(guess.features.flat());
    }
    if (meter === own) ownEnd = rows.length;
  }
  const weight = common ? METERS.common : METERS.others;
  const questions = [{ caseIndex, from: 0, to: ownEnd, weight: 1 }];
  if (asked) questions.push({ caseIndex, from: 0, to: rows.length, weight });
  return {
    bars: flat(bars, BAR),
    phrases: flat(phrases, PHRASE),
    lineOf: Int32Array.from(rows, ({ line }) => line),
    right: Uint8Array.from(rows, ({ right }) => right),
    bpm: Float32Array.from(rows, ({ bpm }) => bpm),
    downbeat: Float64Array.from(rows, ({ downbeat }) => downbeat),
    length: Uint16Array.from(rows, ({ length }) => length),
    questions,
  };
}

/** A bit for every grade; a downbeat that nobody knows is right wherever it is. */
function rightness(
  one: Case,
  guess: { readonly bpm: number; readonly downbeat: number; readonly bars: number },
): number {
  const { tempo, down, bars } = judge(one, guess);
  const line = down ?? tempo;
  return (tempo && line && bars ? 1 : 0) | (tempo ? 2 : 0) | (tempo && line ? 4 : 0);
}

function flat(lists: readonly (readonly number[])[], width: number): Float32Array {
  const all = new Float32Array(lists.length * width);
  lists.forEach((list, index) => all.set(list, index * width));
  return all;
}

function spreads(chunks: readonly (Chunk | undefined)[]): Float64Array {
  const sums = new Float64Array(2 * (BAR + PHRASE));
  const counts = [0, 0];
  const add = (values: Float32Array, width: number, offset: number, kind: number) => {
    // Every seventh is enough for a spread.
    for (let row = 0; row + width <= values.length; row += 7 * width, counts[kind]!++)
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

function scoresOf({ bars, phrases, lineOf }: Chunk, weights: Float64Array): Float64Array {
  const lines = new Float64Array(bars.length / BAR);
  for (let line = 0, at = 0; line < lines.length; line++) {
    let sum = 0;
    for (let index = 0; index < BAR; index++, at++) sum += weights[index]! * bars[at]!;
    lines[line] = sum;
  }
  const scores = new Float64Array(lineOf.length);
  for (let row = 0, at = 0; row < scores.length; row++) {
    let sum = lines[lineOf[row]!]!;
    for (let index = 0; index < PHRASE; index++, at++) sum += weights[BAR + index]! * phrases[at]!;
    scores[row] = sum;
  }
  return scores;
}

/** Minus the logarithm of how likely what is right is; adds the slope. */
function addLoss(chunk: Chunk, weights: Float64Array, caseWeight: number, slope: Float64Array): number {
  const { right, questions, lineOf, bars, phrases } = chunk;
  const scores = scoresOf(chunk, weights);
  const pulls = new Float64Array(scores.length);
  let loss = 0;
  for (const { from, to, weight } of questions) {
    const all = spread(scores, from, to, () => true);
    GRADES.forEach((share, grade) => {
      const good = spread(scores, from, to, (at) => (right[at]! & (1 << grade)) > 0);
      if (!good) return;
      const counts = caseWeight * weight * share;
      loss += counts * (all!.log - good.log);
      for (let at = from; at < to; at++) {
        pulls[at]! += (counts * all!.odds[at - from]!) / all!.sum;
        pulls[at]! -= (counts * good.odds[at - from]!) / good.sum;
      }
    });
  }
  const linePulls = new Float64Array(bars.length / BAR);
  for (let row = 0; row < pulls.length; row++) {
    const pull = pulls[row]!;
    linePulls[lineOf[row]!]! += pull;
    if (Math.abs(pull) < 1e-9) continue;
    for (let index = 0, at = row * PHRASE; index < PHRASE; index++, at++) slope[BAR + index]! += pull * phrases[at]!;
  }
  for (let line = 0; line < linePulls.length; line++) {
    const pull = linePulls[line]!;
    if (Math.abs(pull) < 1e-9) continue;
    for (let index = 0, at = line * BAR; index < BAR; index++, at++) slope[index]! += pull * bars[at]!;
  }
  return loss;
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
