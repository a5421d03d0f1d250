import type { Meter } from "../time/meter";
import { groupsOf } from "../time/meter";

/** What a drum tells about the bar. */
export type DrumRole = "kick" | "snare" | "hat" | "crash" | "tom" | "other";

const TOMS: readonly number[] = [41, 43, 45, 47, 48, 50];

/** The part of a General MIDI percussion key; side stick and clap stand for a snare, the ride for a hat. */
export function roleOf(note: number): DrumRole {
  if (note === 35 || note === 36) return "kick";
  if (note >= 37 && note <= 40) return "snare";
  if (note === 42 || note === 44 || note === 51 || note === 53 || note === 59) return "hat";
  if (note === 49 || note === 52 || note === 55 || note === 57) return "crash";
  return TOMS.includes(note) ? "tom" : "other";
}

/** A place in the bar as it is felt. */
export type BarPlace = "downbeat" | "middle" | "back" | "beat" | "eighth" | "between";

/**
 * How much a drum at a place speaks for the bar line being where it is thought: kicks for the downbeat, snares for the beats
 * after it, crashes for any beat, hats and rides for the beats; kicks off the beats and crashes between them speak against
 * it (common practice, no source; how much was fitted, see decision 11).
 */
export const PROFILE: Readonly<Record<DrumRole, Readonly<Partial<Record<BarPlace, number>>>>> = {
  kick: { downbeat: 0.5, back: -0.2, beat: -0.2, eighth: -0.2 },
  snare: { downbeat: -0.2, middle: 0.3, back: 0.3, beat: 0.3, eighth: 0.2 },
  hat: { back: 0.1, beat: 0.1 },
  crash: { downbeat: 0.6, middle: 0.4, back: 0.4, between: -0.5 },
  tom: {},
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
