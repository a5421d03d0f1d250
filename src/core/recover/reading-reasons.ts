import { BAR_FEATURES } from "./bar-features";
import { barStepsOf } from "./bar-steps";
import { METER_FEATURES } from "./meter-features";
import type { PhraseGuess } from "./phrase-features";
import type { BarGuess } from "./reading-guesses";

const MOST_REASONS = 3;
/** What is in so many of the bars is said to be in them; what repeats by so much is alike. */
const MOST_BARS = 0.6;
const ALIKE = 0.85;

/** What speaks for a bar line, in words, the most telling first. */
export function reasonsFor(bar: BarGuess, { line }: PhraseGuess): readonly string[] {
  const [, meter, own] = bar.features;
  const share = (name: string) => own[BAR_FEATURES.indexOf(name)]!;
  const backs = beatsOf(bar, "backs");
  const middle = beatsOf(bar, "middle");
  const reasons: readonly (readonly [is: boolean, words: string])[] = [
    [share("snare on 2 and 4") >= MOST_BARS, `snare on ${backs}`],
    [share("stick on 2 and 4") >= MOST_BARS, `stick or clap on ${backs}`],
    [middle !== "" && share("snare on 3") >= MOST_BARS, `snare on ${middle}`],
    [share("lone crash on 1") >= 1, "crash on 1"],
    [share("kick on 1") >= MOST_BARS, "kick on 1"],
    [share("drum comes in on 1") >= 1, "a drum comes in on 1"],
    [share("bass on 1") >= MOST_BARS, "the bass is back on 1"],
    [share("toms in the last beat") >= 1, "toms lead to 1"],
    [share("hats louder on beats") >= 0.25, "hats louder on the beats"],
    [meter[METER_FEATURES.indexOf("repeats a bar later")]! >= ALIKE, "each bar like the one before"],
    [bar.played.steps[0] === line, "begins on 1"],
  ];
  return reasons.flatMap(([is, words]) => (is ? [words] : [])).slice(0, MOST_REASONS);
}

/** The numbers of beats as they are counted. @example "2 and 4" */
function beatsOf({ meter, pulse: { perQuarter } }: BarGuess, which: "backs" | "middle"): string {
  const { backs, at } = barStepsOf(meter, perQuarter);
  const steps = which === "backs" ? [...backs].sort((a, b) => a - b) : at.middle;
  const numbers = steps.map((step) => (step * meter.unit) / (4 * perQuarter) + 1);
  return numbers.length > 1 ? `${numbers.slice(0, -1).join(", ")} and ${numbers.at(-1)}` : numbers.join();
}
