import { mean, standardDeviation } from "simple-statistics";
import type { Hit, Pattern, QuantizeSettings } from "../beat/beat";
import type { LaneInfo } from "../beat/lanes";
import { openPasses, patternLengthTicks } from "../beat/beat";
import type { Swing } from "../beat/feel";
import { groupBy } from "../group-by";
import { GRID_TICKS } from "../time/grid";
import type { Meter } from "../time/meter";
import { barTicks, beatTicks } from "../time/meter";
import type { Bpm } from "../time/tempo";
import { ticksToSeconds } from "../time/tempo";
import { asTicks, type Ticks } from "../time/ticks";
import { wrap } from "../time/ticks";
import { unwarpTicks, type Warp } from "../time/warp";
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

/** A hit as it lies without a swing that it was played with. */
function straightened(hit: Hit, swung: Warp): Hit {
  return { ...hit, played: { ...hit.played, straightTicks: unwarpTicks(swung, hit.played.ticks) } };
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
  const steps = (named.length === 0 ? (["1/16"] as const) : named).map((name) => asTicks(GRID_TICKS[name]));
  const bar = barTicks(meter);
  const length = patternLengthTicks(pattern, meter);
  const feels = feelOf(pattern, meter);
  const swung = swingWarp(played, meter);
  return openPasses(pattern).flatMap(({ id: passId, hits }) =>
    hits
      .filter(({ masked, played: { ticks } }) => !masked && ticks < length)
      .map((hit): TimingSample => {
        const { line, missTicks } =
          hit.played.straightTicks === undefined && swung
            ? missOf(straightened(hit, swung), steps, bar, swung)
            : missOf(hit, steps, bar, feels(hit.lane).warp);
        const place = asTicks(wrap(line, length));
        return {
          hitId: hit.id,
          passId,
          pad: hit.lane,
          lap: hit.lap,
          line: place,
          beat: Math.floor(place / beatTicks(meter)),
          lateMs: ticksToSeconds(asTicks(missTicks), bpm) * 1000,
          velocity: hit.played.velocity,
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
  const groups = groupBy(samples, keyOf);
  return [...groups].sort(([a], [b]) => a - b).map(([key, group]) => ({ key, ...spreadOf(group)! }));
}

/** All samples as comma-separated values (RFC 4180, from memory), a line a hit. */
export function timingCsv(samples: readonly TimingSample[], pattern: Pattern, pads: readonly LaneInfo[]): string {
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
