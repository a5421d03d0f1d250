import { CoreError } from "../core-error";
import type { Ticks } from "./ticks";
import { TICKS_PER_WHOLE } from "./ticks";

/** A time signature: 7/8 is { beats: 7, unit: 8 }. */
export interface Meter {
  readonly beats: number;
  readonly unit: 2 | 4 | 8 | 16;
  /** How the beats are felt together, such as 2+2+3 in 7/8; without it the usual grouping counts. */
  readonly groups?: readonly number[];
}

export const METER_UNITS = [2, 4, 8, 16] as const;
export const MAX_METER_BEATS = 32;
/** The meters that the workspace offers; files may bring others. */
export const OFFERED_METERS: readonly Meter[] = [
  ...[2, 3, 4, 5, 6, 7].map((beats) => ({ beats, unit: 4 as const })),
  ...Array.from({ length: 13 }, (_, index) => ({ beats: index + 3, unit: 8 as const })),
];

/**
 * @param groups positive whole numbers that add up to `beats`
 * @example meter(7, 8, [2, 2, 3]) // { beats: 7, unit: 8, groups: [2, 2, 3] }
 * @throws CoreError "bad-meter" when the figures are outside 1..32 over 2, 4, 8 or 16, or the groups don't fill the bar
 */
export function meter(beats: number, unit: number, groups?: readonly number[]): Meter {
  const known = METER_UNITS.find((candidate) => candidate === unit);
  if (known === undefined || !Number.isInteger(beats) || beats < 1 || beats > MAX_METER_BEATS) {
    throw new CoreError("bad-meter", `Meter ${beats}/${unit} is not supported: use 1 to 32 over 2, 4, 8 or 16.`);
  }
  if (!groups) return { beats, unit: known };
  const sum = groups.reduce((total, group) => total + group, 0);
  if (sum !== beats || groups.some((group) => !Number.isInteger(group) || group < 1)) {
    throw new CoreError("bad-meter", `The groups ${groups.join("+")} don't make ${beats} beats of ${beats}/${unit}.`);
  }
  return { beats, unit: known, groups };
}

/** @example parseGroups("2+2+3", { beats: 7, unit: 8 }).groups // [2, 2, 3] @throws CoreError "bad-meter" */
export function parseGroups(text: string, { beats, unit }: Meter): Meter {
  return meter(beats, unit, text.split("+").map(Number));
}

/** @example sameMeter({ beats: 6, unit: 8 }, { beats: 3, unit: 4 }) // false */
export function sameMeter(a: Meter, b: Meter): boolean {
  return a.beats === b.beats && a.unit === b.unit && groupsOf(a).join() === groupsOf(b).join();
}

/**
 * The groups of a bar: the chosen ones, or the usual ones (common practice, no source): threes in compound meters, else
 * twos of eighths with a three at the end of an odd bar, and one group where quarters are counted.
 * @example groupsOf({ beats: 7, unit: 8, groups: [2, 2, 3] }) // [2, 2, 3]
 */
export function groupsOf({ beats, unit, groups }: Meter): readonly number[] {
  if (groups) return groups;
  if (unit < 8) return [beats];
  if (beats % 3 === 0) return Array.from({ length: beats / 3 }, () => 3);
  const pairs = Math.floor(beats / 2);
  return Array.from({ length: Math.max(1, pairs) }, (_, index) => (index === pairs - 1 && beats % 2 === 1 ? 3 : 2));
}

/** Ticks of one beat as the meter writes it: 480 in 7/8. @example beatTicks({ beats: 6, unit: 8 }) // 480 */
export function beatTicks({ unit }: Meter): Ticks {
  return (TICKS_PER_WHOLE / unit) as Ticks;
}

/** @example barTicks({ beats: 7, unit: 8 }) // 3360 */
export function barTicks(meter: Meter): Ticks {
  return (meter.beats * beatTicks(meter)) as Ticks;
}

/**
 * Beats that are felt rather than written: three eighths together in 6/8, 9/8 and 12/8 (music theory's compound
 * meters), else the written beat. The click and the dial count these.
 * @example pulseTicks({ beats: 6, unit: 8 }) // 1440
 */
export function pulseTicks(meter: Meter): Ticks {
  const compound = meter.unit === 8 && meter.beats >= 6 && groupsOf(meter).every((group) => group === 3);
  return (compound ? 3 * beatTicks(meter) : beatTicks(meter)) as Ticks;
}

/** How strongly a place in the bar is felt: its first beat, the start of a group, a beat, or between the beats. */
export type Accent = "bar" | "group" | "beat" | "between";

/**
 * @param inBarTicks whole ticks from the bar line, 0 <= inBarTicks < barTicks
 * @example accentAt(0, { beats: 4, unit: 4 }) // "bar"
 */
export function accentAt(inBarTicks: Ticks, meter: Meter): Accent {
  if (inBarTicks === 0) return "bar";
  const beat = beatTicks(meter);
  const pulse = pulseTicks(meter);
  let start = 0;
  for (const group of groupsOf(meter)) {
    // In compound meters every group is a pulse and none stands out.
    if (start === inBarTicks && pulse === beat) return "group";
    start += group * beat;
  }
  return inBarTicks % pulse === 0 ? "beat" : "between";
}
