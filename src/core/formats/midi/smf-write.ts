import type { MidiData } from "midi-file";
import { CoreError } from "../../core-error";
import { smfBytes } from "./smf-bytes";
import type { SmfMeter, SmfNote } from "./smf-read";

export interface SmfTrack {
  readonly name: string;
  /** What its channel is set to at the start. */
  readonly setup?: ChannelSetup;
  readonly notes: readonly SmfNote[];
}

export interface ChannelSetup {
  /** From 0. */
  readonly channel: number;
  /** General MIDI program, 0..127 */
  readonly program?: number;
  /** Controllers by number, 0..127 each. */
  readonly controllers: Readonly<Record<number, number>>;
}

export interface SmfSong {
  readonly name: string;
  readonly ticksPerQuarter: number;
  readonly microsecondsPerQuarter: number;
  readonly meter: Omit<SmfMeter, "tick">;
  /** The felt beat in ticks, for the metronome field of the meter event. */
  readonly pulseTicks: number;
  /** Every track ends here, so that the length of the loop is in the file. */
  readonly endTick: number;
  readonly tracks: readonly SmfTrack[];
}

type MidiEvent = MidiData["tracks"][number][number];
type WithoutDelta<E> = E extends unknown ? Omit<E, "deltaTime"> : never;
type Timed = { readonly tick: number; readonly event: WithoutDelta<MidiEvent> };

/** SMF 1.0: the tempo is 24 bits of microseconds per quarter note. */
const MAX_TEMPO = 2 ** 24 - 1;
const MIDI_CLOCKS_PER_QUARTER = 24;

/**
 * A type 1 file: a track of tempo, meter and name, then the tracks of notes.
 * midi-file writes what it is given unchecked, so ranges are checked here.
 * @throws CoreError "bad-value" for a value that a MIDI file can't hold
 */
export function writeSmf(song: SmfSong): Uint8Array {
  const tempo = checked(
    Math.min(MAX_TEMPO, Math.max(1, Math.round(song.microsecondsPerQuarter))),
    1,
    MAX_TEMPO,
    "tempo",
  );
  const metronome = Math.round((song.pulseTicks / song.ticksPerQuarter) * MIDI_CLOCKS_PER_QUARTER);
  const conductor: Timed[] = [
    { tick: 0, event: { type: "trackName", meta: true, text: toMidiText(song.name) } },
    {
      tick: 0,
      event: {
        type: "timeSignature",
        meta: true,
        numerator: song.meter.beats,
        denominator: song.meter.unit,
        metronome,
        thirtyseconds: 8,
      },
    },
    { tick: 0, event: { type: "setTempo", meta: true, microsecondsPerBeat: tempo } },
  ];
  const tracks = [conductor, ...song.tracks.map(trackEvents)].map((events) => withDeltas(events, song.endTick));
  const header = {
    format: 1 as const,
    numTracks: tracks.length,
    ticksPerBeat: checked(song.ticksPerQuarter, 1, 0x7fff, "ticks per quarter"),
  };
  return smfBytes({ header, tracks });
}

function setupEvents({ channel, program, controllers }: ChannelSetup): Timed[] {
  const events: Timed["event"][] = Object.entries(controllers).map(([type, value]) => ({
    type: "controller",
    channel,
    controllerType: Number(type),
    value: checked(value, 0, 127, `controller ${type}`),
  }));
  if (program !== undefined)
    events.unshift({ type: "programChange", channel, programNumber: checked(program, 0, 127, "program") });
  return events.map((event) => ({ tick: 0, event }));
}

function trackEvents({ name, setup, notes }: SmfTrack): Timed[] {
  const title: Timed = { tick: 0, event: { type: "trackName", meta: true, text: toMidiText(name) } };
  const events = notes.flatMap(({ tick, lengthTicks, channel, note, velocity }): Timed[] => {
    const key = { channel: checked(channel, 0, 15, "channel"), noteNumber: checked(note, 0, 127, "note") };
    return [
      { tick, event: { type: "noteOn", ...key, velocity: checked(velocity, 1, 127, "velocity") } },
      { tick: tick + lengthTicks, event: { type: "noteOff", ...key, velocity: 0 } },
    ];
  });
  // Where one stroke ends as the next begins, the end comes first.
  const rank = ({ event }: Timed) => (event.type === "noteOff" ? 0 : 1);
  return [title, ...(setup ? setupEvents(setup) : []), ...events.sort((a, b) => a.tick - b.tick || rank(a) - rank(b))];
}

function withDeltas(events: readonly Timed[], endTick: number): MidiEvent[] {
  const all = [...events, { tick: endTick, event: { type: "endOfTrack", meta: true } }];
  return all.map(({ tick, event }, index) => {
    const deltaTime = checked(tick - (index === 0 ? 0 : all[index - 1]!.tick), 0, 0xfffffff, "time between events");
    return { deltaTime, ...event } as MidiEvent;
  });
}

function checked(value: number, low: number, high: number, what: string): number {
  if (Number.isInteger(value) && value >= low && value <= high) return value;
  throw new CoreError(
    "bad-value",
    `A MIDI file can't hold a ${what} of ${value}; it must be whole, ${low} to ${high}.`,
  );
}

/** midi-file writes one byte a character, so the text goes in as the bytes of its UTF-8. */
function toMidiText(text: string): string {
  return Array.from(new TextEncoder().encode(text), (byte) => String.fromCharCode(byte)).join("");
}
