import type { Beat, Pad } from "../beat/beat";
import { addHits, addPass, type NewHit } from "../beat/edit";
import { DEFAULT_BPM, DEFAULT_METER, defaultPads, drumPad, firstPlace, MAX_BARS, newBeat } from "../beat/new-beat";
import { CoreError } from "../core-error";
import type { Meter } from "../time/meter";
import { barTicks, meter as toMeter } from "../time/meter";
import { clampTempo } from "../time/tempo";
import { TICKS_PER_QUARTER, type Ticks } from "../time/ticks";
import { DRUM_CHANNEL } from "./beat-to-midi";
import { FALLBACK_DRUM, GM_PERCUSSION } from "./gm-percussion";
import { MAX_HITS } from "../limits";
import { readSmf, type Smf, type SmfNote } from "./smf-read";

export interface ImportedMidi {
  readonly beat: Beat;
  /** What the file has and the beat has not, a sentence each. */
  readonly leftOut: readonly string[];
}

/**
 * Makes a beat of the drums in a MIDI file: the notes of channel 10 as one pass, placed as they are, each note on the pad
 * that has it or on one of its own. Tempo and meter are those at the start.
 * @throws CoreError "bad-midi" for a broken file or one without drums, "too-large" over the limits
 */
export function midiToBeat(bytes: Uint8Array, id: string, name: string): ImportedMidi {
  const smf = readSmf(bytes);
  const drums = drumNotes(smf);
  if (drums.length > MAX_HITS)
    throw new CoreError("too-large", `This MIDI file has ${drums.length} drum notes; ${MAX_HITS} are the most.`);

  const scale = TICKS_PER_QUARTER / smf.ticksPerQuarter;
  const tempo = startTempo(smf);
  const meter = startMeter(smf);
  const bars = barCount(smf, drums.at(-1)!.tick, barTicks(meter.value) / scale);
  const pads = padsFor(new Set(drums.map(({ note }) => note)));
  const padOf = new Map(pads.map((pad) => [pad.note, pad.id]));
  const hits = drums.map(({ tick, lengthTicks, note, velocity }): NewHit => ({
    lane: padOf.get(note)!,
    played: { ticks: (tick * scale) as Ticks, velocity },
    lengthTicks: (lengthTicks * scale) as Ticks,
  }));
  const empty = newBeat({ id, name, bpm: tempo.value, meter: meter.value, bars });
  const withPads = { ...empty, parts: empty.parts.map((part) => ({ ...part, pads })) };
  const place = firstPlace(withPads);
  const passes = addPass(withPads, place, {
    name: "From MIDI",
    muted: false,
    quantize: { grid: "off", strength: 1, reach: 1 },
  });
  return {
    beat: addHits(passes.beat, place, passes.passId, hits),
    leftOut: [...tempo.remarks, ...meter.remarks, ...otherParts(smf)],
  };
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

function otherParts({ notes, otherEvents }: Smf): string[] {
  const channels = new Map<number, number>();
  for (const { channel } of notes)
    if (channel !== DRUM_CHANNEL) channels.set(channel, (channels.get(channel) ?? 0) + 1);
  return [
    ...[...channels].sort(([a], [b]) => a - b).map(([channel, count]) => `Channel ${channel + 1}: ${count} notes.`),
    ...(otherEvents === 0 ? [] : [`${otherEvents} controller, program and pressure events.`]),
  ];
}
