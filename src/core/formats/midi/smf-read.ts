import { parseMidi, type MidiData } from "midi-file";
import { CoreError } from "../../core-error";
import { MAX_FILE_BYTES } from "../../limits";
import { Fifo } from "./fifo";
import { refuseMidi, walkSmf } from "./smf-walk";
import { plainName } from "../../beat/plain-name";

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

/** MIDI 1.0: controllers 7 and 10. */
export const VOLUME = 7;
export const PAN = 10;

/** The first program of a channel, its first volume and its first place, and what its first track is called. */
export interface ChannelState {
  readonly program?: number;
  readonly volume?: number;
  readonly pan?: number;
  readonly name?: string;
}

/** What we take from a Standard MIDI File. */
export interface Smf {
  readonly ticksPerQuarter: number;
  readonly notes: readonly SmfNote[];
  readonly tempos: readonly SmfTempo[];
  readonly meters: readonly SmfMeter[];
  readonly trackNames: readonly string[];
  /** What each channel that says anything is set to, by its number from 0. */
  readonly channels: ReadonlyMap<number, ChannelState>;
  /** Controllers, bends, pressure and later programs, which a beat has no place for. */
  readonly otherEvents: number;
  /** The latest end of a track. */
  readonly endTick: number;
}

/**
 * Reads types 0 and 1. midi-file decodes the events; it takes cut files and trips over others, so a walk over all events
 * comes first.
 * @throws CoreError "bad-midi" with what is wrong and at which byte or track, "too-large" over 10 MB
 */
export function readSmf(bytes: Uint8Array): Smf {
  return collectSmf(decodeSmf(bytes));
}

/** The same checks, and the events as midi-file has them. @throws CoreError "bad-midi", "too-large" */
export function decodeSmf(bytes: Uint8Array): MidiData {
  if (bytes.length > MAX_FILE_BYTES)
    throw new CoreError("too-large", "This file is larger than 10 MB, the most a MIDI file may have.");
  return decode(walkSmf(bytes));
}

function decode(bytes: Uint8Array): MidiData {
  try {
    return parseMidi(bytes);
  } catch (cause) {
    // midi-file throws strings.
    return refuseMidi(cause instanceof Error ? cause.message : String(cause).replace(/\.$/, ""), cause);
  }
}

/** What we take from events that were decoded. */
export function collectSmf({ header, tracks }: MidiData): Smf {
  const found = {
    notes: [] as SmfNote[],
    tempos: [] as SmfTempo[],
    meters: [] as SmfMeter[],
    trackNames: [] as string[],
    channels: new Map<number, ChannelState>(),
    otherEvents: 0,
    endTick: 0,
  };
  tracks.forEach((events, index) => {
    const open = new Map<number, Fifo<NoteStart>>();
    const channel = new ChannelReader(found.channels);
    let tick = 0;
    for (const event of events) {
      tick += event.deltaTime;
      if (event.type === "noteOn" || event.type === "noteOff") {
        const key = event.channel * 128 + event.noteNumber;
        const waiting = open.get(key) ?? new Fifo<NoteStart>();
        open.set(key, waiting);
        channel.sounds(event.channel);
        if (event.type === "noteOn") waiting.push({ tick, velocity: event.velocity });
        else closeNote(waiting, event, tick, found.notes);
      } else if (event.type === "setTempo") {
        if (!(event.microsecondsPerBeat > 0)) refuseMidi(`track ${index + 1}, tick ${tick}: a tempo of 0 microseconds`);
        found.tempos.push({ tick, microsecondsPerQuarter: event.microsecondsPerBeat });
      } else if (event.type === "timeSignature")
        found.meters.push({ tick, beats: event.numerator, unit: event.denominator });
      else if (event.type === "trackName") found.trackNames.push(channel.named(fromMidiText(event.text)));
      else if ("channel" in event && !("meta" in event) && !channel.sets(event)) found.otherEvents++;
    }
    for (const [key, waiting] of open) {
      for (const { tick: start, velocity } of waiting.left())
        found.notes.push(noteOf(key, start, tick - start, velocity));
    }
    found.endTick = Math.max(found.endTick, tick);
  });
  found.notes.sort((a, b) => a.tick - b.tick || a.note - b.note);
  return { ticksPerQuarter: header.ticksPerBeat!, ...found };
}

/** Follows what the events of a track say of its channels. */
class ChannelReader {
  private name: string | undefined;

  constructor(private readonly channels: Map<number, ChannelState>) {}

  named(name: string): string {
    this.name ??= plainName(name) || undefined;
    return name;
  }

  sounds(channel: number): void {
    const known = this.channels.get(channel);
    if (this.name !== undefined && known?.name === undefined) this.note(channel, { name: this.name });
  }

  /** @returns true where it says something of its channel for the first time */
  sets(event: MidiData["tracks"][number][number]): boolean {
    if (event.type === "programChange") return this.first(event.channel, "program", event.programNumber);
    if (event.type !== "controller") return false;
    const key = event.controllerType === VOLUME ? "volume" : event.controllerType === PAN ? "pan" : undefined;
    return key !== undefined && this.first(event.channel, key, event.value);
  }

  private first(channel: number, key: "program" | "volume" | "pan", value: number): boolean {
    if (this.channels.get(channel)?.[key] !== undefined) return false;
    this.note(channel, { [key]: value });
    return true;
  }

  private note(channel: number, change: ChannelState): void {
    this.channels.set(channel, { ...this.channels.get(channel), ...change });
  }
}

interface NoteStart {
  readonly tick: number;
  readonly velocity: number;
}

/** The note that began first ends first. */
function closeNote(
  waiting: Fifo<NoteStart>,
  event: { channel: number; noteNumber: number },
  tick: number,
  notes: SmfNote[],
): void {
  const start = waiting.take();
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
