import { sumFrom, type BarSteps } from "./bar-steps";
import type { PlayedPart } from "./drum-part";
import type { PlayedSteps } from "./played-steps";

export const ACCENT_FEATURES = [
  "share of strokes on beats",
  "share of strokes on 1",
  "share of strokes on eighths",
  "hats louder on beats",
  "all louder on beats",
  "all louder on 1",
  "kick louder on 1",
  "threes that are a shuffle",
] as const;

/** In 3/4 and 6/8 every eighth of three has more than this share of strokes; in a shuffle one of them has less. */
const SHUFFLED_SHARE = 0.05;
/** A velocity of so much is one. */
const VELOCITY = 20;

/** How many strokes lie on beats, and how much louder those are. @returns in the order of ACCENT_FEATURES */
export function accentFeatures(played: PlayedSteps, bar: BarSteps): (line: number) => number[] {
  const { strokes, steps, perQuarter } = played;
  const louder = (wanted: (part: PlayedPart) => boolean) => {
    const sums = new Float64Array(bar.count);
    let count = 0;
    strokes.forEach(({ part, accent }, index) => {
      if (!wanted(part)) return;
      sums[steps[index]! % bar.count]! += accent / VELOCITY;
      count++;
    });
    return (line: number, places: readonly number[]) => (count === 0 ? 0 : sumFrom(sums, line, places) / count);
  };
  const counts = new Float64Array(bar.count);
  for (const step of steps) counts[step % bar.count]! += 1 / steps.length;
  const [hats, all, kick] = [
    louder((part) => part === "hat" || part === "ride"),
    louder(() => true),
    louder((part) => part === "kick"),
  ];
  const { beats, eighths, at } = bar;
  const shuffled = bar.count === 3 * perQuarter ? shuffles(played) : () => false;
  return (line) => [
    sumFrom(counts, line, beats),
    sumFrom(counts, line, at.downbeat),
    sumFrom(counts, line, eighths),
    hats(line, beats),
    all(line, beats),
    all(line, at.downbeat),
    kick(line, at.downbeat),
    shuffled(line) ? 1 : 0,
  ];
}

/** Where what looks like three quarters to the bar is a shuffle: hardly anything on the second or on the third of every three eighths. */
function shuffles({ steps, perQuarter }: PlayedSteps): (line: number) => boolean {
  // Of triplets neither the second nor the third eighth of three is a step.
  if (perQuarter % 2 === 1) return () => true;
  const eighth = perQuarter / 2;
  const counts = new Float64Array(3 * eighth);
  for (const step of steps) counts[step % counts.length]!++;
  const countAt = (step: number) => counts[step % counts.length]!;
  return (line) => Math.min(countAt(line + eighth), countAt(line + 2 * eighth)) < SHUFFLED_SHARE * steps.length;
}
