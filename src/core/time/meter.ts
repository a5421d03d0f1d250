import { CoreError } from "../core-error";
import type { Ticks } from "./ticks";
import { TICKS_PER_WHOLE } from "./ticks";

/** A time signature: 7/8 is { beats: 7, unit: 8 }. */
export interface Meter {
  readonly beats: number;
  readonly unit: 2 | 4 | 8 | 16;
}

export const METER_UNITS = [2, 4, 8, 16] as const;
export const MAX_METER_BEATS = 32;

/** @throws CoreError "bad-meter" when the figures are outside 1..32 over 2, 4, 8 or 16 */
export function meter(beats: number, unit: number): Meter {
  const known = METER_UNITS.find((candidate) => candidate === unit);
  if (known === undefined || !Number.isInteger(beats) || beats < 1 || beats > MAX_METER_BEATS) {
    throw new CoreError("bad-meter", `Meter ${beats}/${unit} is not supported: use 1 to 32 over 2, 4, 8 or 16.`);
  }
  return { beats, unit: known };
}

/** Ticks of one beat as the meter writes it: 480 in 7/8. */
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
 */
export function pulseTicks(meter: Meter): Ticks {
  const compound = meter.unit === 8 && meter.beats >= 6 && meter.beats % 3 === 0;
  return (compound ? 3 * beatTicks(meter) : beatTicks(meter)) as Ticks;
}
