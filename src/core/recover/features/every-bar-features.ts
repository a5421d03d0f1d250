import { BarRows, numbered } from "./bar-rows";
import type { BarSteps } from "./bar-steps";
import type { StruckSteps } from "./played-steps";

/** Which share of bars has what: one coherent feel is more than its places one by one. */
const SHARES = [
  "kick on 1",
  "kick on 3",
  "snare on 2 and 4",
  "snare on 3",
  "snare on 1",
  "stick on 2 and 4",
  "low drum on 1",
  "hats on beats",
  "hats on eighths",
  "hats on all steps",
  "kick on 1 and snare on 2 and 4",
  "kick on 1 and snare on 3",
  "low drum on 1 and snare on 2 and 4",
  "nothing on 1",
  "bass on 1",
  "of two beats kick on one and snare on the other",
] as const;
type Share = (typeof SHARES)[number];
const SHARE = numbered(SHARES);
/** These say more or less as the tempo is fast or slow. */
const BY_TEMPO = [
  "kick on 1",
  "snare on 2 and 4",
  "snare on 3",
  "hats on eighths",
  "hats on all steps",
  "kick on 1 and snare on 2 and 4",
  "kick on 1 and snare on 3",
] as const;

export const EVERY_BAR_FEATURES: readonly string[] = [...SHARES, ...BY_TEMPO.map((name) => `${name}, by tempo`)];

/**
 * @param tempo its logarithm, 0 where it is usual
 * @returns what bars have that begin at a step, in the order of EVERY_BAR_FEATURES
 */
export function everyBarFeatures(
  struck: StruckSteps,
  bar: BarSteps,
  perQuarter: number,
  tempo: number,
): (line: number) => readonly number[] {
  const rows = sharesOfBars(struck, bar, perQuarter);
  const bars = struck.any.length / bar.count;
  return (line) => {
    const features: number[] = [];
    for (let share = 0; share < SHARES.length; share++) features.push(rows.at(share, line) / bars);
    for (let index = 0; index < BY_TEMPO.length; index++) features.push(tempo * features[SHARE[BY_TEMPO[index]!]]!);
    return features;
  };
}

/** Of all bars that begin at a step of the bar, the shares added up; a bar of which only some is played counts by that. */
function sharesOfBars(struck: StruckSteps, bar: BarSteps, perQuarter: number): BarRows {
  const { at, backs, beats, eighths, count } = bar;
  const { kick, snare, stick, hats, low, bass, any } = struck;
  const rows = new BarRows(SHARES.length, count);
  const add = (name: Share, group: Float64Array, steps: readonly number[], onOne?: Float64Array) =>
    addShares(rows, SHARE[name], group, steps, onOne);
  add("kick on 1", kick, at.downbeat);
  add("kick on 3", kick, at.middle);
  add("snare on 2 and 4", snare, backs);
  add("snare on 3", snare, at.middle);
  add("snare on 1", snare, at.downbeat);
  add("stick on 2 and 4", stick, backs);
  add("low drum on 1", low, at.downbeat);
  add("hats on beats", hats, beats);
  add("hats on eighths", hats, eighths);
  add("kick on 1 and snare on 2 and 4", snare, backs, kick);
  add("kick on 1 and snare on 3", snare, at.middle, kick);
  add("low drum on 1 and snare on 2 and 4", snare, backs, low);
  add("bass on 1", bass, at.downbeat);
  if (backs.length === 1) add("of two beats kick on one and snare on the other", snare, backs, kick);
  // Wherever bars begin, they have all that is played.
  const allHats = hats.reduce((sum, weight) => sum + (weight > 0 ? 1 : 0), 0) / count;
  if (perQuarter >= 4) for (let step = 0; step < count; step++) rows.add(SHARE["hats on all steps"], step, allHats);
  for (let step = 0; step < any.length; step++)
    if (any[step] === 0) rows.add(SHARE["nothing on 1"], step % count, partPlayed(step, count, any.length));
  return rows;
}

/**
 * Adds for each bar the share of places that are struck, of those that are played.
 * @param onOne counts only bars on whose first step this is struck, too
 */
function addShares(
  rows: BarRows,
  row: number,
  struck: Float64Array,
  steps: readonly number[],
  onOne?: Float64Array,
): void {
  const { length } = struck;
  const whole = 1 / steps.length;
  for (let at = 0; at < length; at++) {
    if (struck[at] === 0) continue;
    const step = at % rows.barSteps;
    for (let index = 0; index < steps.length; index++) {
      const start = at - steps[index]!;
      if (onOne && (start < 0 || onOne[start] === 0)) continue;
      const isWhole = start >= 0 && start + rows.barSteps <= length;
      const line = step - steps[index]!;
      const share = isWhole ? whole : partPlayed(start, rows.barSteps, length) / countPlayed(start, steps, length);
      rows.add(row, line < 0 ? line + rows.barSteps : line, share);
    }
  }
}

/** Counts the places of a bar that are within what is played. */
function countPlayed(start: number, steps: readonly number[], length: number): number {
  let count = 0;
  for (let index = 0; index < steps.length; index++)
    if (start + steps[index]! >= 0 && start + steps[index]! < length) count++;
  return count;
}

/** The part of a bar that is within what is played: ratio 0..1. */
function partPlayed(start: number, barSteps: number, length: number): number {
  return (Math.min(length, start + barSteps) - Math.max(0, start)) / barSteps;
}
