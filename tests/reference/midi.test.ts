import { readdirSync, readFileSync } from "node:fs";
import { join } from "node:path";
import JZZ from "jzz";
import gm from "jzz-midi-gm";
import { firstPlace } from "@/core/beat/new-beat";
import { demoBeats } from "@/core/demo/demo-beats";
import { DRUM_IDS, DRUMS } from "@/core/drums";
import { beatToMidi } from "@/core/formats/beat-to-midi";
import { GM_PERCUSSION } from "@/core/formats/gm-percussion";
import { midiToBeat } from "@/core/formats/midi-to-beat";
import { readSmf } from "@/core/formats/smf-read";
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

test("ten real songs keep every note on channel 10, velocity, tempo and meter from import to export", () => {
  const names = readdirSync(SONGS).filter((name) => name.endsWith(".mid"));
  expect(names).toHaveLength(10);
  const originals = readWithMido(names.map((name) => join(SONGS, name)));
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
