import { BAR_FEATURES } from "../features/bar-features";
import { METER_FEATURES } from "../features/meter-features";
import type { PhraseGuess } from "../features/phrase-features";
import type { ReadingReason } from "./reading";
import type { MeterGuess } from "./reading-guesses";

const MOST_REASONS = 3;
/** What is in so many of the bars is said to be in them; what repeats by so much is alike. */
const MOST_BARS = 0.6;
const ALIKE = 0.85;
/** Hats are louder on the beats by a quarter of 20 steps of velocity or more. */
const LOUDER = 0.25;

/** What speaks for a bar line, the most telling first. */
export function reasonsFor(guess: MeterGuess, barLine: number, { line }: PhraseGuess): readonly ReadingReason[] {
  const [, meter] = guess.features;
  const bar = new Float64Array(BAR_FEATURES.length);
  guess.barFeatures(barLine, bar);
  const of = (name: string) => bar[BAR_FEATURES.indexOf(name)]!;
  const facts: readonly (readonly [ReadingReason, boolean])[] = [
    ["snareOnBacks", of("snare on 2 and 4") >= MOST_BARS],
    ["stickOnBacks", of("stick on 2 and 4") >= MOST_BARS],
    ["snareOnMiddle", of("snare on 3") >= MOST_BARS],
    ["crashOnDownbeat", of("lone crash on 1") >= 1],
    ["kickOnDownbeat", of("kick on 1") >= MOST_BARS],
    ["drumComesIn", of("drum comes in on 1") >= 1],
    ["bassOnDownbeat", of("bass on 1") >= MOST_BARS],
    ["tomsLead", of("toms in the last beat") >= 1],
    ["hatsLouderOnBeats", of("hats louder on beats") >= LOUDER],
    ["barsAlike", meter[METER_FEATURES.indexOf("repeats a bar later")]! >= ALIKE],
    ["beginsOnDownbeat", guess.played.steps[0] === line],
  ];
  return facts.flatMap(([reason, is]) => (is ? [reason] : [])).slice(0, MOST_REASONS);
}
