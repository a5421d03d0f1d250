import { mean } from "simple-statistics";
import { sameMeter, type Meter } from "../../time/meter";
import { stepAt } from "../pulse/align";
import { barStepsOf } from "../features/bar-steps";
import { barFeatures, countPlaying, type CountedPlaying } from "../features/bar-features";
import { drumPart } from "../features/drum-part";
import { comesRound, meterFeatures, repetition, type Repetition } from "../features/meter-features";
import {
  phraseEnds,
  phraseFeatures,
  phraseGuesses,
  type PhraseEnds,
  type PhraseFeatures,
  type PhraseGuess,
} from "../features/phrase-features";
import type { PlayedSteps } from "../features/played-steps";
import { pulseFeatures, tempoOf } from "../features/pulse-features";
import { BPM, searchPulses, type PulseGuess } from "../pulse/pulse-search";
import { isRare, type FreeHit, type ReadingHints } from "./reading";

/** Strokes so close are one to a grid. */
const TOGETHER_SECONDS = 0.025;
/** Notes of parts with pitch are told from drums by so much. */
const TONES = 128;
/** More hits than this are no more evidence: they repeat one another. */
const MOST_EVIDENCE = 60;
/** A tempo that the player gave is right to within so much. */
const HINTED_TEMPO = 0.04;
/** Of all pulses those that explain the times best are looked at closely; a tempo far from what is usual must explain more. */
const FIT = { grid: 0.8, tempo: 3, spread: 0.36 };
const KEPT_PULSES = 16;

/** A pulse and a meter, with all bar lines and lengths that are thought of, and what speaks for each. */
export interface MeterGuess {
  readonly pulse: PulseGuess;
  readonly meter: Meter;
  readonly played: PlayedSteps;
  /** In the order of PULSE_FEATURES and METER_FEATURES. */
  readonly features: readonly [pulse: readonly number[], meter: readonly number[]];
  /** Steps of the first bar at which bars may begin. */
  readonly barLines: readonly number[];
  /** Fills a row in the order of BAR_FEATURES for one of the bar lines. */
  readonly barFeatures: (barLine: number, features: Float64Array) => void;
  /** The lengths that go with a bar line. */
  readonly phrases: (barLine: number) => readonly PhraseGuess[];
  readonly phraseFeatures: PhraseFeatures;
  /** Steps in a bar. */
  readonly barSteps: number;
}

/** Strokes, and the moments in which they fell. */
export interface Moments {
  /** When strokes fell that count as one to a grid. */
  readonly times: readonly number[];
  /** Which of these each hit belongs to. */
  readonly eventOf: readonly number[];
}

/**
 * @param hits ascending in time
 * @example momentsOf([{ time: 0, note: 36, velocity: 90 }, { time: 0.01, note: 42, velocity: 70 }, { time: 0.5, note: 38, velocity: 90 }]).eventOf // [0, 0, 1]
 */
export function momentsOf(hits: readonly FreeHit[]): Moments {
  const events: { time: number; count: number }[] = [];
  const eventOf = hits.map(({ time }) => {
    const last = events.at(-1);
    if (last && time - last.time < TOGETHER_SECONDS) last.time += (time - last.time) / ++last.count;
    else events.push({ time, count: 1 });
    return events.length - 1;
  });
  return { times: events.map(({ time }) => time), eventOf };
}

/**
 * All that is thought of playing: many pulses that may drift, each with every meter, every step as its bar line, and the lengths
 * that go with that.
 * @param hits ascending in time, at least two moments
 */
export function* readingGuesses(
  hits: readonly FreeHit[],
  { times, eventOf }: Moments,
  meters: readonly Meter[],
  hints: ReadingHints,
): Generator<MeterGuess> {
  const evidence = Math.min(MOST_EVIDENCE, hits.length);
  const rank = (pulse: PulseGuess) => FIT.grid * evidence * pulse.grid - FIT.tempo * (tempoOf(pulse) / FIT.spread) ** 2;
  const strokes = strokesOf(hits);
  // Where nothing likelier is asked for, the meter is known.
  const isKnown = meters.every(isRare);
  const isUsual = (meter: Meter) => hints.session !== undefined && sameMeter(meter, hints.session);
  const mustComeRound = (meter: Meter) => !isKnown && isRare(meter) && !isUsual(meter);
  for (const pulse of searchPulses(times, tempiOf(hints), rank, KEPT_PULSES)) {
    const { perQuarter, alignment } = pulse;
    const played = { ...strokes, perQuarter, steps: eventOf.map((event) => alignment.steps[event]!) };
    const counted = countPlaying(played, tempoOf(pulse), evidence);
    const again = repetition(played);
    const playing: PlayingOnPulse = {
      pulse,
      counted,
      again,
      ends: phraseEnds(played, counted.struck.any),
      ofPulse: pulseFeatures(pulse, played, evidence),
    };
    for (const meter of meters)
      if (!mustComeRound(meter) || comesRound(again, perQuarter, meter)) yield guessIn(playing, meter, hints);
  }
}

interface PlayingOnPulse {
  readonly pulse: PulseGuess;
  readonly counted: CountedPlaying;
  readonly again: Repetition;
  readonly ends: PhraseEnds;
  readonly ofPulse: readonly number[];
}

function guessIn(
  { pulse, counted, again, ends, ofPulse }: PlayingOnPulse,
  meter: Meter,
  { downbeat, bars }: ReadingHints,
): MeterGuess {
  const { perQuarter, alignment, quarterSeconds } = pulse;
  const { played, evidence } = counted;
  const bar = barStepsOf(meter, perQuarter);
  const barSteps = bar.count;
  const given = downbeat === undefined ? undefined : stepAt(alignment.curve, downbeat);
  return {
    pulse,
    meter,
    played,
    barSteps,
    features: [ofPulse, meterFeatures(again, perQuarter, meter, evidence)],
    barLines: barLinesOf(pulse, barSteps, given),
    barFeatures: barFeatures(counted, bar),
    phrases: (barLine) => phraseGuesses(ends, barLine, barSteps, { line: given, bars }),
    phraseFeatures: phraseFeatures(ends, { barSteps, perQuarter, quarterSeconds }),
  };
}

/** @param given a step at which the player says that a bar begins */
function barLinesOf({ playedPerQuarter }: PulseGuess, barSteps: number, given: number | undefined): readonly number[] {
  if (given !== undefined) return [((given % barSteps) + barSteps) % barSteps];
  // Where nothing faster than eighths is played, no bar begins between them, unless the player says so.
  const every = playedPerQuarter === 2 ? 2 : 1;
  return Array.from({ length: Math.ceil(barSteps / every) }, (_, line) => line * every);
}

function strokesOf(hits: readonly FreeHit[]): Omit<PlayedSteps, "steps" | "perQuarter"> {
  const nameOf = ({ note, tonal }: FreeHit) => (tonal ? TONES + note : note);
  const names = [...new Set(hits.map(nameOf))];
  const means = names.map((name) => mean(hits.filter((hit) => nameOf(hit) === name).map(({ velocity }) => velocity)));
  const parts = names.map((name) => (name >= TONES ? ("tone" as const) : drumPart(name)));
  const strokes = hits.map((hit) => {
    const drum = names.indexOf(nameOf(hit));
    const { velocity } = hit;
    return { drum, part: parts[drum]!, weight: (velocity / 100) ** 1.2, accent: velocity - means[drum]! };
  });
  const lowest = Math.min(...names.filter((name) => name >= TONES));
  return { strokes, parts, bass: Number.isFinite(lowest) ? names.indexOf(lowest) : undefined };
}

function tempiOf({ quarterSeconds }: ReadingHints): { readonly low: number; readonly high: number } {
  if (quarterSeconds === undefined) return BPM;
  return { low: (60 / quarterSeconds) * (1 - HINTED_TEMPO), high: (60 / quarterSeconds) * (1 + HINTED_TEMPO) };
}
