import { barQuarters } from "./bar-place";
import type { PlayedSteps } from "./played-steps";
import type { Meter } from "../../time/meter";

export const METER_FEATURES: readonly string[] = [
  "repeats a beat later",
  "repeats half a bar later",
  "repeats a bar later",
  "repeats a bar later, all evidence",
  "repeats two bars later",
  "repeats four bars later",
  "three quarters",
  "six eighths",
];

/** The share of the playing that comes again so many steps later: ratio 0..1. */
export type Repetition = (steps: number) => number;

/**
 * Evidence for bars of a meter, wherever they begin.
 * @param again of playing in so many steps a quarter
 * @param evidence how many strokes' worth all of it is
 * @returns in the order of METER_FEATURES
 */
export function meterFeatures(
  again: Repetition,
  perQuarter: number,
  meter: Meter,
  evidence: number,
): readonly number[] {
  const barSteps = Math.round(barQuarters(meter) * perQuarter);
  const bar = again(barSteps);
  return [
    again(perQuarter),
    barSteps % 2 === 0 ? again(barSteps / 2) : 0,
    bar,
    (evidence / 10) * bar,
    again(2 * barSteps),
    again(4 * barSteps),
    meter.beats === 3 && meter.unit === 4 ? 1 : 0,
    meter.beats === 6 && meter.unit === 8 ? 1 : 0,
  ];
}

export function repetition({ strokes, steps, parts }: PlayedSteps): Repetition {
  const last = steps.at(-1)!;
  const there = parts.map(() => new Uint8Array(last + 1));
  strokes.forEach(({ drum }, index) => (there[drum]![steps[index]!] = 1));
  return (by) => {
    let again = 0;
    let all = 0;
    for (let index = 0; index < steps.length; index++) {
      const later = steps[index]! + by;
      if (later > last) continue;
      const { drum, weight } = strokes[index]!;
      all += weight;
      if (there[drum]![later]) again += weight;
    }
    return all === 0 ? 0 : again / all;
  };
}

/**
 * Share of the playing that must repeat after a rare bar, and by how much it must exceed bars of three or four quarters: less in
 * 12/8, whose half has three.
 */
const COMES_ROUND = { least: 0.6, more: 0.1, moreThanHalf: 0.03 };

/** True where the playing comes round with the bars of a meter, clearly more than with bars of three or four quarters. */
export function comesRound(again: Repetition, perQuarter: number, meter: Meter): boolean {
  const usual = Math.max(again(3 * perQuarter), again(4 * perQuarter));
  const quarters = barQuarters(meter);
  const barSteps = quarters * perQuarter;
  const more = quarters === 6 ? COMES_ROUND.moreThanHalf : COMES_ROUND.more;
  return Number.isInteger(barSteps) && again(barSteps) >= Math.max(COMES_ROUND.least, usual + more);
}
