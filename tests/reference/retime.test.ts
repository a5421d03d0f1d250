import { readFileSync } from "node:fs";
import { join } from "node:path";
import type { QuantizeSettings } from "@/core/beat/beat";
import { addHits, addPass, setFeel } from "@/core/beat/edit";
import { firstPlace, newBeat } from "@/core/beat/new-beat";
import { beatToMidi } from "@/core/formats/midi/beat-to-midi";
import { retimeMidi } from "@/core/formats/midi/retime-midi";
import type { Bpm } from "@/core/time/tempo";
import type { Ticks } from "@/core/time/ticks";
import { fileOf, readWithMido } from "./support/tools";

/** Songs of the Debian package planetblupi-music-midi (GPL-3+), read where it is installed. */
const SONGS = "/usr/share/planetblupi/music";
const AS_IT_IS: QuantizeSettings = { grid: "off", strength: 1, reach: 1 };

const songs = ["music003.mid", "music004.mid", "music006.mid"];
const retimed = (label: string, quantize: QuantizeSettings, feel = {}) =>
  readWithMido(
    songs.map((name) => fileOf(`${label}-${name}`, retimeMidi(readFileSync(join(SONGS, name)), quantize, feel))),
  );
/** As text, because a matcher takes minutes over so many notes. */
const same = (a: unknown, b: unknown) => JSON.stringify(a) === JSON.stringify(b);
const originals = readWithMido(songs.map((name) => join(SONGS, name)));

describe("drums of real songs retimed, in a reader that is not ours", () => {
  test("with nothing set every event stays", () => {
    retimed("same", AS_IT_IS).forEach((song, index) => expect(same(song, originals[index])).toBe(true));
  });
  test("sixteenths: every drum note on the nearest sixteenth, all other notes, tempos and meters as they were", () => {
    retimed("sixteenths", { grid: "1/16", strength: 1, reach: 1 }).forEach((song, index) => {
      const original = originals[index]!;
      const step = original.ppq / 4;
      const drums = ({ notes }: typeof song) => notes.filter(([, , channel]) => channel === 9);
      const others = ({ notes }: typeof song) => notes.filter(([, , channel]) => channel !== 9);
      expect(same(others(song), others(original))).toBe(true);
      expect(song).toMatchObject({ ppq: original.ppq, tempos: original.tempos, meters: original.meters });
      const order = (notes: readonly number[][]) => notes.map((note) => note.join()).sort();
      const expected = drums(original).map(([track, tick, channel, note, velocity]) => [
        track,
        // Half way to the later one.
        Math.floor(tick / step + 0.5) * step,
        channel,
        note,
        velocity,
      ]);
      expect(same(order(drums(song)), order(expected))).toBe(true);
    });
  });
});

test("a shuffled pattern reads back with the computed ticks", () => {
  const empty = newBeat({ id: "s", name: "Shuffle", bpm: 132 as Bpm, bars: 1 });
  const patternRef = firstPlace(empty);
  const { beat, passId } = addPass(empty, patternRef, {
    name: "P",
    muted: false,
    quantize: { grid: "1/8", strength: 1, reach: 1 },
  });
  const hits = Array.from({ length: 8 }, (_, index) => ({
    lane: 8,
    played: { ticks: (index * 480 + (index % 3) * 20 - 20) as Ticks, velocity: 90 },
    lengthTicks: 60 as Ticks,
  }));
  const swung = setFeel(addHits(beat, patternRef, passId, hits), patternRef, { swing: { ratio: 2 / 3, unit: "1/8" } });
  const [file] = readWithMido([fileOf("shuffle.mid", beatToMidi(swung, [patternRef], "heard"))]);
  expect(file!.notes.map(([, tick]) => tick)).toEqual([0, 640, 960, 1600, 1920, 2560, 2880, 3520]);
});
