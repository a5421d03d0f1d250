import { readdirSync, readFileSync } from "node:fs";
import { join } from "node:path";
import JZZ from "jzz";
import gm from "jzz-midi-gm";
import { addHits, addPass, findPart, setPart } from "@/core/beat/edit";
import { firstPlace, firstPlaces } from "@/core/beat/new-beat";
import { addTonalPart } from "@/core/beat/edits/part-edit";
import { demoBeat, demoBeats } from "@/core/demo/demo-beats";
import { VOICE_IDS, VOICES } from "@/core/instruments";
import type { Ticks } from "@/core/time/ticks";
import { DRUM_IDS, DRUMS } from "@/core/drums";
import { beatToMidi } from "@/core/formats/midi/beat-to-midi";
import { GM_PERCUSSION } from "@/core/formats/midi/gm-percussion";
import { midiToBeat } from "@/core/formats/midi/midi-to-beat";
import { readSmf } from "@/core/formats/midi/smf-read";
import { ROUND } from "../support/seeds";
import { fileOf, readWithMido, readWithMidicsv } from "./support/tools";

/** Ten songs of the Debian package planetblupi-music-midi (GPL-3+), read where it is installed. */
const SONGS = "/usr/share/planetblupi/music";

describe("exported MIDI files in readers that are not ours", () => {
  test.each(demoBeats().map((beat) => [beat.name, beat] as const))(
    "%s: mido and midicsv read the same notes as we do",
    (_, beat) => {
      const bytes = beatToMidi(beat, [firstPlace(beat)], "heard");
      const path = fileOf(`${beat.id}.mid`, bytes);
      const [mido] = readWithMido([path]);
      const ours = readSmf(bytes);
      const lines = ours.notes.map(({ tick, channel, note, velocity }) => [1, tick, channel, note, velocity]);
      expect(mido!.notes).toEqual(lines);
      expect(readWithMidicsv(path).sort((a, b) => a[1]! - b[1]! || a[3]! - b[3]!)).toEqual(lines);
      expect(mido).toMatchObject({
        type: 1,
        ppq: 960,
        tempos: [[0, Math.round(60e6 / beat.bpm)]],
        meters: [[0, beat.meter.beats, beat.meter.unit]],
        ends: [
          ["end_of_track", ours.endTick],
          ["end_of_track", ours.endTick],
        ],
      });
      // The loop's length: half a microsecond a quarter is the most that the file's tempo can be off.
      const quarters = ours.endTick / 960;
      expect(Math.abs(mido!.seconds - (quarters * 60) / beat.bpm)).toBeLessThan(quarters * 0.5e-6 + 1e-9);
    },
  );
});

const songs = readdirSync(SONGS).filter((name) => name.endsWith(".mid"));
/** Every other song, and the others when tests are soaked: mido takes longer for a song than all the rest. */
const names = songs.filter((_, index) => index % 2 === ROUND % 2);
const originals = readWithMido(names.map((name) => join(SONGS, name)));

test("real songs keep every note on channel 10, velocity, tempo and meter from import to export", () => {
  expect(songs).toHaveLength(10);
  const exported = readWithMido(
    names.map((name) => {
      const { beat } = midiToBeat(readFileSync(join(SONGS, name)), "song", name);
      return fileOf(`exported-${name}`, beatToMidi(beat, [firstPlace(beat)], "heard"));
    }),
  );
  originals.forEach((original, index) => {
    const scale = 960 / original.ppq;
    const drums = original.notes
      .filter(([, , channel]) => channel === 9)
      .map(([, tick, channel, note, velocity]) => [tick * scale, channel, note, velocity]);
    const sorted = (notes: number[][]) => notes.sort((a, b) => a[0]! - b[0]! || a[2]! - b[2]! || a[3]! - b[3]!);
    expect(drums.length).toBeGreaterThan(4000);
    // As text: a deep comparison of ten thousand rows takes Jest a minute.
    expect(
      JSON.stringify(sorted(exported[index]!.notes.map(([, ...note]) => note))) === JSON.stringify(sorted(drums)),
    ).toBe(true);
    expect(exported[index]!.tempos).toEqual(original.tempos);
    expect(exported[index]!.meters).toEqual(original.meters);
  });
});

test("the same songs keep every note of every channel, its velocity, length, tempo, meter and program", () => {
  const beats = names.map((name) => midiToBeat(readFileSync(join(SONGS, name)), "song", name).beat);
  const exported = readWithMido(
    beats.map((beat, index) => fileOf(`all-${names[index]}`, beatToMidi(beat, firstPlaces(beat), "heard"))),
  );
  const channels = new Set<number>();
  originals.forEach((original, index) => {
    const scale = 960 / original.ppq;
    // Of notes that overlap on one key a file does not say which end is whose: a later one ends the earlier.
    // What lasts beyond the last bar ends with it, as a lap does.
    const end = exported[index]!.ends[0]![1];
    const told = (notes: readonly number[][], scaled: number) =>
      withoutOverlap(
        notes.map(([, tick, channel, note, velocity, length]) => [
          tick! * scaled,
          channel!,
          note!,
          velocity!,
          Math.min(end - tick! * scaled, Math.max(1, length! * scaled)),
        ]),
      );
    const before = told(original.lengths, scale);
    before.forEach(([, channel]) => channels.add(channel!));
    expect(before.length).toBeGreaterThan(4000);
    expect(JSON.stringify(told(exported[index]!.lengths, 1)) === JSON.stringify(before)).toBe(true);
    expect(exported[index]!.tempos).toEqual(original.tempos);
    expect(exported[index]!.meters).toEqual(original.meters);
    const used = new Set(before.map(([, channel]) => channel));
    const first = (programs: readonly number[][]) =>
      new Map(programs.toReversed().flatMap(([, channel, program]) => (used.has(channel) ? [[channel, program]] : [])));
    first(original.programs).forEach((program, channel) => {
      if (channel !== 9) expect([channel, first(exported[index]!.programs).get(channel)]).toEqual([channel, program]);
    });
  });
  expect(channels.size).toBeGreaterThan(8);
});

/** Notes by place, channel and key, each up to the next one on its key. */
function withoutOverlap(notes: readonly number[][]): readonly number[][] {
  const sorted = notes.toSorted((a, b) => a[0]! - b[0]! || a[1]! - b[1]! || a[2]! - b[2]! || a[3]! - b[3]!);
  const next = new Map<string, number>();
  return sorted
    .toReversed()
    .flatMap(([tick, channel, note, velocity, length]) => {
      const key = `${channel} ${note}`;
      const limit = next.get(key) ?? Infinity;
      next.set(key, tick!);
      return limit > tick! ? [[tick!, channel!, note!, velocity!, Math.min(length!, limit - tick!)]] : [];
    })
    .reverse();
}

test("fifteen voices and a kit: sixteen channels go out and come in, with programs, levels and places", () => {
  let beat = demoBeat("Lantern Room");
  for (let more = beat.parts.length; more < 16; more++) {
    const added = addTonalPart(beat, VOICE_IDS[more % VOICE_IDS.length]!);
    const place = { partId: added.partId, patternId: findPart(added.beat, added.partId).patterns[0]!.id };
    const pass = addPass(added.beat, place, {
      name: "P",
      muted: false,
      quantize: { grid: "off", strength: 1, reach: 1 },
    });
    const hit = {
      lane: 40 + more,
      played: { ticks: (100 * more) as Ticks, velocity: 30 + more },
      lengthTicks: 700 as Ticks,
    };
    const mix = { levelDb: -more, pan: more / 16, roomDb: -60 };
    beat = setPart(addHits(pass.beat, place, pass.passId, [hit]), added.partId, { mix });
  }
  const path = fileOf("sixteen.mid", beatToMidi(beat, firstPlaces(beat), "heard"));
  const [mido] = readWithMido([path]);
  expect(new Set(mido!.lengths.map(([, , channel]) => channel)).size).toBe(16);
  const again = midiToBeat(readFileSync(path), "again", "Again").beat;
  expect(again.parts).toHaveLength(16);
  for (const part of beat.parts) {
    const back = again.parts.find(({ name }) => name === part.name)!;
    expect(back.kind).toBe(part.kind);
    if (part.kind === "kit" || back.kind === "kit") continue;
    // The nearest of our voices is the one that it was.
    expect([back.voiceId, back.program]).toEqual([part.voiceId, VOICES[part.voiceId].program]);
    expect(Math.abs(back.mix.levelDb - part.mix.levelDb)).toBeLessThan(0.3);
    expect(Math.abs(back.mix.pan - part.mix.pan)).toBeLessThan(0.02);
  }
  // General MIDI (from memory): programs from 0, controllers 7 and 10.
  expect(mido!.programs.map(([, channel]) => channel).sort((a, b) => a! - b!)).toEqual(
    Array.from({ length: 16 }, (_, channel) => channel).filter((channel) => channel !== 9),
  );
  expect(mido!.controllers.every(([, , number]) => number === 7 || number === 10)).toBe(true);
});

test("what the strict reader refuses, we refuse", () => {
  const good = beatToMidi(demoBeats()[0]!, [firstPlace(demoBeats()[0]!)], "heard");
  const spoilt = (change: (bytes: Uint8Array) => void) => {
    const copy = good.slice();
    change(copy);
    return copy;
  };
  const ascii = (text: string) => new TextEncoder().encode(text);
  const cases = {
    empty: new Uint8Array(0),
    random: Uint8Array.from({ length: 300 }, (_, index) => (index * 89) % 253),
    text: ascii("no music at all, just a text"),
    "only MThd": good.slice(0, 4),
    "header alone": good.slice(0, 14),
    "cut in a track": good.slice(0, -100),
    "cut by 1": good.slice(0, -1),
    "cut by 4": good.slice(0, -4),
    "chunk of 2 GB": spoilt((bytes) => bytes.set([0x7f, 0xff, 0xff, 0xff], 18)),
    "9 tracks": spoilt((bytes) => (bytes[11] = 9)),
    "unknown chunk": spoilt((bytes) => bytes.set(ascii("XFIH"), 14)),
    "velocity 200": spoilt((bytes) => (bytes[bytes.indexOf(0x99) + 2] = 200)),
    "no status": spoilt((bytes) => (bytes[bytes.indexOf(0x99)] = 0x40)),
  };
  const verdicts = readWithMido(Object.entries(cases).map(([name, bytes]) => fileOf(`${name}.mid`, bytes)));
  Object.entries(cases).forEach(([name, bytes], index) => {
    expect([name, verdicts[index]!.refused !== undefined]).toEqual([name, true]);
    expect(() => readSmf(bytes)).toThrow(/can't be read/);
  });
});

describe("General MIDI percussion", () => {
  gm(JZZ);
  const plain = (name: string) =>
    name
      .toLowerCase()
      .replace(/high/g, "hi")
      .replace(/[^a-z0-9]/g, "");
  const independent = (note: number) =>
    (JZZ.MIDI as unknown as { percussionName(note: number): string }).percussionName(note);

  test("all 47 names and numbers are those of an independent table", () => {
    const notes = Object.keys(GM_PERCUSSION).map(Number);
    expect(notes).toEqual(Array.from({ length: 47 }, (_, index) => 35 + index));
    expect(notes.map((note) => plain(GM_PERCUSSION[note]!.name))).toEqual(
      notes.map((note) => plain(independent(note))),
    );
  });

  test("every drum of ours is written as a note that means that drum", () => {
    for (const id of DRUM_IDS) expect(GM_PERCUSSION[DRUMS[id].note]!.drum).toBe(id);
  });
});
