import type { Beat, Part, PatternRef } from "../../beat/beat";
import { patternLengthTicks } from "../../beat/beat";
import { followersOf } from "../../beat/edits/also-plays";
import { findPart, findPattern } from "../../beat/edit";
import { commonLapTicks } from "../../beat/common-lap";
import { lanesOf } from "../../beat/lanes";
import { isOpenPart } from "../../beat/open-part";
import { pulseTicks } from "../../time/meter";
import { TICKS_PER_QUARTER, wrap } from "../../time/ticks";
import { sounding } from "../../timing/resolve-timing";
import { channelSetup, channelsOf } from "./midi-channels";
import type { SmfNote } from "./smf-read";
import { writeSmf } from "./smf-write";

/** `heard`: corrected, as playback has it. `played`: where the sticks fell. */
export type MidiTiming = "heard" | "played";

/**
 * One lap of a pattern as a Standard MIDI File of type 1 with 960 ticks per quarter note; of several, which are parts' that
 * play together, a track each until they begin together again: kits on channel 10, tonal parts on channels of their own, with
 * program, level and place. What is muted or covered is left out; a hit ahead of the downbeat stands at the end of the lap,
 * where a loop has it; what a part plays along with another one is in its track.
 * @example readSmf(beatToMidi(beat, [patternRef], "heard")).notes.length // 8
 * @throws CoreError "too-large" where that is after more than 2000 bars
 */
export function beatToMidi(beat: Beat, places: readonly PatternRef[], timing: MidiTiming): Uint8Array {
  const endTick = commonLapTicks(beat, places);
  const parts = places.map(({ partId }) => findPart(beat, partId));
  const channels = channelsOf(parts);
  const notes = parts.map((part, index) =>
    places
      .filter(({ partId }) => partId === part.id || followersOf(beat, findPart(beat, partId)).includes(part))
      .flatMap((patternRef) =>
        lapsOf(partNotes(beat, patternRef, timing, part, channels[index]!), beat, patternRef, endTick),
      ),
  );
  return writeSmf({
    name: beat.name,
    ticksPerQuarter: TICKS_PER_QUARTER,
    microsecondsPerQuarter: 60_000_000 / beat.bpm,
    meter: beat.meter,
    pulseTicks: pulseTicks(beat.meter),
    endTick,
    tracks: parted(notes, endTick, timing === "played" ? "all" : "loudest").map((own, index) => {
      const channel = channels[index]!;
      const setup = channelSetup(parts[index]!, channel, channels.filter((other) => other === channel).length > 1);
      return { name: parts[index]!.name, setup, notes: own };
    }),
  });
}

/** On one channel the end of one note would silence the same one of another part. */
function parted(
  parts: readonly (readonly SmfNote[])[],
  endTick: number,
  twins: "all" | "loudest",
): readonly (readonly SmfNote[])[] {
  const all = parts.flatMap((notes, part) => notes.map((note) => ({ ...note, part })));
  const left = withoutOverlaps(all.toSorted(byTimeAndLevel), endTick, twins);
  return parts.map((_, index) => left.filter(({ part }) => part === index).map(({ part: __, ...note }) => note));
}

function lapsOf(notes: readonly SmfNote[], beat: Beat, patternRef: PatternRef, endTick: number): readonly SmfNote[] {
  const lapTicks = patternLengthTicks(findPattern(beat, patternRef), beat.meter);
  return Array.from({ length: endTick / lapTicks }, (_, lap) =>
    notes.map((note) => ({ ...note, tick: note.tick + lap * lapTicks })),
  ).flat();
}

/** @param target the part whose lanes sound it: its own, or one that plays along */
function partNotes(beat: Beat, patternRef: PatternRef, timing: MidiTiming, target: Part, channel: number): SmfNote[] {
  const part = findPart(beat, patternRef.partId);
  if (!isOpenPart(beat, target) || (part !== target && !isOpenPart(beat, part))) return [];
  const pattern = findPattern(beat, patternRef);
  const length = patternLengthTicks(pattern, beat.meter);
  const notes = noteNumbers(part, target);
  const made = sounding(part, pattern, beat.meter, timing === "heard" ? "grooved" : "played").flatMap(
    ({ hit, ticks, velocity, lengthTicks }) => {
      const note = notes.get(hit.lane);
      if (note === undefined) return [];
      const tick = wrap(Math.round(ticks), length);
      return [{ tick, lengthTicks: Math.max(1, Math.round(lengthTicks)), channel, note, velocity }];
    },
  );
  return made;
}

/** The MIDI note of each lane, as another part sounds it; transposed parts are written as they sound. */
function noteNumbers(part: Part, target: Part): ReadonlyMap<number, number> {
  const theirs = new Map(lanesOf(target).map(({ note }) => [note, note]));
  const up = target.kind === "tonal" ? target.transpose : 0;
  return new Map(
    lanesOf(part).flatMap(({ id, note }) =>
      theirs.has(note) ? [[id, Math.max(0, Math.min(127, note + up))] as const] : [],
    ),
  );
}

function byTimeAndLevel(a: SmfNote, b: SmfNote): number {
  return a.tick - b.tick || a.note - b.note || a.velocity - b.velocity;
}

/**
 * A stroke ends where the next one on its note begins, and with the lap: else its end would silence the wrong one.
 * @param notes ascending in time, those of one tick in loudness
 * @param twins of several strokes of one note on one tick: all, where it is about what was played; else the loudest, as one is heard
 */
export function withoutOverlaps<T extends SmfNote>(
  notes: readonly T[],
  endTick: number,
  twins: "all" | "loudest" = "loudest",
): T[] {
  /** By note, the one that comes next, and where it ends at the latest. */
  const next = new Map<number, { readonly tick: number; readonly limit: number }>();
  return notes
    .toReversed()
    .flatMap((note) => {
      const key = note.channel * 128 + note.note;
      const later = next.get(key);
      const isTwin = later?.tick === note.tick;
      const limit = later === undefined ? endTick : isTwin ? later.limit : later.tick;
      next.set(key, { tick: note.tick, limit });
      if (limit <= note.tick || (isTwin && twins === "loudest")) return [];
      return [{ ...note, lengthTicks: Math.min(note.lengthTicks, limit - note.tick) }];
    })
    .reverse();
}
