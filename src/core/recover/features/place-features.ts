import { BAR_PLACES, type BarPlace } from "./bar-place";
import { BarRows } from "./bar-rows";
import type { BarSteps } from "./bar-steps";
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

const OWN = OWN_PLACES.flatMap(([row, places]) =>
  places.map((place) => ({ row: ROWS.indexOf(row), place: BAR_PLACES.indexOf(place) })),
);

export const PLACE_FEATURES: readonly string[] = [
  ...ROWS.flatMap((row) => BAR_PLACES.map((place) => `${row}, ${place}`)),
  ...OWN_PLACES.flatMap(([row, places]) => places.map((place) => `of all ${row} strokes, ${place}`)),
];

/**
 * Which part lies where in the bar. Strokes at one place of the bar repeat one another: they count by the root of their number.
 * @returns writes what is in a bar that begins at a step to the beginning of a row of zeros, in the order of PLACE_FEATURES
 */
export function placeFeatures(
  played: PlayedSteps,
  bar: BarSteps,
  evidence: number,
): (line: number, features: Float64Array) => void {
  const rows = rowsOf(played, bar.count);
  const lowest = DRUM_PARTS.indexOf(lowestPart(new Set(played.parts)));
  const sums = ROWS.map((_, row) => rows.total(row === LOWEST ? lowest : row));
  const total = sums.slice(0, LOWEST).reduce((sum, one) => sum + one, 0) || 1;
  const scale = evidence / 10 / total;
  const ownFrom = ROWS.length * BAR_PLACES.length;
  return (line, features) => {
    for (let row = 0; row < ROWS.length; row++) {
      if (sums[row] === 0) continue;
      for (let place = 0; place < BAR_PLACES.length; place++)
        features[row * BAR_PLACES.length + place] =
          scale * rows.sumFrom(row === LOWEST ? lowest : row, line, bar.at[BAR_PLACES[place]!]);
    }
    for (let index = 0; index < OWN.length; index++) {
      const { row, place } = OWN[index]!;
      if (sums[row] !== 0) features[ownFrom + index] = features[row * BAR_PLACES.length + place]! / scale / sums[row]!;
    }
  };
}

/** The weight of each part at each step of the bar. */
function rowsOf({ strokes, steps }: PlayedSteps, barSteps: number): BarRows {
  const rows = new BarRows(DRUM_PARTS.length, barSteps);
  strokes.forEach(({ part, weight }, index) => {
    if (part !== "tone") rows.add(DRUM_PARTS.indexOf(part), steps[index]! % barSteps, weight);
  });
  rows.takeRoots();
  return rows;
}
