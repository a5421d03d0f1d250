import type { Beat, Part, PatternPlace } from "../beat/beat";
import { patternLengthTicks } from "../beat/beat";
import { findPart, findPattern } from "../beat/edit";
import { pulseTicks } from "../time/meter";
import { TICKS_PER_QUARTER, wrap } from "../time/ticks";
import { sounding } from "../timing/heard";
import type { SmfNote } from "./smf-read";
import { writeSmf } from "./smf-write";

/** General MIDI puts percussion on channel 10, which is 9 on the wire. */
export const DRUM_CHANNEL = 9;

/** `heard`: corrected, as playback has it. `played`: where the sticks fell. */
export type MidiTiming = "heard" | "played";

/**
 * One lap of a pattern as a Standard MIDI File of type 1 with 960 ticks per quarter note. What is muted or covered is
 * left out; a hit ahead of the downbeat stands at the end of the lap, where a loop has it.
 */
export function beatToMidi(beat: Beat, place: PatternPlace, timing: MidiTiming): Uint8Array {
  const part = findPart(beat, place.partId);
  return writeSmf({
    name: beat.name,
    ticksPerQuarter: TICKS_PER_QUARTER,
    microsecondsPerQuarter: 60_000_000 / beat.bpm,
    meter: beat.meter,
    pulseTicks: pulseTicks(beat.meter),
    endTick: patternLengthTicks(findPattern(beat, place), beat.meter),
    tracks: [{ name: part.name, notes: partNotes(beat, part, place, timing) }],
  });
}

function partNotes(beat: Beat, part: Part, place: PatternPlace, timing: MidiTiming): SmfNote[] {
  const pattern = findPattern(beat, place);
  const length = patternLengthTicks(pattern, beat.meter);
  const noteOf = new Map(part.pads.map(({ id, note }) => [id, note]));
  const notes = sounding(part, pattern, beat.meter, timing === "heard" ? "grooved" : "played").map(
    ({ hit, ticks, velocity, lengthTicks }) => ({
      tick: wrap(Math.round(ticks), length),
      lengthTicks: Math.max(1, Math.round(lengthTicks)),
      channel: DRUM_CHANNEL,
      note: noteOf.get(hit.lane)!,
      velocity,
    }),
  );
  return withoutOverlaps(
    notes.sort((a, b) => a.tick - b.tick || a.note - b.note || a.velocity - b.velocity),
    length,
  );
}

/**
 * A stroke ends where the next one on its note begins, and with the lap: else its end would silence the wrong one. Of
 * several on one tick, which a file can't tell apart, the loudest stays.
 * @param notes ascending in time, those of one tick in loudness
 */
export function withoutOverlaps(notes: readonly SmfNote[], endTick: number): SmfNote[] {
  const nextStart = new Map<number, number>();
  return notes
    .toReversed()
    .flatMap((note) => {
      const limit = nextStart.get(note.note) ?? endTick;
      nextStart.set(note.note, note.tick);
      return limit > note.tick ? [{ ...note, lengthTicks: Math.min(note.lengthTicks, limit - note.tick) }] : [];
    })
    .reverse();
}
