import { runningCount } from "./played-steps";

/** What the bar after has to say for where a phrase begins: a rest that comes again belongs to it. */
export const AGAIN_LATER_FEATURES = [
  "rest before, though struck a bar later",
  "rest before, all struck a bar later",
  "rest before, also a bar later",
  "pick-up comes again a bar later",
] as const;
/** What the bar before has to say for where it ends. */
export const AGAIN_BEFORE_FEATURES = [
  "silence, though struck a bar before",
  "silence, all struck a bar before",
  "silence, also a bar before",
  "goes on as a bar before",
] as const;

/** So many strokes that are missing are plain enough. */
const MISSED = 4;

/** The steps of the first and the last moment that are played. */
interface Ends {
  readonly first: number;
  readonly last: number;
}

/** How many steps are struck from one to another, the last not included, and of these how many are struck again a bar later. */
export interface BarCounts {
  readonly barSteps: number;
  readonly struck: (from: number, to: number) => number;
  readonly again: (from: number, to: number) => number;
}

/** @param any what is struck at each step */
export function barCounts(any: Float64Array, barSteps: number): BarCounts {
  const twice = any.map((weight, step) => (step + barSteps < any.length ? weight * any[step + barSteps]! : 0));
  const counter = (sums: Float64Array) => {
    const before = (step: number) => sums[Math.max(0, Math.min(any.length, step))]!;
    return (from: number, to: number) => before(to) - before(from);
  };
  return { barSteps, struck: counter(runningCount(any)), again: counter(runningCount(twice)) };
}

/** @param line the step of the first bar line @returns in the order of AGAIN_LATER_FEATURES */
export function againLaterFeatures(
  { first, last }: Ends,
  line: number,
  { barSteps, struck, again }: BarCounts,
): readonly number[] {
  const missing = line < first ? struck(line + barSteps, first + barSteps) : 0;
  const upbeats = first < line && line + barSteps <= last ? struck(first, line) : 0;
  return [
    Math.min(MISSED, missing) / MISSED,
    missing === 0 ? 0 : missing / struck(line + barSteps, line + 2 * barSteps),
    line < first && first + barSteps <= last && missing === 0 ? 1 : 0,
    upbeats === 0 ? 0 : again(first, line) / upbeats - 0.5,
  ];
}

/** @param end the step of the last bar line @returns in the order of AGAIN_BEFORE_FEATURES */
export function againBeforeFeatures(
  { first, last }: Ends,
  end: number,
  { barSteps, struck, again }: BarCounts,
): readonly number[] {
  const missing = last < end ? struck(last + 1 - barSteps, end - barSteps) : 0;
  const beyond = end < last && first <= end - barSteps ? struck(end, last + 1) : 0;
  return [
    Math.min(MISSED, missing) / MISSED,
    missing === 0 ? 0 : missing / struck(end - 2 * barSteps, end - barSteps),
    last + 1 < end && first + barSteps <= last + 1 && missing === 0 ? 1 : 0,
    beyond === 0 ? 0 : again(end - barSteps, last + 1 - barSteps) / beyond - 0.5,
  ];
}
