import { sameMeter, type Meter } from "../../time/meter";
import { timeOfStep } from "../pulse/align";
import { barQuarters } from "../features/bar-place";
import type { PhraseGuess } from "../features/phrase-features";
import { smoothPulse } from "../pulse/pulse";
import { isLike, SAME_TEMPO, type FreeHit, type Reading, type ReadingHints } from "./reading";
import { momentsOf, readingGuesses, type MeterGuess, type Moments } from "./reading-guesses";
import { reasonsFor } from "./reading-reasons";
import { readingScores } from "./reading-score";

export const MAX_READINGS = 5;
const MIN_HITS = 3;
/** What a meter has to make up for that is not the session's, where there is one. */
const OTHER_THAN_SESSION = 1.2;
/** Songs say nothing about 12/8, and two bars of 6/8 explain as much with fewer places: set by hand, as decision 29 says. */
const TWELVE_EIGHTHS = 0.8;
/** Downbeats so far apart are the same. */
const SAME_LINE_SECONDS = 0.06;
/** Another bar line at the first one's tempo is shown if it is at least so likely beside it. */
const CLOSE = 1 / 3;

interface Guess {
  readonly of: MeterGuess;
  readonly barLine: number;
  readonly phrase: PhraseGuess;
  readonly score: number;
}

/** All that is thought of with a pulse and a meter. */
interface MeterGuesses {
  readonly of: MeterGuess;
  readonly all: readonly Guess[];
  readonly best: Guess;
}

/** All that is thought of. */
interface Guesses {
  /** By pulse and meter, that with the best guess first. */
  readonly byMeter: readonly MeterGuesses[];
  /** The sum of all their odds against the best. */
  readonly odds: number;
}

/**
 * Works out how something was played that had no click: for many tempi the strokes are laid on a grid that may drift, and of every
 * bar line and length it is asked what speaks for it: how well and how sparingly the grid explains the times, where each part of the
 * kit lies in the bar, what every bar has, what comes in or changes on the line, where playing begins and ends.
 * Conditional logit over all of that (McFadden 1974, from memory), with weights that are fitted to songs.
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
  const moments = momentsOf(hits);
  if (moments.times.length < 2) return [];
  const guesses = scored(hits, moments, meters, hints);
  return choose(guesses, hints).map((guess) => toReading(guess, guesses, moments.times));
}

function scored(hits: readonly FreeHit[], moments: Moments, meters: readonly Meter[], hints: ReadingHints): Guesses {
  const byMeter: MeterGuesses[] = [];
  for (const of of readingGuesses(hits, moments, meters, hints)) {
    const other = hints.session && !sameMeter(of.meter, hints.session) ? OTHER_THAN_SESSION : 0;
    byMeter.push(scoredIn(of, (of.meter.beats === 12 ? TWELVE_EIGHTHS : 0) - other));
  }
  byMeter.sort((a, b) => b.best.score - a.best.score);
  let odds = 0;
  for (const { all } of byMeter) for (const guess of all) odds += oddsOf(guess, byMeter[0]!.best);
  return { byMeter, odds };
}

/** @param more what is added to every score */
function scoredIn(of: MeterGuess, more: number): MeterGuesses {
  const all: Guess[] = [];
  let best: Guess | undefined;
  const scores = readingScores(of);
  for (const barLine of of.barLines) {
    const barScore = scores.bar(barLine) + more;
    for (const phrase of of.phrases(barLine)) {
      const guess = { of, barLine, phrase, score: barScore + scores.phrase(phrase) };
      all.push(guess);
      if (!best || guess.score > best.score) best = guess;
    }
  }
  return { of, all, best: best! };
}

/** How likely a guess is against the best. */
function oddsOf({ score }: Guess, best: Guess): number {
  return Math.exp(score - best.score);
}

/** The best of each tempo; half or twice the first one's, where most mistakes are, and another bar line that is close come before others. */
function choose(guesses: Guesses, { kept }: ReadingHints): readonly Guess[] {
  const distinct: Guess[] = [];
  for (const { best } of guesses.byMeter)
    if (!distinct.some((other) => sameBar(other.of, best.of) && isAt(best.of, other.of, 1))) distinct.push(best);
  const [first, ...rest] = distinct;
  if (!first) return [];
  const otherLine = bestOtherLine(first, guesses);
  const close = otherLine && alike(otherLine, guesses) >= CLOSE * alike(first, guesses) ? [otherLine] : [];
  const octave = rest.find(({ of }) => isAt(of, first.of, 2) || isAt(of, first.of, 0.5));
  const others = rest.filter((guess) => guess !== octave);
  const shown = [first, ...close, ...(octave ? [octave] : []), ...others].slice(0, MAX_READINGS);
  if (!kept) return shown;
  const isKept = ({ of: { meter, pulse } }: Guess) => isLike({ meter, bpm: 60 / pulse.quarterSeconds }, kept);
  const missed = shown.some(isKept) ? undefined : distinct.find(isKept);
  return missed ? [...shown.slice(0, MAX_READINGS - 1), missed] : shown;
}

/** The best of the first one's tempo and meter whose bars begin elsewhere. */
function bestOtherLine(first: Guess, { byMeter }: Guesses): Guess | undefined {
  let best: Guess | undefined;
  for (const { of, all } of byMeter) {
    if (!sameBar(of, first.of) || !isAt(of, first.of, 1)) continue;
    for (const guess of all) if ((!best || guess.score > best.score) && !sharesLine(guess, first)) best = guess;
  }
  return best;
}

/** Seconds of the first bar line, on the curve of the strokes. */
function downbeatOf({ of, phrase }: Guess): number {
  return timeOfStep(of.pulse.alignment.curve, phrase.line);
}

/** True where bars have the same beats, however those are felt together. */
function sameBar({ meter: a }: MeterGuess, { meter: b }: MeterGuess): boolean {
  return a.beats === b.beats && a.unit === b.unit;
}

/** True where a guess is so many times as fast as another one. */
function isAt({ pulse }: MeterGuess, other: MeterGuess, times: number): boolean {
  return Math.abs((pulse.quarterSeconds * times) / other.pulse.quarterSeconds - 1) < SAME_TEMPO;
}

/** True where bars of one tempo and meter begin at the same moments. */
function sharesLine(guess: Guess, other: Guess): boolean {
  const barSeconds = barQuarters(other.of.meter) * other.of.pulse.quarterSeconds;
  const apart = Math.abs(downbeatOf(guess) - downbeatOf(other)) / barSeconds;
  return Math.abs(apart - Math.round(apart)) * barSeconds < SAME_LINE_SECONDS;
}

/** How likely a guess is, with all that says the same: tempo, first downbeat and length. */
function alike(guess: Guess, { byMeter, odds }: Guesses): number {
  const downbeat = downbeatOf(guess);
  let sum = 0;
  for (const { of, all } of byMeter) {
    if (!sameBar(of, guess.of) || !isAt(of, guess.of, 1)) continue;
    for (const other of all)
      if (other.phrase.bars === guess.phrase.bars && Math.abs(downbeatOf(other) - downbeat) < SAME_LINE_SECONDS)
        sum += oddsOf(other, byMeter[0]!.best);
  }
  return sum / odds;
}

function toReading(guess: Guess, guesses: Guesses, times: readonly number[]): Reading {
  const { of, barLine, phrase } = guess;
  const { perQuarter, quarterSeconds, alignment } = of.pulse;
  const places = alignment.steps.map((step) => (step - phrase.line) / perQuarter);
  const pulse = smoothPulse(places, times);
  return {
    bpm: 60 / quarterSeconds,
    // The first downbeat is a line of the pulse itself, also where no straight tempo would have it there.
    downbeat: pulse.times[-pulse.from]!,
    bars: phrase.bars,
    meter: of.meter,
    perQuarter,
    confidence: alike(guess, guesses),
    reasons: reasonsFor(of, barLine, phrase),
    pulse,
  };
}
