import { ACCENT_FEATURES, accentFeatures } from "./accent-features";
import type { BarSteps } from "./bar-steps";
import { EVENT_FEATURES, eventFeatures, eventsIn, type PlayedEvents } from "./event-features";
import { EVERY_BAR_FEATURES, everyBarFeatures } from "./every-bar-features";
import { PLACE_FEATURES, placeFeatures } from "./place-features";
import { struckSteps, type PlayedSteps, type StruckSteps } from "./played-steps";

/** What a bar line has to say for itself. */
export const BAR_FEATURES: readonly string[] = [
  ...PLACE_FEATURES,
  ...EVERY_BAR_FEATURES,
  ...ACCENT_FEATURES,
  ...EVENT_FEATURES,
];

/** Playing on a pulse, whatever its bars. */
export interface CountedPlaying {
  readonly played: PlayedSteps;
  readonly struck: StruckSteps;
  readonly events: PlayedEvents;
  /** The logarithm of the tempo, 0 where it is usual. */
  readonly tempo: number;
  /** How many strokes' worth all of it is. */
  readonly evidence: number;
}

export function countPlaying(played: PlayedSteps, tempo: number, evidence: number): CountedPlaying {
  const struck = struckSteps(played);
  return { played, struck, events: eventsIn(played, struck), tempo, evidence };
}

/**
 * Evidence for bars that begin at a step.
 * @returns fills a row in the order of BAR_FEATURES for a bar line at a step, 0 <= line < steps of a bar
 */
export function barFeatures(
  { played, struck, events, tempo, evidence }: CountedPlaying,
  bar: BarSteps,
): (line: number, features: Float64Array) => void {
  const places = placeFeatures(played, bar, evidence);
  const others = [
    everyBarFeatures(struck, bar, played.perQuarter, tempo),
    accentFeatures(played, bar),
    eventFeatures(events, struck, bar, played.perQuarter),
  ];
  return (line, features) => {
    features.fill(0);
    places(line, features);
    let at = PLACE_FEATURES.length;
    for (const featuresOf of others) {
      const found = featuresOf(line);
      for (let index = 0; index < found.length; index++) features[at++] = found[index]!;
    }
  };
}
