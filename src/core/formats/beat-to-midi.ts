import type { Beat, PatternPlace } from "../beat/beat";
import { patternLengthTicks } from "../beat/beat";
import { findPart, findPattern } from "../beat/edit";
import { commonLapTicks } from "../beat/common-lap";
import { isOpenPart } from "../beat/open-part";
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
 * One lap of a pattern as a Standard MIDI File of type 1 with 960 ticks per quarter note; of several, which are parts' that
 * play together, a track each until they begin together again. What is muted or covered is left out; a hit ahead of the
 * downbeat stands at the end of the lap, where a loop has it.
 * @throws CoreError "too-large" where that is after more than 2000 bars
 */
export function beatToMidi(beat: Beat, places: readonly PatternPlace[], timing: MidiTiming): Uint8Array {
  const endTick = commonLapTicks(beat, places);
  const heard = places.map((place) => lapsOf(partNotes(beat, place, timing), beat, place, endTick));
  return writeSmf({
    name: beat.name,
    ticksPerQuarter: TICKS_PER_QUARTER,
    microsecondsPerQuarter: 60_000_000 / beat.bpm,
    meter: beat.meter,
    pulseTicks: pulseTicks(beat.meter),
    endTick,
    tracks: parted(heard, endTick).map((notes, index) => ({ name: findPart(beat, places[index]!.partId).name, notes })),
  });
}

/** All kits are on one channel, where the end of one note would silence the same one of another part. */
function parted(parts: readonly (readonly SmfNote[])[], endTick: number): readonly (readonly SmfNote[])[] {
  const all = parts.flatMap((notes, part) => notes.map((note) => ({ ...note, part })));
  const left = withoutOverlaps(all.toSorted(byTimeAndLevel), endTick);
  return parts.map((_, index) => left.filter(({ part }) => part === index).map(({ part: __, ...note }) => note));
}

function lapsOf(notes: readonly SmfNote[], beat: Beat, place: PatternPlace, endTick: number): readonly SmfNote[] {
  const lapTicks = patternLengthTicks(findPattern(beat, place), beat.meter);
  return Array.from({ length: endTick / lapTicks }, (_, lap) =>
    notes.map((note) => ({ ...note, tick: note.tick + lap * lapTicks })),
  ).flat();
}

function partNotes(beat: Beat, place: PatternPlace, timing: MidiTiming): SmfNote[] {
  const part = findPart(beat, place.partId);
  if (!isOpenPart(beat, part)) return [];
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
  return withoutOverlaps(notes.sort(byTimeAndLevel), length);
}

function byTimeAndLevel(a: SmfNote, b: SmfNote): number {
  return a.tick - b.tick || a.note - b.note || a.velocity - b.velocity;
}

/**
 * A stroke ends where the next one on its note begins, and with the lap: else its end would silence the wrong one. Of
 * several on one tick, which a file can't tell apart, the loudest stays.
 * @param notes ascending in time, those of one tick in loudness
 */
export function withoutOverlaps<T extends SmfNote>(notes: readonly T[], endTick: number): T[] {
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
