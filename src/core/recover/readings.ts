import { sameMeter, type Meter } from "../time/meter";
import { timeOfStep } from "./align";
import { barQuarters } from "./bar-place";
import type { PhraseGuess } from "./phrase-features";
import { smoothPulse } from "./pulse";
import { isLike, SAME_TEMPO, type FreeHit, type Reading, type ReadingHints } from "./reading";
import { momentsOf, readingGuesses, type BarGuess, type Moments } from "./reading-guesses";
import { reasonsFor } from "./reading-reasons";
import { barScore, phraseScore } from "./reading-score";

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
  readonly bar: BarGuess;
  readonly phrase: PhraseGuess;
  readonly score: number;
  /** When the first bar line is, on the curve of the strokes. */
  readonly downbeat: number;
}

/** All that is thought of, the best first. */
interface Guesses {
  readonly all: readonly Guess[];
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
  const all: Guess[] = [];
  for (const bar of readingGuesses(hits, moments, meters, hints)) {
    const other = hints.session && !sameMeter(bar.meter, hints.session) ? OTHER_THAN_SESSION : 0;
    const score = barScore(bar) - other + (bar.meter.beats === 12 ? TWELVE_EIGHTHS : 0);
    for (const { phrase, features } of bar.phrases) {
      const downbeat = timeOfStep(bar.pulse.alignment.curve, phrase.line);
      all.push({ bar, phrase, score: score + phraseScore(features), downbeat });
    }
  }
  all.sort((a, b) => b.score - a.score);
  return { all, odds: all.reduce((sum, guess) => sum + oddsOf(guess, all[0]!), 0) };
}

/** How likely a guess is against the best. */
function oddsOf({ score }: Guess, best: Guess): number {
  return Math.exp(score - best.score);
}

/** The best of each tempo; half or twice the first one's, where most mistakes are, and another bar line that is close come before others. */
function choose(guesses: Guesses, { kept }: ReadingHints): readonly Guess[] {
  const distinct: Guess[] = [];
  for (const guess of guesses.all)
    if (!distinct.some((other) => sameBar(other, guess) && isAt(guess, other, 1))) distinct.push(guess);
  const [first, ...rest] = distinct;
  if (!first) return [];
  const otherLine = guesses.all.find(
    (guess) => sameBar(guess, first) && isAt(guess, first, 1) && !sharesLine(guess, first),
  );
  const close = otherLine && alike(otherLine, guesses) >= CLOSE * alike(first, guesses) ? [otherLine] : [];
  const octave = rest.find((guess) => isAt(guess, first, 2) || isAt(guess, first, 0.5));
  const others = rest.filter((guess) => guess !== octave);
  const shown = [first, ...close, ...(octave ? [octave] : []), ...others].slice(0, MAX_READINGS);
  if (!kept) return shown;
  const isKept = ({ bar: { meter, pulse } }: Guess) => isLike({ meter, bpm: 60 / pulse.quarterSeconds }, kept);
  const missed = shown.some(isKept) ? undefined : distinct.find(isKept);
  return missed ? [...shown.slice(0, MAX_READINGS - 1), missed] : shown;
}

/** True where bars have the same beats, however those are felt together. */
function sameBar({ bar: { meter: a } }: Guess, { bar: { meter: b } }: Guess): boolean {
  return a.beats === b.beats && a.unit === b.unit;
}

/** True where a guess is so many times as fast as another one. */
function isAt({ bar: { pulse } }: Guess, other: Guess, times: number): boolean {
  return Math.abs((pulse.quarterSeconds * times) / other.bar.pulse.quarterSeconds - 1) < SAME_TEMPO;
}

/** True where bars of one tempo and meter begin at the same moments. */
function sharesLine(guess: Guess, other: Guess): boolean {
  const barSeconds = barQuarters(other.bar.meter) * other.bar.pulse.quarterSeconds;
  const apart = Math.abs(guess.downbeat - other.downbeat) / barSeconds;
  return Math.abs(apart - Math.round(apart)) * barSeconds < SAME_LINE_SECONDS;
}

/** How likely a guess is, with all that says the same: tempo, first downbeat and length. */
function alike(guess: Guess, { all, odds }: Guesses): number {
  return all.reduce((sum, other) => {
    const same =
      other.phrase.bars === guess.phrase.bars &&
      sameBar(other, guess) &&
      Math.abs(other.downbeat - guess.downbeat) < SAME_LINE_SECONDS &&
      isAt(other, guess, 1);
    return same ? sum + oddsOf(other, all[0]!) / odds : sum;
  }, 0);
}

function toReading(guess: Guess, guesses: Guesses, times: readonly number[]): Reading {
  const { bar, phrase } = guess;
  const { perQuarter, quarterSeconds, alignment } = bar.pulse;
  const places = alignment.steps.map((step) => (step - phrase.line) / perQuarter);
  const pulse = smoothPulse(places, times);
  return {
    bpm: 60 / quarterSeconds,
    // The first downbeat is a line of the pulse itself, also where no straight tempo would have it there.
    downbeat: pulse.times[-pulse.from]!,
    bars: phrase.bars,
    meter: bar.meter,
    perQuarter,
    confidence: alike(guess, guesses),
    reasons: reasonsFor(bar, phrase),
    pulse,
  };
}
