import type { Beat } from "../../beat/beat";
import { countedOn } from "../../recover/bring-back";
import type { AlongHit } from "../../recover/bring-back-along";
import type { Echo } from "../../recover/echo";
import { quartersAt } from "../../recover/pulse/pulse";
import type { Reading } from "../../recover/readings/reading";
import { barTicks, pulseTicks } from "../../time/meter";
import { TICKS_PER_QUARTER } from "../../time/ticks";
import { withoutOverlaps } from "./beat-to-midi";
import { DRUM_CHANNEL } from "./midi-channels";
import { writeSmf } from "./smf-write";

const STROKE_TICKS = 60;
/** Where nothing is known of the tempo: a second is two quarters. */
const PLAIN_BPM = 120;
/** Notes of tonal parts, whichever they are, go to the first channel. */
const TONAL_CHANNEL = 0;

/**
 * An echo as a Standard MIDI File of type 1, as it was played. What was played with the loop stands lap after lap where it
 * was played; what was played free stands by its reading; without one, by the clock at 120 BPM. A pick-up gets a bar of its
 * own in front.
 */
export function echoToMidi(echo: Pick<Echo, "hits">, beat: Beat, reading?: Reading): Uint8Array {
  const along = countedOn(echo.hits.filter((hit): hit is AlongHit => hit.along !== undefined));
  const whole = along.length === echo.hits.length;
  const firstLap = along.reduce((least, hit) => Math.min(least, hit.along.lap), Infinity);
  const known = whole ? along[0]!.along.meter : reading?.meter;
  const meter = known ?? beat.meter;
  const bpm = whole ? along[0]!.along.bpm : (reading?.bpm ?? PLAIN_BPM);
  const firstMs = echo.hits[0]!.timeMs;
  const ticksOf = whole
    ? along.map((hit) => (hit.along.lap - firstLap) * hit.along.lapTicks + hit.along.playedTicks)
    : echo.hits.map(({ timeMs }) =>
        reading
          ? quartersAt(reading, timeMs / 1000, false) * TICKS_PER_QUARTER
          : ((timeMs - firstMs) / 60_000) * PLAIN_BPM * TICKS_PER_QUARTER,
      );
  const bar = barTicks(meter);
  const lead = Math.max(0, Math.ceil(-Math.round(Math.min(...ticksOf)) / bar)) * bar;
  const kinds = new Map(beat.parts.map(({ id, kind }) => [id, kind]));
  const notes = echo.hits
    .map(({ note, velocity }, index) => ({
      tick: Math.round(ticksOf[index]!) + lead,
      lengthTicks: STROKE_TICKS,
      channel: kinds.get(echo.hits[index]!.partId) === "tonal" ? TONAL_CHANNEL : DRUM_CHANNEL,
      note,
      velocity,
    }))
    .sort((a, b) => a.tick - b.tick || a.note - b.note || a.velocity - b.velocity);
  const lastTick = notes.at(-1)!.tick + STROKE_TICKS;
  const endTick = Math.ceil(lastTick / bar) * bar;
  return writeSmf({
    name: `${beat.name}, echo`,
    ticksPerQuarter: TICKS_PER_QUARTER,
    microsecondsPerQuarter: 60_000_000 / bpm,
    meter,
    pulseTicks: pulseTicks(meter),
    endTick,
    tracks: [{ name: "Echo", notes: withoutOverlaps(notes, endTick) }],
  });
}
