import { padsOf } from "../beat/lanes";
import { writeMidi } from "midi-file";
import fc from "fast-check";
import { hitCount, type Beat, type PatternRef } from "../beat/beat";
import { commonLapTicks } from "../beat/common-lap";
import { addHits, addPass, setBars, setFeel, setPart, setPass } from "../beat/edit";
import { firstPlace, firstPlaces, newBeat } from "../beat/new-beat";
import { addKitPart } from "../beat/edits/part-edit";
import { soloPass } from "../beat/edits/pass-edit";
import { CoreError } from "../core-error";
import { demoBeat, demoBeats } from "../demo/demo-beats";
import { GRID_NAMES } from "../time/grid";
import type { Ticks } from "../time/ticks";
import { readBeatFile, writeBeatFile } from "./beat-file";
import { beatToMidi } from "./midi/beat-to-midi";
import { DRUM_CHANNEL } from "./midi/midi-channels";
import { MAX_BEAT_FILE_BYTES } from "../limits";
import { midiToBeat } from "./midi/midi-to-beat";
import { smfBytes } from "./midi/smf-bytes";
import { readSmf } from "./midi/smf-read";
import { writeSmf } from "./midi/smf-write";

const anyBeat: fc.Arbitrary<Beat> = fc
  .record({
    name: fc.string({ minLength: 1, maxLength: 40, unit: "grapheme" }),
    bpm: fc.double({ min: 20, max: 400, noNaN: true }),
    beats: fc.integer({ min: 1, max: 15 }),
    unit: fc.constantFrom(2 as const, 4 as const, 8 as const),
    grid: fc.constantFrom(...GRID_NAMES),
    hits: fc.array(
      fc.record({
        pad: fc.integer({ min: 0, max: 15 }),
        played: fc.integer({ min: -100, max: 7000 }),
        velocity: fc.integer({ min: 1, max: 127 }),
      }),
      {
        maxLength: 40,
      },
    ),
  })
  .map(({ name, bpm, beats, unit, grid, hits }) => {
    const empty = newBeat({ id: "any", name, bpm, meter: { beats, unit }, bars: 2 });
    const patternRef = firstPlace(empty);
    const { beat, passId } = addPass(empty, patternRef, {
      name: "Pass 1",
      muted: false,
      quantize: { grid, strength: 1, reach: 1 },
    });
    const strokes = hits.map(({ pad, played, velocity }) => ({
      lane: pad,
      played: { velocity, ticks: (played / 3) as Ticks },
      lengthTicks: 60 as Ticks,
      ...(velocity % 3 === 0 && { masked: true as const }),
      ...(velocity % 5 === 0 && { choked: true as const }),
      ...(velocity % 7 === 0 && { quantize: { grid, strength: 0.5, reach: 1 } }),
    }));
    const swung = setFeel(addHits(beat, patternRef, passId, strokes), patternRef, {
      swing: { ratio: 0.58, unit: "1/8" },
    });
    return { ...soloPass(swung, patternRef, passId, beats > 7), meter: { ...swung.meter, groups: [beats] } };
  });

describe("beat file", () => {
  test("what is written is read back the same", () =>
    fc.assert(fc.property(anyBeat, (beat) => expect(readBeatFile(writeBeatFile(beat))).toEqual(beat))));

  const good = writeBeatFile(demoBeat("Lantern Room"));
  const changed = (change: (file: { version: number; beat: Record<string, never> & Beat }) => void) => {
    const file = JSON.parse(good);
    change(file);
    return JSON.stringify(file);
  };
  test.each([
    ["no JSON", good.slice(0, -30), /its text is not JSON/],
    ["another version", changed((file) => (file.version = 3)), "/version: is 3, and here 1 and 2 are known"],
    [
      "a version that is none",
      changed((file) => Object.assign(file, { version: "two" })),
      '/version: must be 2, got "two"',
    ],
    [
      "a missing field",
      changed((file) => delete (file.beat as { parts?: unknown }).parts),
      '/beat: "parts" is missing',
    ],
    [
      "a field too many",
      changed((file) => Object.assign(file.beat, { colour: 1 })),
      '/beat: "colour" is not known here',
    ],
    [
      "a hard hit",
      changed((file) => Object.assign(file.beat.parts[0]!.patterns[0]!.passes[1]!.hits[2]!.played, { velocity: 128 })),
      /passes\/1\/hits\/2\/played\/velocity: must be <= 127, got 128/,
    ],
    [
      "an unknown grid",
      changed((file) => Object.assign(file.beat.inputQuantize, { grid: "1/5" })),
      /inputQuantize\/grid: must be one of 1\/2, .*got "1\/5"/,
    ],
    [
      "a hit on no pad",
      changed((file) => Object.assign(file.beat.parts[0]!.patterns[0]!.passes[0]!.hits[0]!, { lane: 99 })),
      /hits\/0\/lane: there is no pad 99/,
    ],
    [
      "an id used twice",
      changed((file) => Object.assign(file.beat.parts[0]!.patterns[0]!.passes[0]!.hits[1]!, { id: 1 })),
      /hits\/1\/id: 1 is used twice/,
    ],
    ["an id from the future", changed((file) => Object.assign(file.beat, { nextId: 5 })), /is not below nextId 5/],
    ["a list", "[]", /the file: must be object/],
  ])("%s is refused with where and what", (_, text, message) => {
    expect(() => readBeatFile(text)).toThrow(message);
  });

  test("too many hits, patterns or bytes are refused by their number", () => {
    const beat = newBeat({ id: "b", name: "B" });
    const pattern = beat.parts[0]!.patterns[0]!;
    const patterns = Array.from({ length: 200 }, (_, index) => ({ ...pattern, id: 10 + index }));
    const parts = [0, 1].map((part) => ({
      ...beat.parts[0]!,
      id: 1000 + part,
      patterns: patterns.map(({ id, ...rest }) => ({ ...rest, id: id + part * 300 })),
    }));
    expect(() => readBeatFile(writeBeatFile({ ...beat, parts, nextId: 5000 }))).toThrow(
      "400 patterns; 256 are the most",
    );
    expect(() => readBeatFile(" ".repeat(MAX_BEAT_FILE_BYTES + 1))).toThrow(/larger than 64 MB/);
  });
});

describe("MIDI file", () => {
  test("a beat keeps its notes, velocities, tempo, meter and length on the way out and in", () =>
    fc.assert(
      fc.property(anyBeat, (beat) => {
        const bytes = beatToMidi(beat, [firstPlace(beat)], "heard");
        const smf = readSmf(bytes);
        expect(smf.endTick).toBe((beat.meter.beats * 3840 * 2) / beat.meter.unit);
        expect(smf.tempos[0]!.microsecondsPerQuarter).toBe(Math.round(60e6 / beat.bpm));
        expect(smf.meters[0]).toMatchObject({ beats: beat.meter.beats, unit: beat.meter.unit });
        expect(smf.trackNames[0]).toBe(beat.name);
        if (smf.notes.length === 0) return;
        const again = midiToBeat(bytes, "again", "Again").beat;
        expect(readSmf(beatToMidi(again, [firstPlace(again)], "heard")).notes).toEqual(smf.notes);
      }),
    ));

  test("names outside Latin-1 and on its edge survive", () => {
    const bytes = beatToMidi(
      { ...newBeat({ id: "b", name: "x" }), name: "Größe 港 ✓" },
      [{ partId: 1, patternId: 2 }],
      "heard",
    );
    expect(readSmf(bytes).trackNames[0]).toBe("Größe 港 ✓");
  });

  test("played timing is the sticks, heard timing the grid, and early downbeats stand at the loop's end", () => {
    const empty = newBeat({ id: "b", name: "B" });
    const patternRef = firstPlace(empty);
    const { beat, passId } = addPass(empty, patternRef, {
      name: "P",
      muted: false,
      quantize: { grid: "1/16", strength: 1, reach: 1 },
    });
    const hits = [-30.4, 250.6].map((played) => ({
      lane: 0,
      played: { ticks: played as Ticks, velocity: 64 },
      lengthTicks: 60 as Ticks,
    }));
    const full = addHits(beat, patternRef, passId, hits);
    const ticks = (timing: "heard" | "played") =>
      readSmf(beatToMidi(full, [patternRef], timing)).notes.map(({ tick }) => tick);
    expect(ticks("heard")).toEqual([0, 240]);
    expect(ticks("played")).toEqual([251, 7650]);
  });

  // SMF 1.0 (from memory): FF 58 04, then beats, unit as a power of two, MIDI clocks a metronome click, 32nds a quarter.
  test.each([
    [4, 4, [4, 2, 24, 8]],
    [6, 8, [6, 3, 36, 8]],
    [7, 8, [7, 3, 12, 8]],
    [3, 2, [3, 1, 48, 8]],
  ] as const)("the metronome of %i/%i clicks its felt beats", (beats, unit, expected) => {
    const beat = newBeat({ id: "b", name: "B", meter: { beats, unit } });
    const bytes = [...beatToMidi(beat, [firstPlace(beat)], "heard")];
    const at = bytes.findIndex((byte, index) => byte === 0xff && bytes[index + 1] === 0x58 && bytes[index + 2] === 4);
    expect(bytes.slice(at + 3, at + 7)).toEqual(expected);
  });

  test("what only the correction covers is in the file as played, and so are two on one tick; as heard one stays, and ends after it began", () => {
    const empty = newBeat({ id: "b", name: "B" });
    const patternRef = firstPlace(empty);
    const { beat, passId } = addPass(empty, patternRef, { name: "P", muted: false, quantize: empty.inputQuantize });
    const hits = (
      [
        [940, 70],
        [975, 90],
        [1920, 50],
        [1920.2, 80],
      ] as const
    ).map(([played, velocity]) => ({
      lane: 0,
      played: { ticks: played as Ticks, velocity },
      lengthTicks: 60 as Ticks,
    }));
    const off = { grid: "off", strength: 1, reach: 1 } as const;
    const full = addHits(beat, patternRef, passId, hits);
    const notes = (timing: "heard" | "played", made = full) =>
      readSmf(beatToMidi(made, [patternRef], timing)).notes.map(({ tick, velocity, lengthTicks }) => [
        tick,
        velocity,
        lengthTicks,
      ]);
    const sounding = [
      [940, 70, 35],
      [975, 90, 60],
      [1920, 80, 60],
    ];
    expect(notes("heard")).toEqual([
      [960, 90, 60],
      [1920, 80, 60],
    ]);
    expect(notes("played")).toEqual(sounding.toSpliced(2, 0, [1920, 50, 60]));
    expect(notes("heard", setPass(full, patternRef, passId, { quantize: off }))).toEqual(sounding);
  });

  const bytes = beatToMidi(demoBeat("Tide Table"), [{ partId: 1, patternId: 2 }], "heard");
  const spoilt = (change: (bytes: Uint8Array) => void) => {
    const copy = bytes.slice();
    change(copy);
    return copy;
  };
  // The cases that a strict reader refuses (observed with mido 1.2.10).
  const text = (value: string) => new TextEncoder().encode(value);
  const firstNote = bytes.indexOf(0x99);
  test.each([
    ["empty", new Uint8Array(0), /does not begin with a MIDI header/],
    ["random bytes", Uint8Array.from({ length: 200 }, (_, index) => (index * 73) % 251), /MIDI header/],
    ["text", text("This is a letter, not music."), /MIDI header/],
    ["only MThd", bytes.slice(0, 4), /MIDI header/],
    ["the header alone", bytes.slice(0, 14), /track 1 is missing \(byte 14\)/],
    ["cut in a track", bytes.slice(0, bytes.length - 40), /track 2 is cut off/],
    ["cut by one byte", bytes.slice(0, -1), /track 2 is cut off/],
    ["cut by four bytes", bytes.slice(0, -4), /track 2 is cut off/],
    ["a chunk of 2 GB", spoilt((copy) => copy.set([0x7f, 0xff, 0xff, 0xff], 18)), /track 1 is cut off/],
    ["nine tracks promised", spoilt((copy) => (copy[11] = 9)), /says it has 9 tracks, but track 3 is missing/],
    [
      "a track of another kind",
      spoilt((copy) => copy.set(text("XFIH"), 14)),
      /it says it has 2 tracks, but track 2 is missing/,
    ],
    ["velocity 200", spoilt((copy) => (copy[firstNote + 2] = 200)), /outside 0 to 127/],
    ["a data byte without a status", spoilt((copy) => (copy[firstNote] = 0x40)), /can't be read/],
    ["division 0", spoilt((copy) => copy.set([0, 0], 12)), /not counted in ticks per quarter/],
    ["SMPTE time", spoilt((copy) => copy.set([0xe7, 0x28], 12)), /not counted in ticks per quarter/],
    ["type 2", spoilt((copy) => (copy[9] = 2)), /of type 2/],
  ])("%s is refused with what and where", (_, data, message) => {
    expect(() => readSmf(data)).toThrow(CoreError);
    expect(() => readSmf(data)).toThrow(message);
  });

  test("pitch wheels by the megabyte are refused by their number, before they are decoded", () => {
    // A track of 500,001 wheels, each a tick after the one before, with running status.
    const count = 500_001;
    const body = new Uint8Array(1 + 3 * count + 4);
    body.set([0, 0xe0], 0);
    for (let index = 0; index < count; index++)
      body.set(index === 0 ? [0, 64] : [1, 0, 64], 2 + 3 * index - (index && 1));
    const end = 2 + 2 + 3 * (count - 1);
    body.set([0, 0xff, 0x2f, 0], end);
    const track = body.slice(0, end + 4);
    const file = new Uint8Array(22 + track.length);
    file.set([...text("MThd"), 0, 0, 0, 6, 0, 0, 0, 1, 3, 0xc0, ...text("MTrk")]);
    new DataView(file.buffer).setUint32(18, track.length);
    file.set(track, 22);
    expect(() => readSmf(file)).toThrow("more than 500000 events");
  });

  // RP-001 (from memory): chunks of kinds that a reader does not know are to be passed over.
  test("a chunk of an unknown kind is passed over, wherever it stands", () => {
    const first = 14 + 8 + new DataView(bytes.buffer, bytes.byteOffset).getUint32(18);
    for (const at of [14, first]) {
      const alien = [...text("XFIH"), 0, 0, 0, 3, 1, 2, 3];
      const filled = Uint8Array.from([...bytes.subarray(0, at), ...alien, ...bytes.subarray(at)]);
      expect(readSmf(filled)).toEqual(readSmf(bytes));
    }
  });

  test("what a MIDI file can't hold is refused, and a tempo is clamped to 24 bits", () => {
    const song = {
      name: "s",
      ticksPerQuarter: 960,
      microsecondsPerQuarter: 2 ** 24,
      meter: { beats: 4, unit: 4 },
      pulseTicks: 960,
      endTick: 3840,
    };
    const note = { tick: 0, lengthTicks: 10, channel: DRUM_CHANNEL, note: 36, velocity: 100 };
    expect(readSmf(writeSmf({ ...song, tracks: [] })).tempos[0]!.microsecondsPerQuarter).toBe(2 ** 24 - 1);
    for (const wrong of [{ velocity: 0 }, { velocity: 128 }, { note: 200 }, { tick: 1.5 }, { tick: 3841 }]) {
      expect(() => writeSmf({ ...song, tracks: [{ name: "t", notes: [{ ...note, ...wrong }] }] })).toThrow(
        /A MIDI file can't hold/,
      );
    }
  });

  test("no notes, nothing to import; of drums only, other channels are told as left out", () => {
    const song = {
      name: "s",
      ticksPerQuarter: 480,
      microsecondsPerQuarter: 5e5,
      meter: { beats: 3, unit: 4 },
      pulseTicks: 480,
      endTick: 2880,
    };
    const note = { tick: 480, lengthTicks: 10, note: 60, velocity: 100 };
    const file = (channels: number[]) =>
      writeSmf({ ...song, tracks: [{ name: "t", notes: channels.map((channel) => ({ ...note, channel })) }] });
    expect(() => midiToBeat(file([]), "x", "x")).toThrow("no notes");
    expect(() => midiToBeat(file([0]), "x", "x", { drumsOnly: true })).toThrow("no note on channel 10");
    const { beat, leftOut } = midiToBeat(file([0, 0, 9]), "x", "x", { drumsOnly: true });
    expect(leftOut).toEqual(["Channel 1: 2 notes."]);
    expect([beat.bpm, beat.meter, beat.parts[0]!.patterns[0]!.bars, hitCount(beat)]).toEqual([
      120,
      { beats: 3, unit: 4 },
      2,
      1,
    ]);
    // Note 60 has no pad of ours: it gets one of its own, which sounds like the nearest drum.
    expect(padsOf(beat.parts[0]!).at(-1)).toMatchObject({
      name: "Hi Bongo",
      note: 60,
      role: "other",
      layers: [{ source: { kind: "drum", drum: "conga" } }],
    });
    expect(beat.parts[0]!.patterns[0]!.passes[0]!.hits[0]!.played.ticks).toBe(960);
  });
});

test("the demo beats are sound files of their own, with several passes of played time", () => {
  expect(demoBeats().map(({ name }) => name)).toEqual([
    "Slow Harbour",
    "Gangway Shuffle",
    "Tide Table",
    "Lantern Room",
  ]);
  for (const beat of demoBeats()) {
    expect(readBeatFile(writeBeatFile(beat))).toEqual(beat);
    const { passes } = beat.parts[0]!.patterns[0]!;
    expect(passes.length).toBeGreaterThan(1);
    expect(passes.every(({ hits }) => hits.some(({ played: { ticks } }) => !Number.isInteger(ticks)))).toBe(true);
  }
  expect(() => demoBeat("Nobody")).toThrow(/There is no demo beat "Nobody"/);
});

test("MIDI bytes that are put together from pieces are those of midi-file in one piece", () => {
  const events = Array.from({ length: 1000 }, (_, index) => ({
    deltaTime: (index * 37) % 500,
    type: "noteOn" as const,
    channel: 9,
    noteNumber: 35 + (index % 40),
    velocity: 1 + (index % 127),
  }));
  const title = { deltaTime: 0, type: "trackName" as const, meta: true as const, text: "T" };
  const data = {
    header: { format: 1 as const, numTracks: 2, ticksPerBeat: 960 },
    tracks: [[title], [title, ...events]],
  };
  expect([...smfBytes(data)]).toEqual(writeMidi(data));
});

test("parts of two and three bars are two tracks of six; on one note and tick the louder one stays, and a muted part is silent", () => {
  const first = newBeat({ id: "b", name: "B", bars: 2 });
  const { beat: two, partId } = addKitPart(first);
  const places = firstPlaces(two);
  const strike = (beat: Beat, patternRef: PatternRef, velocity: number) => {
    const added = addPass(beat, patternRef, { name: "P", muted: false, quantize: beat.inputQuantize });
    const hit = { lane: 0, played: { ticks: 960 as Ticks, velocity }, lengthTicks: 60 as Ticks };
    return addHits(added.beat, patternRef, added.passId, [hit]);
  };
  const beat = strike(strike(setBars(two, places[1]!, 3), places[0]!, 70), places[1]!, 90);
  const tracks = (made: Beat) => {
    const smf = readSmf(beatToMidi(made, firstPlaces(made), "heard"));
    expect(smf.endTick).toBe(6 * 3840);
    return smf.notes.map(({ tick, velocity }) => [tick / 960, velocity]);
  };
  expect(tracks(beat)).toEqual([
    [1, 90],
    [9, 70],
    [13, 90],
    [17, 70],
  ]);
  expect(tracks(setPart(beat, partId, { muted: true })).map(([, velocity]) => velocity)).toEqual([70, 70, 70]);
  expect(() => commonLapTicks(setBars(setBars(beat, places[0]!, 1999), places[1]!, 1998), places)).toThrow(
    "come together after 3994002 bars only; 2000 are the most",
  );
});
