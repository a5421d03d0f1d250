import type { MidiData } from "midi-file";
import type { Hit, QuantizeSettings } from "../../beat/beat";
import type { Feel } from "../../beat/feel";
import { barTicks } from "../../time/meter";
import { groupBy } from "../../group-by";
import { asTicks, TICKS_PER_QUARTER } from "../../time/ticks";
import { resolveTiming } from "../../timing/resolve-timing";
import { DRUM_CHANNEL } from "./midi-channels";
import { Fifo } from "./fifo";
import { midiSections, sectionAt, type MidiSection } from "./midi-sections";
import { drumNotes } from "./midi-to-beat";
import { smfBytes } from "./smf-bytes";
import { collectSmf, decodeSmf } from "./smf-read";

type MidiEvent = MidiData["tracks"][number][number];

/** An event with its time from the start of the file. */
interface Timed {
  tick: number;
  readonly event: MidiEvent;
  /** Its place among what happens at the same tick: the end of an earlier drum note comes first. */
  rank: number;
}

interface DrumNote {
  readonly on: Timed & { readonly event: Extract<MidiEvent, { type: "noteOn" }> };
  readonly off: Timed | undefined;
}

/**
 * Corrects and grooves the drums of a MIDI file as a pattern has it: all notes of channel 10, each with its end. Other
 * events, tempo, meter and resolution stay. Bars are counted from every change of meter; nothing moves before the start.
 * @throws CoreError "bad-midi" for a broken file or one without drums, "too-large"
 */
export function retimeMidi(bytes: Uint8Array, quantize: QuantizeSettings, feel: Feel): Uint8Array {
  const decoded = decodeSmf(bytes);
  const { header, tracks } = decoded;
  const smf = collectSmf(decoded);
  drumNotes(smf);
  const scale = TICKS_PER_QUARTER / smf.ticksPerQuarter;
  const timed = tracks.map(withTicks);
  const notes = timed.flatMap(pairDrums);
  const sections = midiSections(smf);
  const bySection = groupBy(notes, ({ on }) => sectionAt(sections, on.tick));
  for (const [section, inside] of bySection) retimeSection(inside, section, scale, quantize, feel);
  return smfBytes({ header, tracks: timed.map(withDeltas) });
}

function withTicks(events: readonly MidiEvent[]): Timed[] {
  let tick = 0;
  return events.map((event) => ({ tick: (tick += event.deltaTime), event, rank: 1 }));
}

/** The note that began first ends first. */
function pairDrums(events: readonly Timed[]): DrumNote[] {
  const waiting = new Map<number, Fifo<Timed>>();
  const ends = new Map<Timed, Timed>();
  for (const timed of events) {
    const { event } = timed;
    if ((event.type !== "noteOn" && event.type !== "noteOff") || event.channel !== DRUM_CHANNEL) continue;
    const open = waiting.get(event.noteNumber) ?? new Fifo<Timed>();
    waiting.set(event.noteNumber, open);
    if (event.type === "noteOn") open.push(timed);
    else {
      const on = open.take();
      if (!on) continue;
      ends.set(on, timed);
      timed.rank = timed.tick > on.tick ? 0 : 2;
    }
  }
  return events
    .filter((timed): timed is DrumNote["on"] => timed.event.type === "noteOn" && timed.event.channel === DRUM_CHANNEL)
    .map((on) => ({ on, off: ends.get(on) }));
}

function retimeSection(
  inside: readonly DrumNote[],
  { startTick, meter }: MidiSection,
  scale: number,
  quantize: QuantizeSettings,
  feel: Feel,
): void {
  const hits = inside.map(({ on, off }, id): Hit => ({
    id,
    lane: on.event.noteNumber,
    played: { ticks: asTicks((on.tick - startTick) * scale), velocity: on.event.velocity },
    lengthTicks: asTicks(((off?.tick ?? on.tick) - on.tick) * scale),
  }));
  const last = hits.reduce((latest, { played: { ticks } }) => Math.max(latest, ticks), 0);
  // A bar more than is played, so that nothing goes round.
  const bars = Math.floor(last / barTicks(meter)) + 2;
  const pass = { id: 0, name: "", muted: false, quantize, hits };
  for (const { hit, ticks, velocity } of resolveTiming({ id: 0, name: "", bars, passes: [pass], ...feel }, meter)) {
    const { on, off } = inside[hit.id]!;
    const moved = Math.max(0, startTick + Math.round(ticks / scale)) - on.tick;
    if (off) off.tick += moved;
    on.tick += moved;
    on.event.velocity = velocity;
  }
}

function withDeltas(events: readonly Timed[]): MidiEvent[] {
  const order = new Map(events.map((timed, index) => [timed, index]));
  const isEnd = ({ event }: Timed) => event.type === "endOfTrack";
  const sorted = events
    .filter((timed) => !isEnd(timed))
    .sort((a, b) => a.tick - b.tick || a.rank - b.rank || order.get(a)! - order.get(b)!);
  const last = sorted.at(-1)?.tick ?? 0;
  const ends = events.filter(isEnd).map((end) => ({ ...end, tick: Math.max(end.tick, last) }));
  const all = [...sorted, ...ends];
  return all.map(({ tick, event }, index) => ({ ...event, deltaTime: tick - (all[index - 1]?.tick ?? 0) }));
}
