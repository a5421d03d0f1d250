import type { Beat, Pad, Part } from "../../beat/beat";
import { addHits, addPass, type NewHit } from "../../beat/edit";
import {
  DEFAULT_BPM,
  DEFAULT_METER,
  defaultPads,
  drumPad,
  kitPart,
  MAX_BARS,
  newBeat,
  tonalPart,
  type NewPart,
} from "../../beat/new-beat";
import { lanesOf } from "../../beat/lanes";
import { VOICES } from "../../instruments";
import { CoreError } from "../../core-error";
import type { Meter } from "../../time/meter";
import { barTicks, meter as toMeter } from "../../time/meter";
import { clampTempo } from "../../time/tempo";
import { asTicks, TICKS_PER_QUARTER } from "../../time/ticks";
import { DRUM_CHANNEL, mixOf, voiceFor } from "./midi-channels";
import { FALLBACK_DRUM, GM_PERCUSSION } from "./gm-percussion";
import { MAX_HITS } from "../../limits";
import { readSmf, type ChannelState, type Smf, type SmfNote } from "./smf-read";

export interface ImportedMidi {
  readonly beat: Beat;
  /** What the file has and the beat has not, a sentence each. */
  readonly leftOut: readonly string[];
}

/** What of a MIDI file becomes a beat. */
export interface ImportOptions {
  readonly drumsOnly?: boolean;
}

/**
 * Makes a beat of a MIDI file, a part a channel: the notes of channel 10 as a kit, each note on the pad that has it or on one
 * of its own, those of other channels as tonal parts with the nearest of our voices. All notes of a channel are one pass,
 * placed as they are. Tempo, meter, programs, levels and places are those at the start.
 * @example midiToBeat(beatToMidi(beat, [patternRef], "heard"), "back", "Back").beat.bpm // 120
 * @throws CoreError "bad-midi" for a broken file or one without notes, "too-large" over the limits
 */
export function midiToBeat(bytes: Uint8Array, id: string, name: string, options: ImportOptions = {}): ImportedMidi {
  const smf = readSmf(bytes);
  const notes = options.drumsOnly ? drumNotes(smf) : allNotes(smf);
  if (notes.length > MAX_HITS)
    throw new CoreError("too-large", `This MIDI file has ${notes.length} notes; ${MAX_HITS} are the most.`);

  const scale = TICKS_PER_QUARTER / smf.ticksPerQuarter;
  const tempo = startTempo(smf);
  const meter = startMeter(smf);
  const bars = barCount(smf, notes.at(-1)!.tick, barTicks(meter.value) / scale);
  const channels = [...new Set(notes.map(({ channel }) => channel))].sort(drumsFirst);
  let beat: Beat = { ...newBeat({ id, name, bpm: tempo.value, meter: meter.value, bars }), parts: [], nextId: 1 };
  for (const channel of channels) {
    const own = notes.filter((note) => note.channel === channel);
    beat = withChannel(beat, channel, own, smf.channels.get(channel) ?? {}, bars, scale);
  }
  const left = options.drumsOnly ? otherParts(smf) : [];
  return { beat, leftOut: [...tempo.remarks, ...meter.remarks, ...left, ...otherEvents(smf)] };
}

function drumsFirst(a: number, b: number): number {
  return Number(b === DRUM_CHANNEL) - Number(a === DRUM_CHANNEL) || a - b;
}

/** The beat with one more part: the notes of a channel. */
function withChannel(
  beat: Beat,
  channel: number,
  notes: readonly SmfNote[],
  state: ChannelState,
  bars: number,
  scale: number,
): Beat {
  const partId = beat.nextId;
  const ids = { partId, patternId: partId + 1, bars };
  const part = channel === DRUM_CHANNEL ? drumPart(ids, notes) : voicePart(ids, beat, channel, state);
  const laneOf = new Map(lanesOf(part).map(({ id, note }) => [note, id]));
  const hits = notes.map(({ tick, lengthTicks, note, velocity }): NewHit => ({
    lane: laneOf.get(note)!,
    played: { ticks: asTicks(tick * scale), velocity },
    lengthTicks: asTicks(lengthTicks * scale),
  }));
  const mixed = { ...part, mix: mixOf(part.mix, state) };
  const place = { partId, patternId: ids.patternId };
  const quantize = { grid: "off", strength: 1, reach: 1 } as const;
  const added = addPass({ ...beat, parts: [...beat.parts, mixed], nextId: partId + 2 }, place, {
    name: "From MIDI",
    muted: false,
    quantize,
  });
  return addHits(added.beat, place, added.passId, hits);
}

function drumPart(ids: Omit<NewPart, "name">, notes: readonly SmfNote[]): Part {
  return { ...kitPart({ ...ids, name: "Kit" }), pads: padsFor(new Set(notes.map(({ note }) => note))) };
}

function voicePart(ids: Omit<NewPart, "name">, { parts }: Beat, channel: number, state: ChannelState): Part {
  const program = state.program ?? 0;
  const voiceId = voiceFor(program);
  const taken = new Set(parts.map((part) => part.name));
  const called = (state.name ?? VOICES[voiceId].name).slice(0, 100);
  const name = taken.has(called) ? `${called}, channel ${channel + 1}` : called;
  return { ...tonalPart({ ...ids, name, voiceId }), program, channel: channel + 1 };
}

function allNotes({ notes }: Smf): readonly SmfNote[] {
  if (notes.length === 0) throw new CoreError("bad-midi", "This MIDI file has no notes.");
  return notes;
}

/** @throws CoreError "bad-midi" when there is none */
export function drumNotes({ notes }: Smf): readonly SmfNote[] {
  const drums = notes.filter(({ channel }) => channel === DRUM_CHANNEL);
  if (drums.length === 0)
    throw new CoreError("bad-midi", "This MIDI file has no drums: there is no note on channel 10.");
  return drums;
}

interface Taken<T> {
  readonly value: T;
  readonly remarks: readonly string[];
}

export function startTempo({ tempos }: Smf): Taken<number> {
  const [first, ...later] = tempos.toSorted((a, b) => a.tick - b.tick);
  if (!first) return { value: DEFAULT_BPM, remarks: [`The file has no tempo; ${DEFAULT_BPM} is used.`] };
  const bpm = tempoOf(first.microsecondsPerQuarter);
  const value = clampTempo(bpm);
  return {
    value,
    remarks: [
      ...(value === bpm ? [] : [`The tempo of ${bpm.toFixed(2)} is outside 20 to 400; ${value} is used.`]),
      ...(later.length === 0 ? [] : [`${later.length} later tempo changes.`]),
    ],
  };
}

/** The rounded tempo that a MIDI file stands for, where there is one: 576,923 microseconds are 104 BPM. */
function tempoOf(microsecondsPerQuarter: number): number {
  const exact = 60_000_000 / microsecondsPerQuarter;
  const rounded = Number(exact.toFixed(2));
  return Math.round(60_000_000 / rounded) === microsecondsPerQuarter ? rounded : exact;
}

function startMeter({ meters }: Smf): Taken<Meter> {
  const [first, ...later] = meters.toSorted((a, b) => a.tick - b.tick);
  if (!first) return { value: DEFAULT_METER, remarks: [] };
  const remarks = later.length === 0 ? [] : [`${later.length} later meter changes.`];
  try {
    return { value: toMeter(first.beats, first.unit), remarks };
  } catch {
    return { value: DEFAULT_METER, remarks: [`The meter ${first.beats}/${first.unit}; 4/4 is used.`, ...remarks] };
  }
}

/** As many bars as the tracks last (a little over is nothing), and all that the notes need. */
function barCount({ endTick }: Smf, lastTick: number, barFileTicks: number): number {
  const bars = Math.max(1, Math.floor(lastTick / barFileTicks) + 1, Math.round(endTick / barFileTicks));
  if (bars > MAX_BARS)
    throw new CoreError("too-large", `This MIDI file is ${bars} bars long; ${MAX_BARS} are the most.`);
  return bars;
}

function padsFor(notes: ReadonlySet<number>): readonly Pad[] {
  const pads = defaultPads();
  const known = new Set(pads.map(({ note }) => note));
  const extra = [...notes].filter((note) => !known.has(note)).sort((a, b) => a - b);
  return [
    ...pads,
    ...extra.map((note, index) => {
      const { name, drum } = GM_PERCUSSION[note] ?? { name: `Note ${note}`, drum: FALLBACK_DRUM };
      return drumPad(drum, pads.length + index, { name, note });
    }),
  ];
}

function otherParts({ notes }: Smf): string[] {
  const channels = new Map<number, number>();
  for (const { channel } of notes)
    if (channel !== DRUM_CHANNEL) channels.set(channel, (channels.get(channel) ?? 0) + 1);
  return [...channels].sort(([a], [b]) => a - b).map(([channel, count]) => `Channel ${channel + 1}: ${count} notes.`);
}

function otherEvents({ otherEvents: count }: Smf): string[] {
  return count === 0 ? [] : [`${count} controller, program and pressure events.`];
}
