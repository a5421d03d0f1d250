import type { Bpm } from "../../time/tempo";
import { barTicks } from "../../time/meter";
import { asTicks, TICKS_PER_QUARTER, type Ticks } from "../../time/ticks";
import type { TimedStroke } from "../../timing/extract-groove";
import { midiSections, sectionAt } from "./midi-sections";
import { drumNotes, startTempo } from "./midi-to-beat";
import { readSmf } from "./smf-read";

/** The drums of a MIDI file as strokes, for what is found out about their timing. */
export interface MidiStrokes {
  readonly bpm: Bpm;
  readonly barTicks: Ticks;
  /** From the start of the bars of their meter, 960 ticks a quarter. */
  readonly strokes: readonly (TimedStroke & { readonly id: number })[];
}

/** @returns the strokes in the meter that the file begins with @throws CoreError "bad-midi", "too-large" */
export function midiStrokes(bytes: Uint8Array): MidiStrokes {
  const smf = readSmf(bytes);
  const scale = TICKS_PER_QUARTER / smf.ticksPerQuarter;
  const sections = midiSections(smf);
  const bar = barTicks(sections[0]!.meter);
  const strokes = drumNotes(smf).flatMap(({ tick, note, velocity }, id) => {
    const section = sectionAt(sections, tick);
    if (barTicks(section.meter) !== bar) return [];
    return [{ id, pad: note, velocity, ticks: asTicks((tick - section.startTick) * scale) }];
  });
  return { bpm: startTempo(smf).value, barTicks: bar, strokes };
}
