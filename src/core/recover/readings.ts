import { mean, median } from "simple-statistics";
import { sameMeter, type Meter } from "../time/meter";
import { stepAt } from "./align";
import { barLineEvidence, isShuffled, repetition, type SteppedStrokes } from "./bar-evidence";
import { barQuarters, roleOf } from "./meter-profile";
import { phraseLength, type PhraseLength } from "./phrase-length";
import { smoothPulse } from "./pulse";
import type { FreeHit, Reading, ReadingHints } from "./reading";
import { BPM, searchPulses, type PulseGuess } from "./pulse-search";

export const MAX_READINGS = 5;
const MIN_HITS = 3;
/** Strokes so close are one to a grid. */
const TOGETHER_SECONDS = 0.025;
/** More hits than this are no more evidence: they repeat one another. */
const MOST_EVIDENCE = 60;
/** What each kind of evidence counts, beside that of the drums and of the length. */
const WEIGHTS = { grid: 0.06, repetition: 0.04 };
/** The tempo in the middle of what is usual, and how far others are from it, as logarithms. */
const USUAL_BPM = { middle: 118, spread: 0.36 };
/** How usual the played steps in a quarter are, as logarithms: sixteenths, eighths, eighth and sixteenth triplets. */
const FEELS: Readonly<Record<number, number>> = { 4: 0, 2: -1.5, 3: -2.5, 6: -2.5 };
/** What a meter that is not the session's has to make up for, and without a session one that is not the first. */
const OTHER_METER = { known: 2, unknown: 0.8 };
/** What a shuffle speaks against three quarters to the bar. */
const SHUFFLED = 2;
/** A tempo that the player gave is right to within so much. */
const HINTED_TEMPO = 0.04;
/** Of all pulses those that explain the times best are looked at closely. */
const FIT = { grid: 0.8, tempo: 3 };
const KEPT_PULSES = 16;
const SAME_TEMPO = 0.03;

interface Guess {
  readonly meter: Meter;
  readonly pulse: PulseGuess;
  readonly length: PhraseLength;
  readonly score: number;
}

/**
 * Works out how something was played that had no click: for many tempi the strokes are laid on a grid that may drift, and
 * each is scored by how well and how sparingly the grid explains the times, how kick, snare and cymbals lie in the bar, how
 * far bars repeat one another, where playing begins and ends, and how usual tempo and length are.
 * @param hits ascending in time
 * @param meters those that are thinkable, the most usual one first; one where it is known
 * @param hints what the player says about it
 * @returns up to five, the best first; none for fewer than three hits
 */
export function findReadings(
  hits: readonly FreeHit[],
  meters: readonly Meter[],
  hints: ReadingHints = {},
): readonly Reading[] {
  if (hits.length < MIN_HITS) return [];
  const { times, eventOf } = together(hits);
  if (times.length < 2) return [];
  const evidence = Math.min(MOST_EVIDENCE, hits.length);
  const usualMeter = hints.session ?? meters[0]!;
  const rarity = hints.session ? OTHER_METER.known : OTHER_METER.unknown;
  const fit = (pulse: PulseGuess) => FIT.grid * evidence * pulse.grid - FIT.tempo * unusual(pulse);
  const strokes = strokesOf(hits);
  const guesses = searchPulses(times, tempiOf(hints), fit, KEPT_PULSES)
    .flatMap((pulse) => {
      const { perQuarter, alignment } = pulse;
      const played = { ...strokes, perQuarter, steps: eventOf.map((event) => alignment.steps[event]!) };
      return meters.map((meter) => {
        const guess = bestBar(played, meter, pulse, evidence, hints);
        if (sameMeter(meter, usualMeter)) return guess;
        const shuffled = barQuarters(meter) === 3 && isShuffled(played, guess.length.line);
        return { ...guess, score: guess.score - rarity - (shuffled ? SHUFFLED : 0) };
      });
    })
    .sort((a, b) => b.score - a.score);
  const shown = chooseGuesses(guesses, hints);
  const likelihoods = shown.map(({ score }) => Math.exp(score - shown[0]!.score));
  const total = likelihoods.reduce((sum, one) => sum + one, 0);
  return shown.map((guess, index) => toReading(guess, times, likelihoods[index]! / total));
}

/** The best first, no two of one tempo; half or twice that tempo, where most mistakes are, comes second. */
function chooseGuesses(guesses: readonly Guess[], { kept }: ReadingHints): readonly Guess[] {
  const distinct: Guess[] = [];
  for (const guess of guesses)
    if (!distinct.some((other) => other.meter === guess.meter && isAt(guess, other, 1))) distinct.push(guess);
  const [first, ...rest] = distinct;
  if (!first) return [];
  const octave = rest.find((guess) => isAt(guess, first, 2) || isAt(guess, first, 0.5));
  const others = rest.filter((guess) => guess !== octave);
  const shown = [first, ...(octave ? [octave] : []), ...others].slice(0, MAX_READINGS);
  if (!kept) return shown;
  const isKept = ({ meter, pulse }: Guess) =>
    sameMeter(meter, kept.meter) && Math.abs((pulse.quarterSeconds * kept.bpm) / 60 - 1) < SAME_TEMPO;
  const missed = shown.some(isKept) ? undefined : distinct.find(isKept);
  return missed ? [...shown.slice(0, MAX_READINGS - 1), missed] : shown;
}

/** True where a guess is so many times as fast as another one. */
function isAt({ pulse: { quarterSeconds } }: Guess, other: Guess, times: number): boolean {
  return Math.abs((quarterSeconds * times) / other.pulse.quarterSeconds - 1) < SAME_TEMPO;
}

/** When strokes fell that count as one to a grid, and which of them each hit is. */
function together(hits: readonly FreeHit[]): {
  readonly times: readonly number[];
  readonly eventOf: readonly number[];
} {
  const events: { time: number; count: number }[] = [];
  const eventOf = hits.map(({ time }) => {
    const last = events.at(-1);
    if (last && time - last.time < TOGETHER_SECONDS) last.time += (time - last.time) / ++last.count;
    else events.push({ time, count: 1 });
    return events.length - 1;
  });
  return { times: events.map(({ time }) => time), eventOf };
}

function strokesOf(hits: readonly FreeHit[]): Pick<SteppedStrokes, "strokes" | "roles"> {
  const notes = [...new Set(hits.map(({ note }) => note))];
  const means = notes.map((note) => mean(hits.filter((hit) => hit.note === note).map(({ velocity }) => velocity)));
  const roles = notes.map(roleOf);
  const strokes = hits.map(({ note, velocity }) => {
    const drum = notes.indexOf(note);
    return { drum, role: roles[drum]!, weight: (velocity / 100) ** 1.2, accent: velocity - means[drum]! };
  });
  return { strokes, roles };
}

function tempiOf({ quarterSeconds }: ReadingHints): { readonly low: number; readonly high: number } {
  if (quarterSeconds === undefined) return BPM;
  return { low: (60 / quarterSeconds) * (1 - HINTED_TEMPO), high: (60 / quarterSeconds) * (1 + HINTED_TEMPO) };
}

/** How likely a pulse is by itself: lines that explain the times, as few of them as may be, a feel and a tempo that are usual. */
function pulseScore(pulse: PulseGuess, evidence: number): number {
  return evidence * WEIGHTS.grid * pulse.grid + FEELS[pulse.playedPerQuarter]! - unusual(pulse);
}

/** How far a tempo is from what is usual, squared. */
function unusual({ quarterSeconds }: PulseGuess): number {
  return (Math.log(60 / quarterSeconds / USUAL_BPM.middle) / USUAL_BPM.spread) ** 2;
}

/** The bar line that the drums speak for, and the length that goes with it. */
function bestBar(
  played: SteppedStrokes,
  meter: Meter,
  pulse: PulseGuess,
  evidence: number,
  { downbeat, bars }: ReadingHints,
): Guess {
  const { perQuarter, alignment } = pulse;
  const barSteps = Math.round(barQuarters(meter) * perQuarter);
  const line = downbeat === undefined ? undefined : stepAt(alignment.curve, downbeat);
  const span = { first: played.steps[0]!, last: played.steps.at(-1)!, gap: usualGap(played.steps) };
  let best: Pick<Guess, "length" | "score"> | undefined;
  barLineEvidence(played, meter, barSteps, evidence).forEach((drums, barStep) => {
    if (line !== undefined && (line - barStep) % barSteps !== 0) return;
    const length = phraseLength(span, barStep, barSteps, perQuarter, { line, bars });
    const score = drums + length.rank;
    if (!best || score > best.score) best = { length, score };
  });
  const { length, score } = best!;
  const repeats = evidence * WEIGHTS.repetition * repetition(played, barSteps);
  return { meter, pulse, length, score: score + repeats + pulseScore(pulse, evidence) };
}

/** How many steps strokes that do not fall together are mostly apart; 0 where all do. */
function usualGap(steps: readonly number[]): number {
  const gaps = steps.slice(1).flatMap((step, index) => (step > steps[index]! ? [step - steps[index]!] : []));
  return gaps.length === 0 ? 0 : median(gaps);
}

function toReading({ meter, pulse: found, length }: Guess, times: readonly number[], confidence: number): Reading {
  const { perQuarter, quarterSeconds, alignment } = found;
  const places = alignment.steps.map((step) => (step - length.line) / perQuarter);
  const pulse = smoothPulse(places, times);
  // The first downbeat is a line of the pulse itself, also where no straight tempo would have it there.
  const downbeat = pulse.times[-pulse.from]!;
  return { bpm: 60 / quarterSeconds, downbeat, bars: length.bars, meter, perQuarter, confidence, pulse };
}
