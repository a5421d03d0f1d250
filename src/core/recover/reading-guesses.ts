import { mean } from "simple-statistics";
import { sameMeter, type Meter } from "../time/meter";
import { stepAt } from "./align";
import { barFeatures, countPlaying, type CountedPlaying } from "./bar-features";
import { drumPart } from "./drum-part";
import { comingRound, meterFeatures } from "./meter-features";
import { phraseEnds, phraseFeatures, phraseGuesses, type PhraseEnds, type PhraseGuess } from "./phrase-features";
import type { PlayedSteps } from "./played-steps";
import { pulseFeatures, tempoOf } from "./pulse-features";
import { BPM, searchPulses, type PulseGuess } from "./pulse-search";
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

/** A pulse, a meter and where bars begin, with all lengths that are thought of, and what speaks for each. */
export interface BarGuess {
  readonly pulse: PulseGuess;
  readonly meter: Meter;
  readonly played: PlayedSteps;
  /** A step at which a bar begins. */
  readonly barLine: number;
  /** In the order of PULSE_FEATURES, METER_FEATURES and BAR_FEATURES. */
  readonly features: readonly [pulse: readonly number[], meter: readonly number[], bar: readonly number[]];
  readonly phrases: readonly { readonly phrase: PhraseGuess; readonly features: readonly number[] }[];
}

/** Strokes, and the moments in which they fell. */
export interface Moments {
  /** When strokes fell that count as one to a grid. */
  readonly times: readonly number[];
  /** Which of these each hit belongs to. */
  readonly eventOf: readonly number[];
}

/** @param hits ascending in time */
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
): Generator<BarGuess> {
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
    const playing: PlayingOnPulse = {
      pulse,
      counted,
      ends: phraseEnds(played, counted.struck.any),
      ofPulse: pulseFeatures(pulse, played, evidence),
    };
    const comesRound = comingRound(played);
    for (const meter of meters) {
      if (mustComeRound(meter) && !comesRound(meter)) continue;
      yield* guessesIn(playing, meter, hints);
    }
  }
}

interface PlayingOnPulse {
  readonly pulse: PulseGuess;
  readonly counted: CountedPlaying;
  readonly ends: PhraseEnds;
  readonly ofPulse: readonly number[];
}

function* guessesIn(
  { pulse, counted, ends, ofPulse }: PlayingOnPulse,
  meter: Meter,
  { downbeat, bars }: ReadingHints,
): Generator<BarGuess> {
  const { perQuarter, alignment, quarterSeconds } = pulse;
  const { played, evidence } = counted;
  const { barSteps, featuresAt } = barFeatures(counted, meter);
  const ofMeter = meterFeatures(played, meter, evidence);
  const featuresOf = phraseFeatures(ends, { barSteps, perQuarter, quarterSeconds });
  const given = downbeat === undefined ? undefined : stepAt(alignment.curve, downbeat);
  // Where nothing faster than eighths is played, no bar begins between them, unless the player says so.
  const every = pulse.playedPerQuarter === 2 && given === undefined ? 2 : 1;
  for (let barLine = 0; barLine < barSteps; barLine += every) {
    if (given !== undefined && (given - barLine) % barSteps !== 0) continue;
    const phrases = phraseGuesses(ends, barLine, barSteps, { line: given, bars }).map((phrase) => ({
      phrase,
      features: featuresOf(phrase),
    }));
    yield { pulse, meter, played, barLine, features: [ofPulse, ofMeter, featuresAt(barLine)], phrases };
  }
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
