import { groupsOf, type Meter } from "../../time/meter";

/** Places of a bar as they are felt: its beats, the eighth after each of them, and what lies between those. */
export const BAR_PLACES = [
  "downbeat",
  "second",
  "middle",
  "fourth",
  "afterDownbeat",
  "afterSecond",
  "afterMiddle",
  "afterFourth",
  "early",
  "late",
] as const;

export type BarPlace = (typeof BAR_PLACES)[number];

/** Quarter notes in a bar. @example barQuarters({ beats: 7, unit: 8 }) // 3.5 */
export function barQuarters({ beats, unit }: Meter): number {
  return (beats * 4) / unit;
}

/**
 * The places of the steps of a bar. Three beats have no middle; of five and more every other one counts as the middle. The third of
 * three triplets stands for the eighth that it is in a shuffle.
 * @example barPlaces({ beats: 4, unit: 4 }, 4)[4] // "second"
 */
export function barPlaces(meter: Meter, perQuarter: number): readonly BarPlace[] {
  const starts = beatStarts(meter);
  return Array.from({ length: Math.round(barQuarters(meter) * perQuarter) }, (_, step) => {
    const quarters = step / perQuarter;
    const beat = starts.findLastIndex((start) => start <= quarters + NEAR);
    const after = quarters - starts[beat]!;
    if (after < NEAR) return beatPlace(beat, starts.length);
    const half = perQuarter === 3 ? step % 3 === 2 : Math.abs(2 * quarters - Math.round(2 * quarters)) < NEAR;
    if (half) return AFTER[beatPlace(beat, starts.length)]!;
    return quarters % 0.5 < quarters % 1 ? "late" : "early";
  });
}

const NEAR = 1e-3;

const AFTER: Readonly<Partial<Record<BarPlace, BarPlace>>> = {
  downbeat: "afterDownbeat",
  second: "afterSecond",
  middle: "afterMiddle",
  fourth: "afterFourth",
};

function beatPlace(beat: number, beats: number): BarPlace {
  if (beat === 0) return "downbeat";
  if (beats === 3) return beat === 1 ? "second" : "fourth";
  if (beat % 2 === 0) return "middle";
  return beat % 4 === 1 ? "second" : "fourth";
}

/** Where the felt beats begin: quarters, or the groups where eighths are counted. */
function beatStarts(meter: Meter): readonly number[] {
  if (meter.unit < 8) return Array.from({ length: meter.beats }, (_, beat) => (beat * 4) / meter.unit);
  let at = 0;
  return groupsOf(meter).map((group) => {
    at += group;
    return ((at - group) * 4) / meter.unit;
  });
}
