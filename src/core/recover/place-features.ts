import { BAR_PLACES, type BarPlace } from "./bar-place";
import { sumFrom, type BarSteps } from "./bar-steps";
import { DRUM_PARTS, lowestPart } from "./drum-part";
import type { PlayedSteps } from "./played-steps";

/** The parts, and once more the lowest of those that are played, whatever it is. */
const ROWS = [...DRUM_PARTS, "lowest"] as const;
const LOWEST = ROWS.indexOf("lowest");

/** Of these the share of a part's own strokes that lies there. */
const OWN_PLACES: readonly (readonly [(typeof ROWS)[number], readonly BarPlace[]])[] = [
  ["kick", ["downbeat", "second", "middle", "fourth"]],
  ["snare", ["downbeat", "second", "middle", "fourth"]],
  ["stick", ["downbeat", "second", "middle", "fourth"]],
  ["crash", ["downbeat", "middle"]],
  ["openHat", ["downbeat", "fourth", "afterFourth", "afterDownbeat"]],
  ["hand", ["downbeat", "middle"]],
  ["lowTom", ["downbeat", "middle", "fourth"]],
  ["lowest", ["downbeat", "middle"]],
];

export const PLACE_FEATURES: readonly string[] = [
  ...ROWS.flatMap((row) => BAR_PLACES.map((place) => `${row}, ${place}`)),
  ...OWN_PLACES.flatMap(([row, places]) => places.map((place) => `of all ${row} strokes, ${place}`)),
];

/**
 * Which part lies where in the bar. Strokes at one place of the bar repeat one another: they count by the root of their number.
 * @returns what is in a bar that begins at a step, in the order of PLACE_FEATURES
 */
export function placeFeatures(played: PlayedSteps, bar: BarSteps, evidence: number): (line: number) => number[] {
  const rows = rowsOf(played, bar.count);
  const sums = rows.map((row) => row.reduce((sum, one) => sum + one, 0));
  const total = sums.slice(0, LOWEST).reduce((sum, one) => sum + one, 0) || 1;
  const scale = evidence / 10 / total;
  const steps = BAR_PLACES.map((place) => bar.at[place]);
  const own = OWN_PLACES.flatMap(([row, places]) =>
    places.map((place) => ({ row: ROWS.indexOf(row), steps: bar.at[place] })),
  );
  return (line) => {
    const features = new Array<number>(PLACE_FEATURES.length).fill(0);
    let at = 0;
    for (let row = 0; row < rows.length; row++)
      for (let place = 0; place < steps.length; place++, at++)
        if (sums[row]! > 0) features[at] = scale * sumFrom(rows[row]!, line, steps[place]!);
    for (const { row, steps: wanted } of own) {
      if (sums[row]! > 0) features[at] = sumFrom(rows[row]!, line, wanted) / sums[row]!;
      at++;
    }
    return features;
  };
}

function rowsOf({ strokes, steps, parts }: PlayedSteps, barSteps: number): readonly Float64Array[] {
  const rows = ROWS.map(() => new Float64Array(barSteps));
  strokes.forEach(({ part, weight }, index) => {
    if (part !== "tone") rows[DRUM_PARTS.indexOf(part)]![steps[index]! % barSteps]! += weight;
  });
  for (const row of rows) for (let step = 0; step < barSteps; step++) row[step] = Math.sqrt(row[step]!);
  rows[LOWEST] = rows[DRUM_PARTS.indexOf(lowestPart(new Set(parts)))]!;
  return rows;
}
