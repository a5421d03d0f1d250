import { barStepsOf } from "@/core/recover/features/bar-steps";
import type { Reading, ReadingReason } from "@/core/recover/readings/reading";

/** What speaks for a reading, its beats as the meter counts them. @example "snare on 2 and 4, crash on 1" */
export function reasonsInWords({
  reasons,
  meter,
  perQuarter,
}: Pick<Reading, "reasons" | "meter" | "perQuarter">): string {
  const { backs, at } = barStepsOf(meter, perQuarter);
  const count = (steps: readonly number[]) => {
    const numbers = steps.map((step) => (step * meter.unit) / (4 * perQuarter) + 1).sort((a, b) => a - b);
    return numbers.length > 1 ? `${numbers.slice(0, -1).join(", ")} and ${numbers.at(-1)}` : numbers.join();
  };
  const words: Readonly<Record<ReadingReason, string>> = {
    snareOnBacks: `snare on ${count(backs)}`,
    stickOnBacks: `stick or clap on ${count(backs)}`,
    snareOnMiddle: `snare on ${count(at.middle)}`,
    crashOnDownbeat: "crash on 1",
    kickOnDownbeat: "kick on 1",
    drumComesIn: "a drum comes in on 1",
    bassOnDownbeat: "the bass is back on 1",
    tomsLead: "toms lead to 1",
    hatsLouderOnBeats: "hats louder on the beats",
    barsAlike: "each bar like the one before",
    beginsOnDownbeat: "begins on 1",
  };
  return reasons.map((reason) => words[reason]).join(", ");
}
