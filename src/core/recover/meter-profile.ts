import type { Meter } from "../time/meter";
import { groupsOf } from "../time/meter";

/** What a drum tells about the bar. */
export type DrumRole = "kick" | "snare" | "hat" | "openHat" | "crash" | "other";

/** The part of a General MIDI percussion key. */
export function roleOf(note: number): DrumRole {
  if (note === 35 || note === 36) return "kick";
  if (note === 38 || note === 40) return "snare";
  if (note === 42 || note === 44 || note === 51 || note === 53 || note === 59) return "hat";
  if (note === 46) return "openHat";
  return note === 49 || note === 52 || note === 55 || note === 57 ? "crash" : "other";
}

/** A place in the bar as it is felt. */
export type BarPlace = "downbeat" | "middle" | "back" | "beat" | "eighth" | "between";

/**
 * How much a drum at a place speaks for the bar line being where it is thought: kicks and crashes for the downbeat, snares
 * for the beats after it, open hats for the eighths between (common practice, no source).
 */
export const PROFILE: Readonly<Record<DrumRole, Readonly<Partial<Record<BarPlace, number>>>>> = {
  kick: { downbeat: 2 },
  snare: { back: 0.3 },
  hat: {},
  openHat: { eighth: 3 },
  crash: { downbeat: 1.4 },
  other: {},
};

/** Quarter notes in a bar. */
export function barQuarters({ beats, unit }: Meter): number {
  return (beats * 4) / unit;
}

/** @param quarters from the bar line, 0 <= quarters < barQuarters */
export function placeInBar(quarters: number, meter: Meter): BarPlace {
  const near = (other: number) => Math.abs(quarters - other) < 1e-3;
  if (near(0)) return "downbeat";
  const bar = barQuarters(meter);
  const starts = pulseStarts(meter);
  const index = starts.findIndex(near);
  if (index < 0) {
    const isBeat = Math.abs(quarters * 2 - Math.round(quarters * 2)) < 1e-3;
    return isBeat ? "eighth" : "between";
  }
  if (starts.length % 2 === 0) return near(bar / 2) && starts.length > 2 ? "middle" : index % 2 === 1 ? "back" : "beat";
  return starts.length === 3 ? "back" : "beat";
}

/** Where the felt beats begin: quarters, or the groups where eighths are counted. */
function pulseStarts(meter: Meter): readonly number[] {
  if (meter.unit < 8) return Array.from({ length: meter.beats }, (_, beat) => (beat * 4) / meter.unit);
  const starts: number[] = [];
  let at = 0;
  for (const group of groupsOf(meter)) {
    starts.push((at * 4) / meter.unit);
    at += group;
  }
  return starts;
}
