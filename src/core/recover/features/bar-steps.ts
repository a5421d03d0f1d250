import { BAR_PLACES, barPlaces, type BarPlace } from "./bar-place";
import type { Meter } from "../../time/meter";

/** The steps of a bar by what they are. */
export interface BarSteps {
  readonly count: number;
  readonly at: Readonly<Record<BarPlace, readonly number[]>>;
  readonly backs: readonly number[];
  readonly beats: readonly number[];
  /** Beats, too. */
  readonly eighths: readonly number[];
}

/** Every pulse asks for the same few. */
const known = new WeakMap<Meter, BarSteps[]>();

/** @example barStepsOf({ beats: 4, unit: 4 }, 4).count // 16 */
export function barStepsOf(meter: Meter, perQuarter: number): BarSteps {
  const ofMeter = known.get(meter) ?? [];
  known.set(meter, ofMeter);
  return (ofMeter[perQuarter] ??= workOut(meter, perQuarter));
}

function workOut(meter: Meter, perQuarter: number): BarSteps {
  const places = barPlaces(meter, perQuarter);
  const of = (...wanted: readonly BarPlace[]) =>
    places.flatMap((place, step) => (wanted.includes(place) ? [step] : []));
  return {
    count: places.length,
    at: Object.fromEntries(BAR_PLACES.map((place) => [place, of(place)])) as unknown as BarSteps["at"],
    backs: of("second", "fourth"),
    beats: of("downbeat", "second", "middle", "fourth"),
    eighths: places.flatMap((place, step) => (place === "early" || place === "late" ? [] : [step])),
  };
}
