import { BAR_FEATURES } from "./bar-features";
import { READING_WEIGHTS } from "./reading-weights";
import { METER_FEATURES } from "./meter-features";
import { PHRASE_FEATURES } from "./phrase-features";
import { PULSE_FEATURES } from "./pulse-features";
import type { BarGuess } from "./reading-guesses";

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

/** All features in the order of a guess's lists. */
export const READING_FEATURES = [PULSE_FEATURES, METER_FEATURES, BAR_FEATURES] as const;

const weightsOf = (names: readonly string[]) =>
  Float64Array.from(names, (name) => BY_HAND[name] ?? READING_WEIGHTS[name] ?? 0);
const WEIGHTS = READING_FEATURES.map(weightsOf);
const PHRASE_WEIGHTS = weightsOf(PHRASE_FEATURES);

/** Logarithm of how likely a bar line is, whatever the length. */
export function barScore({ features }: BarGuess): number {
  return features.reduce((sum, list, kind) => sum + dot(WEIGHTS[kind]!, list), 0);
}

/** What a length adds to that. @param features in the order of PHRASE_FEATURES */
export function phraseScore(features: readonly number[]): number {
  return dot(PHRASE_WEIGHTS, features);
}

function dot(weights: Float64Array, values: readonly number[]): number {
  let sum = 0;
  for (let index = 0; index < weights.length; index++) sum += weights[index]! * values[index]!;
  return sum;
}
