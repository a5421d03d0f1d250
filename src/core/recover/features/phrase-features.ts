import {
  AGAIN_BEFORE_FEATURES,
  AGAIN_LATER_FEATURES,
  againBeforeFeatures,
  againLaterFeatures,
  barCounts,
} from "./again-features";
import type { PlayedPart } from "./drum-part";
import { usualGap, type PlayedSteps } from "./played-steps";

/** Lengths of their own. */
const LENGTHS = [1, 2, 3, 4, 5, 6, 8, 12, 16] as const;
const USUAL_SECONDS = 8;

const BEGIN_FEATURES = [
  "begins on the line",
  "begins on the line with kick",
  "begins on the line with crash",
  "begins on the line with kick and crash",
  "begins on the line with snare",
  "begins on the line with hats alone",
  "begins on the line with a low drum",
  "pick-up of up to half a beat",
  "pick-up of up to a beat",
  "pick-up of up to two beats",
  "pick-up of more",
  "pick-up begins with kick",
  "pick-up begins with snare or tom",
  "pick-up begins with crash",
  "pick-up begins between eighths",
  "pick-up, in bars",
  "rest before, in beats",
  "rest before, in bars",
] as const;
const END_FEATURES = [
  "ends before the line",
  "silence, in beats",
  "silence, in bars",
  "silence of more than a beat",
  "ends on the line",
  "ends on the line with kick or crash",
  "ends on the line with one stroke",
  "goes on by up to a beat",
  "goes on by up to half a bar",
  "goes on by more",
  "goes on, in bars",
] as const;

/** Evidence for a first bar line, for a last one, and for so many bars. */
export const PHRASE_FEATURES = {
  begin: [...BEGIN_FEATURES, ...AGAIN_LATER_FEATURES],
  end: [...END_FEATURES, ...AGAIN_BEFORE_FEATURES],
  length: [
    ...LENGTHS.map((bars) => `${bars} bars`),
    "odd bars beyond five",
    "odd bars beyond one",
    "seconds",
    "seconds squared",
  ],
} as const satisfies Readonly<Record<string, readonly string[]>>;

/** A length that is thought of: a bar line from which so many bars go. */
export interface PhraseGuess {
  /** The step of the first bar line. */
  readonly line: number;
  readonly bars: number;
}

/** What the player says about it. */
export interface KnownPhrase {
  readonly line?: number | undefined;
  readonly bars?: number | undefined;
}

/** What is struck in the first and the last moment, and how far strokes are mostly apart, in steps. */
export interface PhraseEnds {
  readonly first: number;
  readonly last: number;
  readonly gap: number;
  readonly begins: ReadonlySet<PlayedPart>;
  readonly ends: ReadonlySet<PlayedPart>;
  /** How many strokes fall together in the last moment. */
  readonly endStrokes: number;
  /** What is struck at each step, whatever it is. */
  readonly any: Float64Array;
}

export function phraseEnds({ strokes, steps }: PlayedSteps, any: Float64Array): PhraseEnds {
  const [first, last] = [steps[0]!, steps.at(-1)!];
  const at = (step: number) => strokes.filter((_, index) => steps[index] === step).map(({ part }) => part);
  const ends = at(last);
  return {
    first,
    last,
    gap: usualGap(steps),
    begins: new Set(at(first)),
    ends: new Set(ends),
    endStrokes: ends.length,
    any,
  };
}

/**
 * Lengths that are thought of with a bar line: from the first one on or the one before it, up to the last one before the end of
 * what is played or the next.
 */
export function phraseGuesses(
  { first, last }: PhraseEnds,
  barLine: number,
  barSteps: number,
  known: KnownPhrase,
): readonly PhraseGuess[] {
  const firstLine = Math.ceil((first - barLine) / barSteps) * barSteps + barLine;
  const lines = known.line === undefined ? [firstLine, firstLine - barSteps] : [known.line];
  const guesses: PhraseGuess[] = [];
  for (const line of lines) {
    const whole = Math.floor((last - line) / barSteps);
    if (known.bars !== undefined) guesses.push({ line, bars: known.bars });
    else {
      if (whole >= 1) guesses.push({ line, bars: whole });
      guesses.push({ line, bars: Math.max(1, whole + 1) });
    }
  }
  return guesses;
}

/** How long bars and steps are. */
export interface PhraseScale {
  readonly barSteps: number;
  readonly perQuarter: number;
  readonly quarterSeconds: number;
}

/** Evidence for a length, by where it begins, where it ends and how long it is: each in the order of its PHRASE_FEATURES. */
export interface PhraseFeatures {
  /** @param line the step of the first bar line */
  readonly begin: (line: number) => readonly number[];
  /** @param end the step of the last bar line */
  readonly end: (end: number) => readonly number[];
  readonly length: (bars: number) => readonly number[];
}

export function phraseFeatures(ends: PhraseEnds, scale: PhraseScale): PhraseFeatures {
  const counts = barCounts(ends.any, scale.barSteps);
  return {
    begin: (line) => [...beginFeatures(ends, line, scale), ...againLaterFeatures(ends, line, counts)],
    end: (end) => [...endFeatures(ends, end, scale), ...againBeforeFeatures(ends, end, counts)],
    length: (bars) => lengthFeatures(bars, scale),
  };
}

const bit = (is: boolean) => (is ? 1 : 0);

function beginFeatures({ first, begins }: PhraseEnds, line: number, { barSteps, perQuarter }: PhraseScale): number[] {
  const early = (line - first) / perQuarter;
  const on = early === 0;
  const pickup = early > 0;
  const rest = Math.max(0, first - line);
  const [kick, crash] = [begins.has("kick"), begins.has("crash")];
  const snare = begins.has("snare") || begins.has("stick");
  const toms = begins.has("lowTom") || begins.has("highTom");
  return [
    bit(on),
    bit(on && kick),
    bit(on && crash),
    bit(on && kick && crash),
    bit(on && snare),
    bit(on && !kick && !crash && !snare && !toms),
    bit(on && (kick || begins.has("lowTom"))),
    bit(pickup && early <= 0.5),
    bit(early > 0.5 && early <= 1),
    bit(early > 1 && early <= 2),
    bit(early > 2),
    bit(pickup && kick),
    bit(pickup && (snare || toms)),
    bit(pickup && crash),
    bit(pickup && (early * 2) % 1 !== 0),
    pickup ? (early * perQuarter) / barSteps : 0,
    rest / perQuarter,
    rest / barSteps,
  ];
}

function endFeatures(
  { last, gap, ends, endStrokes }: PhraseEnds,
  end: number,
  { barSteps, perQuarter }: PhraseScale,
): number[] {
  const left = end - last;
  const silence = left > 0 ? Math.max(0, left - gap) : 0;
  const beyond = Math.max(0, -left);
  return [
    bit(left > 0),
    silence / perQuarter,
    silence / barSteps,
    bit(silence > perQuarter),
    bit(left === 0),
    bit(left === 0 && (ends.has("kick") || ends.has("crash"))),
    bit(left === 0 && endStrokes === 1),
    bit(beyond > 0 && beyond <= perQuarter),
    bit(beyond > perQuarter && beyond <= barSteps / 2),
    bit(beyond > barSteps / 2),
    beyond / barSteps,
  ];
}

function lengthFeatures(bars: number, { barSteps, perQuarter, quarterSeconds }: PhraseScale): number[] {
  const seconds = Math.log((bars * barSteps * quarterSeconds) / perQuarter / USUAL_SECONDS);
  return [
    ...LENGTHS.map((one) => bit(bars === one)),
    bit(bars % 2 === 1 && bars > 5),
    bit(bars % 2 === 1 && bars > 1),
    seconds,
    seconds * seconds,
  ];
}
