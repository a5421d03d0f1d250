import { mean, sampleCorrelation, standardDeviation } from "simple-statistics";
import type { Pad, Pattern, QuantizeSettings } from "../beat/beat";
import { openPasses, patternLengthTicks } from "../beat/beat";
import type { Swing } from "../beat/feel";
import { GRID_TICKS } from "../time/grid";
import type { Meter } from "../time/meter";
import { barTicks, beatTicks } from "../time/meter";
import type { Bpm } from "../time/tempo";
import { ticksToSeconds } from "../time/tempo";
import type { Ticks } from "../time/ticks";
import { wrap } from "../time/ticks";
import { unwarpTicks } from "../time/warp";
import { missOf } from "../timing/early-late";
import { feelOf } from "../timing/feel-of";
import { feelGrid } from "../timing/groove-lines";
import { gridsOf } from "../timing/quantize";
import { swingWarp } from "../timing/swing";

/** One hit with how it was played. */
export interface TimingSample {
  readonly hitId: number;
  readonly passId: number;
  readonly pad: number;
  /** The trip round the loop in which it was played, where that is known. */
  readonly lap: number | undefined;
  /** The line it was meant for, from the loop start. */
  readonly line: Ticks;
  /** The beat of the loop, from 0. */
  readonly beat: number;
  /** Negative when early. */
  readonly lateMs: number;
  readonly velocity: number;
}

/** How some hits were played together. */
export interface Spread {
  readonly hits: number;
  readonly meanMs: number;
  /** Standard deviation around that mean. */
  readonly spreadMs: number;
  readonly meanVelocity: number;
}

/**
 * How every hit of a pattern that can be heard was played against a grid, whatever corrects it.
 * @param settings the grid to measure by; sixteenths where it is off
 * @param played the swing to measure by, for hits that were not played over one: late is then late for that swing
 */
export function timingSamples(
  pattern: Pattern,
  meter: Meter,
  bpm: Bpm,
  settings: QuantizeSettings,
  played?: Swing,
): readonly TimingSample[] {
  const named = gridsOf(settings, feelGrid(pattern));
  const steps = (named.length === 0 ? (["1/16"] as const) : named).map((name) => GRID_TICKS[name] as Ticks);
  const bar = barTicks(meter);
  const length = patternLengthTicks(pattern, meter);
  const feels = feelOf(pattern, meter);
  const swung = swingWarp(played, meter);
  return openPasses(pattern).flatMap(({ id: passId, hits }) =>
    hits
      .filter(({ masked, playedTicks }) => !masked && playedTicks < length)
      .map((hit): TimingSample => {
        const { line, missTicks } =
          hit.straightTicks === undefined && swung
            ? missOf({ ...hit, straightTicks: unwarpTicks(swung, hit.playedTicks) }, steps, bar, swung)
            : missOf(hit, steps, bar, feels(hit.pad).warp);
        const place = wrap(line, length) as Ticks;
        return {
          hitId: hit.id,
          passId,
          pad: hit.pad,
          lap: hit.lap,
          line: place,
          beat: Math.floor(place / beatTicks(meter)),
          lateMs: ticksToSeconds(missTicks as Ticks, bpm) * 1000,
          velocity: hit.velocity,
        };
      }),
  );
}

/** @returns undefined without samples */
export function spreadOf(samples: readonly TimingSample[]): Spread | undefined {
  if (samples.length === 0) return undefined;
  const late = samples.map(({ lateMs }) => lateMs);
  return {
    hits: samples.length,
    meanMs: mean(late),
    spreadMs: standardDeviation(late),
    meanVelocity: mean(samples.map(({ velocity }) => velocity)),
  };
}

/** The spread of each group of samples, by ascending key; samples without a key are left out. */
export function spreadsBy(
  samples: readonly TimingSample[],
  keyOf: (sample: TimingSample) => number | undefined,
): readonly (Spread & { readonly key: number })[] {
  const groups = new Map<number, TimingSample[]>();
  for (const sample of samples) {
    const key = keyOf(sample);
    if (key === undefined) continue;
    const group = groups.get(key);
    if (group) group.push(sample);
    else groups.set(key, [sample]);
  }
  return [...groups].sort(([a], [b]) => a - b).map(([key, group]) => ({ key, ...spreadOf(group)! }));
}

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
export function timingSummary(samples: readonly TimingSample[], pads: readonly Pad[]): readonly string[] {
  const all = spreadOf(samples);
  if (!all) return ["There is nothing to measure yet: no hit."];
  const says = SPREADS.find(([belowMs]) => all.spreadMs < belowMs)![1];
  return [
    `${all.hits} ${all.hits === 1 ? "hit" : "hits"}, ${leaning(all.meanMs)}, spread ${all.spreadMs.toFixed(0)} ms: ${says}.`,
    ...padLines(samples, pads),
    ...lapLine(samples),
  ];
}

/** @example leaning(-12.4) // "12 ms ahead on average" */
export function leaning(meanMs: number): string {
  if (Math.abs(meanMs) < HEARD_MS) return "on the line on average";
  return `${Math.abs(meanMs).toFixed(0)} ms ${meanMs < 0 ? "ahead" : "behind"} on average`;
}

function padLines(samples: readonly TimingSample[], pads: readonly Pad[]): string[] {
  const spreads = spreadsBy(samples, ({ pad }) => pad).filter(({ hits }) => hits >= 4);
  if (spreads.length < 2) return [];
  const nameOf = (key: number) => pads.find(({ id }) => id === key)?.name ?? `Pad ${key}`;
  const sorted = spreads.toSorted((a, b) => a.meanMs - b.meanMs);
  const [first, last] = [sorted[0], sorted.at(-1)!];
  const loosest = spreads.reduce((worst, spread) => (spread.spreadMs > worst.spreadMs ? spread : worst));
  return [
    ...(last.meanMs - first.meanMs >= HEARD_MS
      ? [
          `${nameOf(first.key)} comes first, ${nameOf(last.key)} ${(last.meanMs - first.meanMs).toFixed(0)} ms after it.`,
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
          `You lock in: from ${first.spreadMs.toFixed(0)} ms in the first lap to ${last.spreadMs.toFixed(0)} ms in the last.`,
        ]
      : locks > TREND
        ? [
            `You come loose: from ${first.spreadMs.toFixed(0)} ms in the first lap to ${last.spreadMs.toFixed(0)} ms in the last.`,
          ]
        : []),
    ...(Math.abs(drifts) > TREND && Math.abs(last.meanMs - first.meanMs) >= HEARD_MS
      ? [
          `You ${drifts < 0 ? "rush" : "drag"} more with every lap: ${Math.abs(last.meanMs - first.meanMs).toFixed(0)} ms from first to last.`,
        ]
      : []),
  ];
}

/** All samples as comma-separated values (RFC 4180, from memory), a line a hit. */
export function timingCsv(samples: readonly TimingSample[], pattern: Pattern, pads: readonly Pad[]): string {
  const padName = new Map(pads.map(({ id, name }) => [id, name]));
  const passName = new Map(pattern.passes.map(({ id, name }) => [id, name]));
  const rows = samples.map(({ hitId, passId, pad, lap, beat, line, lateMs, velocity }) => [
    hitId,
    passName.get(passId) ?? "",
    padName.get(pad) ?? pad,
    lap === undefined ? "" : lap + 1,
    beat + 1,
    line,
    lateMs.toFixed(2),
    velocity,
  ]);
  const header = ["hit", "pass", "pad", "lap", "beat", "line (ticks)", "late (ms)", "velocity"];
  return [header, ...rows].map((row) => row.map(csvField).join(",") + "\r\n").join("");
}

/** A name that begins like a formula must stay a name in a spreadsheet. */
function csvField(value: string | number): string {
  if (typeof value === "number") return String(value);
  const safe = /^[=+@-]/.test(value) && Number.isNaN(Number(value)) ? `'${value}` : value;
  return /[",\r\n]/.test(safe) ? `"${safe.replaceAll('"', '""')}"` : safe;
}
