import { sampleCorrelation, standardDeviation } from "simple-statistics";
import { spreadOf, spreadsBy, type TimingSample } from "@/core/analysis/timing-stats";
import type { LaneInfo } from "@/core/beat/lanes";

/** Steady to the trade (common practice, no source): a skilled hand 8 to 15 ms, a beginner's 25 to 40; 5 is not heard. */
const SPREADS: readonly (readonly [belowMs: number, says: string])[] = [
  [5, "tighter than anybody hears"],
  [15, "a steady hand"],
  [25, "loose"],
  [Infinity, "all over the place"],
];
const HEARD_MS = 5;
/** Fewer laps show no trend. */
const MIN_LAPS = 3;
const TREND = 0.5;

/** The matter in plain words, the most telling first. */
export function timingSummary(samples: readonly TimingSample[], pads: readonly LaneInfo[]): readonly string[] {
  const all = spreadOf(samples);
  if (!all) return ["There is nothing to measure yet: no hit."];
  const description = SPREADS.find(([belowMs]) => all.spreadMs < belowMs)![1];
  return [
    `${all.hits} ${all.hits === 1 ? "hit" : "hits"}, ${leaning(all.meanMs)}, spread ${all.spreadMs.toFixed(0)} ms: ${description}.`,
    ...padLines(samples, pads),
    ...lapLine(samples),
  ];
}

/** @example leaning(-12.4) // "12 ms ahead on average" */
export function leaning(meanMs: number): string {
  if (Math.abs(meanMs) < HEARD_MS) return "on the line on average";
  return `${Math.abs(meanMs).toFixed(0)} ms ${meanMs < 0 ? "ahead" : "behind"} on average`;
}

function padLines(samples: readonly TimingSample[], pads: readonly LaneInfo[]): string[] {
  const spreads = spreadsBy(samples, ({ pad }) => pad).filter(({ hits }) => hits >= 4);
  if (spreads.length < 2) return [];
  const nameOf = (key: number) => pads.find(({ id }) => id === key)?.name ?? `Pad ${key}`;
  const sorted = spreads.toSorted((a, b) => a.meanMs - b.meanMs);
  const [first, last] = [sorted[0], sorted.at(-1)!];
  const loosest = spreads.reduce((worst, spread) => (spread.spreadMs > worst.spreadMs ? spread : worst));
  return [
    ...(last.meanMs - first!.meanMs >= HEARD_MS
      ? [
          `${nameOf(first!.key)} comes first, ${nameOf(last.key)} ${(last.meanMs - first!.meanMs).toFixed(0)} ms after it.`,
        ]
      : []),
    `${nameOf(loosest.key)} is the loosest, with ${loosest.spreadMs.toFixed(0)} ms.`,
  ];
}

function lapLine(samples: readonly TimingSample[]): string[] {
  const laps = spreadsBy(samples, ({ lap }) => lap).filter(({ hits }) => hits >= 3);
  if (laps.length < MIN_LAPS) return [];
  const trend = (values: readonly number[]) =>
    standardDeviation([...values]) === 0
      ? 0
      : sampleCorrelation(
          laps.map(({ key }) => key),
          [...values],
        );
  const [first, last] = [laps[0], laps.at(-1)!];
  const locks = trend(laps.map(({ spreadMs }) => spreadMs));
  const drifts = trend(laps.map(({ meanMs }) => meanMs));
  return [
    ...(locks < -TREND
      ? [
          `You lock in: from ${first!.spreadMs.toFixed(0)} ms in the first lap to ${last.spreadMs.toFixed(0)} ms in the last.`,
        ]
      : locks > TREND
        ? [
            `You come loose: from ${first!.spreadMs.toFixed(0)} ms in the first lap to ${last.spreadMs.toFixed(0)} ms in the last.`,
          ]
        : []),
    ...(Math.abs(drifts) > TREND && Math.abs(last.meanMs - first!.meanMs) >= HEARD_MS
      ? [
          `You ${drifts < 0 ? "rush" : "drag"} more with every lap: ${Math.abs(last.meanMs - first!.meanMs).toFixed(0)} ms from first to last.`,
        ]
      : []),
  ];
}
