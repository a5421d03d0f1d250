import { BarRows, numbered } from "./bar-rows";
import type { BarSteps } from "./bar-steps";
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

/** Strokes themselves, and how much louder those are of all parts and of some. */
const ROWS = ["strokes", "all", "hats", "kick"] as const;
const ROW = numbered(ROWS);

/** How many strokes lie on beats, and how much louder those are. @returns in the order of ACCENT_FEATURES */
export function accentFeatures(played: PlayedSteps, bar: BarSteps): (line: number) => number[] {
  const { strokes, steps, perQuarter } = played;
  const rows = new BarRows(ROWS.length, bar.count);
  const counts = ROWS.map(() => 0);
  const add = (row: number, step: number, value: number) => {
    rows.add(row, step, value);
    counts[row]!++;
  };
  for (let index = 0; index < strokes.length; index++) {
    const { part, accent } = strokes[index]!;
    const step = steps[index]! % bar.count;
    add(ROW.strokes, step, 1);
    add(ROW.all, step, accent / VELOCITY);
    if (part === "hat" || part === "ride") add(ROW.hats, step, accent / VELOCITY);
    if (part === "kick") add(ROW.kick, step, accent / VELOCITY);
  }
  const mean = (row: number, line: number, places: readonly number[]) =>
    counts[row] === 0 ? 0 : rows.sumFrom(row, line, places) / counts[row]!;
  const { beats, eighths, at } = bar;
  const shuffled = bar.count === 3 * perQuarter ? shuffles(played) : () => false;
  return (line) => [
    mean(ROW.strokes, line, beats),
    mean(ROW.strokes, line, at.downbeat),
    mean(ROW.strokes, line, eighths),
    mean(ROW.hats, line, beats),
    mean(ROW.all, line, beats),
    mean(ROW.all, line, at.downbeat),
    mean(ROW.kick, line, at.downbeat),
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
