import { BAR_FEATURES } from "../features/bar-features";
import { READING_WEIGHTS } from "./reading-weights";
import { METER_FEATURES } from "../features/meter-features";
import { PHRASE_FEATURES, type PhraseGuess } from "../features/phrase-features";
import { PULSE_FEATURES } from "../features/pulse-features";
import type { MeterGuess } from "./reading-guesses";

/**
 * What the material can't say, set by hand. There are no songs with a bass beside known bar lines: its lowest note on the downbeat
 * speaks about half as much as a kick. Songs in 6/8 are rare: kick and snare on its two beats speak for it. What was cut from songs has
 * 1, 2, 4 or 8 bars, what was generated 3, 6 and 16, too: five bars are as usual as three, twelve as six.
 */
const BY_HAND: Readonly<Record<string, number>> = {
  "bass on 1": 0.9,
  "of two beats kick on one and snare on the other": 3,
  "5 bars": READING_WEIGHTS["3 bars"]!,
  "12 bars": READING_WEIGHTS["6 bars"]!,
};

/** All features by what they speak for. */
export const READING_FEATURES = {
  pulse: PULSE_FEATURES,
  meter: METER_FEATURES,
  bar: BAR_FEATURES,
  ...PHRASE_FEATURES,
} as const;

const weightsOf = (names: readonly string[]) =>
  Float64Array.from(names, (name) => BY_HAND[name] ?? READING_WEIGHTS[name] ?? 0);
const WEIGHTS = {
  pulse: weightsOf(PULSE_FEATURES),
  meter: weightsOf(METER_FEATURES),
  bar: weightsOf(BAR_FEATURES),
  begin: weightsOf(PHRASE_FEATURES.begin),
  end: weightsOf(PHRASE_FEATURES.end),
  length: weightsOf(PHRASE_FEATURES.length),
};

/** Logarithms of how likely bar lines and lengths are. */
export interface ReadingScores {
  /** Of a bar line, whatever the length. */
  readonly bar: (barLine: number) => number;
  /** Added to that for a length. */
  readonly phrase: (phrase: PhraseGuess) => number;
}

/** Scores of all that is thought of with a pulse and a meter. */
export function readingScores({
  features: [pulse, meter],
  barFeatures,
  barSteps,
  phraseFeatures,
}: MeterGuess): ReadingScores {
  const common = dot(WEIGHTS.pulse, pulse) + dot(WEIGHTS.meter, meter);
  const row = new Float64Array(BAR_FEATURES.length);
  // Several lengths share where they begin or end.
  const begin = remembered((line) => dot(WEIGHTS.begin, phraseFeatures.begin(line)));
  const end = remembered((line) => dot(WEIGHTS.end, phraseFeatures.end(line)));
  const length = remembered((bars) => dot(WEIGHTS.length, phraseFeatures.length(bars)));
  return {
    bar: (barLine) => {
      barFeatures(barLine, row);
      return common + dot(WEIGHTS.bar, row);
    },
    phrase: ({ line, bars }) => begin(line) + end(line + bars * barSteps) + length(bars),
  };
}

function remembered(work: (of: number) => number): (of: number) => number {
  const known = new Map<number, number>();
  return (of) => {
    const before = known.get(of);
    if (before !== undefined) return before;
    const found = work(of);
    known.set(of, found);
    return found;
  };
}

function dot(weights: Float64Array, values: ArrayLike<number>): number {
  let sum = 0;
  for (let index = 0; index < weights.length; index++) sum += weights[index]! * values[index]!;
  return sum;
}
