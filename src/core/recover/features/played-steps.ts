import { median } from "simple-statistics";
import { lowestPart, type PlayedPart } from "./drum-part";

/** A stroke for the search of bar lines. */
export interface PartStroke {
  /** Which of the notes that were played, from 0 on. */
  readonly drum: number;
  readonly part: PlayedPart;
  /** More for harder strokes. */
  readonly weight: number;
  /** How much harder it is than this drum is struck on average. */
  readonly accent: number;
}

/** Strokes on a pulse: each one's step, from 0 on, ascending. */
export interface PlayedSteps {
  readonly strokes: readonly PartStroke[];
  readonly steps: readonly number[];
  readonly perQuarter: number;
  /** The part of each drum. */
  readonly parts: readonly PlayedPart[];
  /** The drum that is the lowest note of a part with pitch, if there is one: what a bass holds on to. */
  readonly bass?: number | undefined;
}

/**
 * How far strokes that do not fall together are mostly apart, in steps; 0 where all do.
 * @param steps ascending
 * @example usualGap([0, 2, 4, 6, 7]) // 2
 */
export function usualGap(steps: readonly number[]): number {
  const gaps: number[] = [];
  for (let index = 1; index < steps.length; index++)
    if (steps[index]! > steps[index - 1]!) gaps.push(steps[index]! - steps[index - 1]!);
  return gaps.length === 0 ? 0 : median(gaps);
}

/** What is struck at every step, by groups of parts: the weight of it, 0 where nothing is. */
export type StruckSteps = Readonly<Record<StruckGroup, Float64Array>>;
export const STRUCK_GROUPS = ["kick", "snare", "stick", "hats", "low", "crash", "toms", "bass", "any"] as const;
export type StruckGroup = (typeof STRUCK_GROUPS)[number];

const GROUP_OF: Readonly<Partial<Record<PlayedPart, StruckGroup>>> = {
  kick: "kick",
  snare: "snare",
  stick: "stick",
  hat: "hats",
  ride: "hats",
  openHat: "hats",
  crash: "crash",
  lowTom: "toms",
  highTom: "toms",
};

export function struckSteps({ strokes, steps, parts, bass }: PlayedSteps): StruckSteps {
  const length = steps.at(-1)! + 1;
  const struck = Object.fromEntries(STRUCK_GROUPS.map((group) => [group, new Float64Array(length)])) as StruckSteps;
  const lowest = lowestPart(new Set(parts));
  strokes.forEach(({ drum, part, weight }, index) => {
    const step = steps[index]!;
    if (drum === bass) struck.bass[step]! += weight;
    const group = GROUP_OF[part];
    if (group) struck[group][step]! += weight;
    if (part === lowest) struck.low[step]! += weight;
    struck.any[step]! += weight;
  });
  return struck;
}

/** How many steps before each one are struck. @example [...runningCount(Float64Array.of(1, 0, 2))] // [0, 1, 1, 2] */
export function runningCount(struck: Float64Array): Float64Array {
  const sums = new Float64Array(struck.length + 1);
  for (let step = 0; step < struck.length; step++) sums[step + 1] = sums[step]! + (struck[step]! > 0 ? 1 : 0);
  return sums;
}
