import { readFileSync, readdirSync } from "node:fs";
import { CoreError } from "@/core/core-error";
import { findPattern } from "@/core/beat/edit";
import { demoBeats } from "@/core/demo/demo-beats";
import { demoEchoes } from "@/core/demo/demo-echoes";
import { readBeatFile, writeBeatFile } from "@/core/formats/beat-file";
import { beatToMidi } from "@/core/formats/midi/beat-to-midi";
import { readFreePlayings, readLoopPlayings } from "@/core/formats/echo-json";
import { readGrooveFile, writeGrooveFile } from "@/core/formats/groove-file";
import { midiStrokes } from "@/core/formats/midi/midi-strokes";
import { midiToBeat } from "@/core/formats/midi/midi-to-beat";
import { retimeMidi } from "@/core/formats/midi/retime-midi";
import { readSmf } from "@/core/formats/midi/smf-read";
import { readKeptPasses, readLookbackHits } from "@/core/formats/stored-records";
import { firstPlace } from "@/core/beat/new-beat";
import { seededRandom } from "@/core/random";
import { BUILT_IN_GROOVES } from "@/core/timing/built-in-grooves";
import { ROUND } from "../support/seeds";
import { fileOf, readWithMido, timesOfMidi } from "./support/tools";

const FILES = 200;
/** No file under the limits takes longer, of processor time: a machine that others use takes none of it. */
const MOST_MS = 2000;
/** Where a refusal says something is wrong: a place in the JSON, a byte, or what the whole file has too much of. */
const SAYS_WHERE = /\/\w|byte \d|position \d|the file|tick \d|the most|not JSON|no drums|Meter|bars long/;

type Random = () => number;
const pick = <T>(random: Random, all: readonly T[]): T => all[Math.floor(random() * all.length)]!;

/** Runs a reader. @returns whether it took the file; it says what is wrong and where, and fails in no other way */
function taken(read: () => unknown): boolean {
  const start = process.cpuUsage();
  try {
    read();
    return true;
  } catch (error) {
    expect(error).toBeInstanceOf(CoreError);
    expect((error as CoreError).message).toMatch(SAYS_WHERE);
    return false;
  } finally {
    const { user, system } = process.cpuUsage(start);
    expect((user + system) / 1000).toBeLessThan(MOST_MS);
  }
}

/** Bytes as a bad disk, a bad program or a bad person leaves them. */
function spoilBytes(bytes: Uint8Array, random: Random): Uint8Array {
  const copy = [...bytes];
  const at = () => Math.floor(random() * copy.length);
  // Half of them are only wrong here and there.
  const edits = 1 + Math.floor(3 * random());
  const kinds = random() < 0.5 ? 1 : 6;
  for (let edit = 0; edit < edits; edit++) {
    const kind = Math.floor(kinds * random());
    if (kind === 0) copy[at()] = Math.floor(256 * random());
    else if (kind === 1) copy[at()] = pick(random, [0, 0x7f, 0x80, 0xff, 0xf0, 0xf7, 0xc9, 0x51]);
    else if (kind === 2) copy.splice(at(), 1 + Math.floor(8 * random()));
    else if (kind === 3) copy.splice(at(), 0, ...Array.from({ length: 6 }, () => Math.floor(256 * random())));
    else if (kind === 4) copy.length = Math.max(1, at());
    else {
      const from = at();
      copy.splice(at(), 0, ...copy.slice(from, from + 40));
    }
  }
  return Uint8Array.from(copy);
}

const EXTREMES: readonly unknown[] = [
  null,
  true,
  "",
  "x",
  -1,
  0,
  0.5,
  1e300,
  -1e300,
  2 ** 31,
  2 ** 53,
  128,
  [],
  {},
  [[]],
  "__proto__",
  "<b>",
  "\u0000",
  "9".repeat(400),
];

/** JSON in which values are other values, things are missing, twice, or where they do not belong. */
function spoilJson(text: string, random: Random): string {
  if (random() < 0.25) return new TextDecoder().decode(spoilBytes(new TextEncoder().encode(text), random));
  const data = JSON.parse(text) as unknown;
  const edits = 1 + Math.floor(3 * random());
  for (let edit = 0; edit < edits; edit++) {
    let node = data as Record<string, unknown>;
    for (let depth = Math.floor(9 * random()); depth >= 0; depth--) {
      const key = pick(random, Object.keys(node));
      const child = node[key];
      if (depth > 0 && child && typeof child === "object" && Object.keys(child).length > 0) {
        node = child as Record<string, unknown>;
        continue;
      }
      const kind = Math.floor(4 * random());
      if (kind === 0) delete node[key];
      else if (kind === 1) node[pick(random, ["extra", "id", "hits", key])] = pick(random, EXTREMES);
      else if (kind === 2 && Array.isArray(node)) node.push(structuredClone(child));
      else node[key] = pick(random, EXTREMES);
      break;
    }
  }
  return JSON.stringify(data);
}

const playings = JSON.stringify([
  {
    id: "a",
    bpm: 104,
    start: 1,
    hits: Array.from({ length: 24 }, (_, index) => ({ time: 1 + index / 4, note: 36, velocity: 90 })),
  },
  { id: "b", bpm: 90, meter: [7, 8], bars: 1, hits: [{ time: 0.1, note: 38, velocity: 1 }] },
]);
const kept = JSON.stringify(
  demoBeats().map((beat) => {
    const { passes, ...pattern } = findPattern(beat, firstPlace(beat));
    return { place: firstPlace(beat), pattern, pass: passes[0] };
  }),
);

const JSON_KINDS: readonly [string, readonly string[], (text: string) => unknown][] = [
  [
    "beat",
    demoBeats().map(writeBeatFile),
    (text) => {
      const beat = readBeatFile(text);
      expect(readBeatFile(writeBeatFile(beat))).toEqual(beat);
      return beatToMidi(beat, [firstPlace(beat)], "heard");
    },
  ],
  [
    "groove",
    BUILT_IN_GROOVES.map(writeGrooveFile),
    (text) => {
      const groove = readGrooveFile(text);
      expect(readGrooveFile(writeGrooveFile(groove))).toEqual(groove);
    },
  ],
  ["recover", [playings], readFreePlayings],
  ["fold", [playings], readLoopPlayings],
  ["lookback", [JSON.stringify(demoEchoes(1e12).slice(0, 20))], readLookbackHits],
  ["journal", [kept], readKeptPasses],
];

test.each(JSON_KINDS)("spoilt files: each %s is refused with what and where, or is whole", (_, good, read) => {
  const random = seededRandom(14 + 100 * ROUND);
  let whole = 0;
  for (let file = 0; file < FILES; file++) {
    // One in ten is left as it was: all of those are taken.
    const text = pick(random, good);
    if (taken(() => read(file % 10 === 0 ? text : spoilJson(text, random)))) whole++;
  }
  expect(whole).toBeGreaterThanOrEqual(FILES / 10);
  expect(whole).toBeLessThan(0.8 * FILES);
});

const SONGS = "/usr/share/planetblupi/music";

test("spoilt MIDI files: each is refused with track and byte, or has the notes that mido finds in it", () => {
  const random = seededRandom(15 + 100 * ROUND);
  const songs = readdirSync(SONGS)
    .filter((name) => name.endsWith(".mid"))
    .slice(0, 3)
    .map((name) => new Uint8Array(readFileSync(`${SONGS}/${name}`)).slice(0, 4000));
  const good = [...demoBeats().map((beat) => beatToMidi(beat, [firstPlace(beat)], "played")), ...songs];
  const accepted: { readonly path: string; readonly bytes: Uint8Array }[] = [];
  for (let file = 0; file < FILES; file++) {
    const bytes = spoilBytes(pick(random, good), random);
    if (taken(() => readSmf(bytes))) accepted.push({ path: fileOf(`fuzz-${file}.mid`, bytes), bytes });
    taken(() => midiToBeat(bytes, "fuzz", "Fuzz"));
    taken(() => midiStrokes(bytes));
    taken(() => retimeMidi(bytes, { grid: "1/16", strength: 1, reach: 1 }, {}));
  }
  expect(accepted.length).toBeGreaterThan(5);
  expect(accepted.length).toBeLessThan(FILES / 2);
  const found = readWithMido(accepted.map(({ path }) => path));
  accepted.forEach(({ bytes }, index) => {
    const { notes, refused, tempos } = found[index]!;
    // What mido refuses and we take are kinds of events whose content we leave alone.
    if (refused !== undefined) return expect(refused).toMatch(/key|clocks|range|unknown|decode|byte|0\.\.|not enough/i);
    const ours = readSmf(bytes);
    const sorted = (all: readonly (readonly number[])[]) => all.map((note) => note.join()).toSorted();
    expect(sorted(ours.notes.map(({ tick, channel, note, velocity }) => [tick, channel, note, velocity]))).toEqual(
      sorted(notes.map(([, ...note]) => note)),
    );
    expect(sorted(ours.tempos.map(({ tick, microsecondsPerQuarter }) => [tick, microsecondsPerQuarter]))).toEqual(
      sorted(tempos),
    );
  });
});

/** A track of these bytes, in a file of type 0. */
function midiOf(events: readonly number[] | Uint8Array): Uint8Array {
  const bytes = new Uint8Array(22 + events.length);
  bytes.set([0x4d, 0x54, 0x68, 0x64, 0, 0, 0, 6, 0, 0, 0, 1, 3, 0xc0, 0x4d, 0x54, 0x72, 0x6b]);
  new DataView(bytes.buffer).setUint32(18, events.length);
  bytes.set(events, 22);
  return bytes;
}
const note = [0, 0x99, 36, 100, 10, 0x89, 36, 0];
const repeated = (bytes: readonly number[], times: number) => {
  const all = new Uint8Array(bytes.length * times);
  for (let time = 0; time < times; time++) all.set(bytes, time * bytes.length);
  return all;
};

const HOSTILE: readonly [string, Uint8Array, RegExp | undefined][] = [
  [
    "a length that reads as negative",
    midiOf([0, 0xff, 0x7f, 0xff, 0xff, 0xff, 0xff, 0x7f, ...note]),
    /track 1 has a length of more than 4 bytes \(byte 25\)/,
  ],
  [
    "a time of five bytes",
    midiOf([0x81, 0x80, 0x80, 0x80, 0, 0x99, 36, 100]),
    /track 1 has a time of more than 4 bytes \(byte 22\)/,
  ],
  [
    "a length beyond the track",
    midiOf([0, 0xf0, 0x7f, ...note]),
    /an event of 127 bytes that goes on beyond its track \(byte 23\)/,
  ],
  [
    "a text of a megabyte",
    midiOf([0, 0xff, 1, 0xc0, 0x80, 0, ...new Uint8Array(2 ** 20), ...note]),
    /a text of 1048576 bytes; 65535 are the most/,
  ],
  ["sixty thousand meters and notes", midiOf(repeated([0, 0xff, 0x58, 4, 4, 2, 24, 8, ...note], 60_000)), undefined],
  ["half a million open notes on one key", midiOf(repeated([0, 0x90, 36, 100], 500_000)), /the most|no drums/],
  [
    "as many that end",
    midiOf([...repeated([0, 0x99, 36, 100], 90_000), ...repeated([1, 0x89, 36, 0], 90_000)]),
    undefined,
  ],
  ["ten megabytes of nothing", midiOf(repeated([0, 0xfe, 0], 3_490_000)), /an event of a kind that no file has/],
];

test.each(HOSTILE)("%s is read, or refused with what and where", (_, bytes, refusal) => {
  for (const read of [() => midiToBeat(bytes, "big", "Big"), () => midiStrokes(bytes)])
    if (refusal) expect(read).toThrow(refusal);
    else read();
});

test("none of them takes longer than its size allows: a second a megabyte to read, three to retime and write", () => {
  const times = timesOfMidi(HOSTILE.map(([, bytes], index) => fileOf(`hostile-${index}.mid`, bytes)));
  HOSTILE.forEach(([name, bytes], index) => {
    const megabytes = Math.max(1, bytes.length / 2 ** 20);
    const [beat, strokes, retimed] = times[index]!.map((ms) => ms / megabytes);
    expect([name, Math.max(beat!, strokes!) < 1000, retimed! < 3000]).toEqual([name, true, true]);
  });
});
