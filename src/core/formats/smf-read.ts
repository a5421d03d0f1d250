import { parseMidi, type MidiData } from "midi-file";
import { CoreError } from "../core-error";
import { MAX_FILE_BYTES } from "./limits";

/** A note of a Standard MIDI File, in the file's own ticks. Channels count from 0, so drums are on 9. */
export interface SmfNote {
  readonly tick: number;
  readonly lengthTicks: number;
  readonly channel: number;
  readonly note: number;
  readonly velocity: number;
}

export interface SmfTempo {
  readonly tick: number;
  readonly microsecondsPerQuarter: number;
}

export interface SmfMeter {
  readonly tick: number;
  readonly beats: number;
  readonly unit: number;
}

/** What we take from a Standard MIDI File. */
export interface Smf {
  readonly ticksPerQuarter: number;
  readonly notes: readonly SmfNote[];
  readonly tempos: readonly SmfTempo[];
  readonly meters: readonly SmfMeter[];
  readonly trackNames: readonly string[];
  /** Controllers, programs, bends and pressure, which a beat has no place for. */
  readonly otherEvents: number;
  /** The latest end of a track. */
  readonly endTick: number;
}

/**
 * Reads types 0 and 1. midi-file decodes the events; it takes cut files, so the chunks and the values are checked here
 * as a strict reader does. A chunk of an unknown kind among the tracks is refused too, because no reader that we know
 * agrees on where the next track would begin.
 * @throws CoreError "bad-midi" with what is wrong and at which byte or track, "too-large" over 10 MB
 */
export function readSmf(bytes: Uint8Array): Smf {
  return collect(decodeSmf(bytes));
}

/** The same checks, and the events as midi-file has them. @throws CoreError "bad-midi", "too-large" */
export function decodeSmf(bytes: Uint8Array): MidiData {
  if (bytes.length > MAX_FILE_BYTES)
    throw new CoreError("too-large", "This file is larger than 10 MB, the most a MIDI file may have.");
  checkChunks(bytes);
  return decode(bytes);
}

function refuse(message: string, cause?: unknown): never {
  throw new CoreError(
    "bad-midi",
    `This MIDI file can't be read: ${message}.`,
    [],
    cause === undefined ? undefined : { cause },
  );
}

/** SMF 1.0 (RP-001, from memory): MThd with format, track count and division, then as many MTrk chunks. */
function checkChunks(bytes: Uint8Array): void {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const kind = (at: number) => String.fromCharCode(...bytes.subarray(at, at + 4));
  if (bytes.length < 14 || kind(0) !== "MThd") refuse("it does not begin with a MIDI header");
  if (view.getUint32(4) !== 6) refuse(`its header is ${view.getUint32(4)} bytes long instead of 6`);
  const format = view.getUint16(8);
  if (format > 1) refuse(`it is of type ${format}; types 0 and 1 are read`);
  const division = view.getUint16(12);
  if (division === 0 || division & 0x8000) refuse("its time is not counted in ticks per quarter note");
  const tracks = view.getUint16(10);
  let at = 14;
  for (let track = 1; track <= tracks; track++) {
    if (at + 8 > bytes.length) refuse(`it says it has ${tracks} tracks, but track ${track} is missing (byte ${at})`);
    if (kind(at) !== "MTrk") refuse(`byte ${at} should begin track ${track} and does not`);
    const length = view.getUint32(at + 4);
    if (at + 8 + length > bytes.length) refuse(`track ${track} is cut off (byte ${at})`);
    at += 8 + length;
  }
}

function decode(bytes: Uint8Array): MidiData {
  try {
    return parseMidi(bytes);
  } catch (cause) {
    // midi-file throws strings.
    return refuse(cause instanceof Error ? cause.message : String(cause).replace(/\.$/, ""), cause);
  }
}

type MidiEvent = MidiData["tracks"][number][number];

function collect({ header, tracks }: MidiData): Smf {
  const found = {
    notes: [] as SmfNote[],
    tempos: [] as SmfTempo[],
    meters: [] as SmfMeter[],
    trackNames: [] as string[],
    otherEvents: 0,
    endTick: 0,
  };
  tracks.forEach((events, index) => {
    const open = new Map<number, { tick: number; velocity: number }[]>();
    let tick = 0;
    for (const event of events) {
      const where = `track ${index + 1}, tick ${tick}`;
      if (!Number.isFinite(event.deltaTime)) refuse(`${where}: an event has no time`);
      tick += event.deltaTime;
      if (event.type === "noteOn" || event.type === "noteOff") {
        checkNote(event, where);
        const key = event.channel * 128 + event.noteNumber;
        const waiting = open.get(key) ?? [];
        open.set(key, waiting);
        if (event.type === "noteOn") waiting.push({ tick, velocity: event.velocity });
        else closeNote(waiting, event, tick, found.notes);
      } else if (event.type === "setTempo") {
        if (!(event.microsecondsPerBeat > 0)) refuse(`${where}: a tempo of 0 microseconds`);
        found.tempos.push({ tick, microsecondsPerQuarter: event.microsecondsPerBeat });
      } else if (event.type === "timeSignature")
        found.meters.push({ tick, beats: event.numerator, unit: event.denominator });
      else if (event.type === "trackName") found.trackNames.push(fromMidiText(event.text));
      else if ("channel" in event && !("meta" in event)) found.otherEvents++;
    }
    for (const [key, waiting] of open) {
      for (const { tick: start, velocity } of waiting) found.notes.push(noteOf(key, start, tick - start, velocity));
    }
    found.endTick = Math.max(found.endTick, tick);
  });
  found.notes.sort((a, b) => a.tick - b.tick || a.note - b.note);
  return { ticksPerQuarter: header.ticksPerBeat!, ...found };
}

function checkNote(event: Extract<MidiEvent, { type: "noteOn" | "noteOff" }>, where: string): void {
  const inRange = (value: number) => Number.isInteger(value) && value >= 0 && value <= 127;
  if (!inRange(event.noteNumber) || !inRange(event.velocity)) {
    refuse(`${where}: note ${event.noteNumber} with velocity ${event.velocity} is outside 0 to 127`);
  }
}

/** The note that began first ends first. */
function closeNote(
  waiting: { tick: number; velocity: number }[],
  event: { channel: number; noteNumber: number },
  tick: number,
  notes: SmfNote[],
): void {
  const start = waiting.shift();
  if (start) notes.push(noteOf(event.channel * 128 + event.noteNumber, start.tick, tick - start.tick, start.velocity));
}

function noteOf(key: number, tick: number, lengthTicks: number, velocity: number): SmfNote {
  return { tick, lengthTicks: Math.max(1, lengthTicks), channel: Math.floor(key / 128), note: key % 128, velocity };
}

/** SMF text says nothing of its encoding: UTF-8 where it is valid, else Latin-1. midi-file gives a character a byte. */
function fromMidiText(text: string): string {
  const bytes = Uint8Array.from(text, (letter) => letter.charCodeAt(0));
  try {
    return new TextDecoder("utf-8", { fatal: true }).decode(bytes);
  } catch {
    return text;
  }
}
