import fc from "fast-check";
import { VOICE_IDS, VOICES } from "../instruments";
import { findLane, keyLanes, KEYS, lanesOf, shownLanes } from "./lanes";
import { chordName } from "./chord-name";
import { kitPart, tonalPart } from "./new-beat";
import { noteName, ROOT_NAMES, SCALE_NAMES, scaleNotes, scaleSteps, type Scale } from "./scale";
import { followersOf, playsItself } from "./edits/also-plays";
import { addKitPart, addTonalPart, removePart } from "./edits/part-edit";
import { firstPlace, newBeat } from "./new-beat";
import { findPart, setBars, setFeel, setPart, setTonal } from "./edit";

const bass = tonalPart({ partId: 1, patternId: 2, name: "Keel", bars: 2, voiceId: "keel" });

/** Semitones of the scales that every handbook has (from memory of the usual tables). */
const HANDBOOK: Partial<Record<Scale["name"], readonly number[]>> = {
  major: [0, 2, 4, 5, 7, 9, 11],
  minor: [0, 2, 3, 5, 7, 8, 10],
  dorian: [0, 2, 3, 5, 7, 9, 10],
  phrygian: [0, 1, 3, 5, 7, 8, 10],
  lydian: [0, 2, 4, 6, 7, 9, 11],
  mixolydian: [0, 2, 4, 5, 7, 9, 10],
  "harmonic minor": [0, 2, 3, 5, 7, 8, 11],
  "melodic minor": [0, 2, 3, 5, 7, 9, 11],
  "major pentatonic": [0, 2, 4, 7, 9],
  "minor pentatonic": [0, 3, 5, 7, 10],
  "minor blues": [0, 3, 5, 6, 7, 10],
};

test("scales have the steps that handbooks give, from every root, and keys climb them without end", () => {
  for (const name of SCALE_NAMES)
    for (let root = 0; root < 12; root++) {
      const scale = { root, name };
      expect(scaleSteps(scale)).toEqual(HANDBOOK[name]);
      const notes = Array.from({ length: KEYS }, (_, key) => scaleNotes(scale, key, 36)).flat();
      expect(notes).toEqual([...notes].sort((a, b) => a - b));
      expect(notes[0]! % 12).toBe(root);
      expect(notes[0]).toBeGreaterThanOrEqual(36);
      expect(notes[0]).toBeLessThan(48);
      expect(notes.every((note) => HANDBOOK[name]!.includes((note - root + 120) % 12))).toBe(true);
    }
});

test("chords are every second note of the scale: the triads and sevenths of C major and of A minor", () => {
  const chords = (scale: Scale, keys: number) =>
    Array.from({ length: keys }, (_, key) => scaleNotes(scale, key, 60).map((note) => note - 60));
  // I ii iii IV V vi vii° and Imaj7 iim7 iiim7 IVmaj7 V7 (handbooks of harmony; from memory).
  expect(chords({ root: 0, name: "major", chords: "triads" }, 7)).toEqual([
    [0, 4, 7],
    [2, 5, 9],
    [4, 7, 11],
    [5, 9, 12],
    [7, 11, 14],
    [9, 12, 16],
    [11, 14, 17],
  ]);
  expect(chords({ root: 0, name: "major", chords: "sevenths" }, 5)).toEqual([
    [0, 4, 7, 11],
    [2, 5, 9, 12],
    [4, 7, 11, 14],
    [5, 9, 12, 16],
    [7, 11, 14, 17],
  ]);
  expect(chords({ root: 9, name: "minor", chords: "triads" }, 1)).toEqual([[9, 12, 16]]);
});

test("a new part swings and grooves like the pattern that is open, and is as long", () => {
  const beat = newBeat({ id: "b", name: "B", bars: 2 });
  const patternRef = firstPlace(beat);
  const swing = { ratio: 0.6, unit: "1/16" } as const;
  const swung = setFeel(setBars(beat, patternRef, 3), patternRef, { swing });
  for (const { beat: grown, partId } of [addKitPart(swung), addTonalPart(swung, "keel", patternRef)])
    expect(findPart(grown, partId).patterns).toEqual([expect.objectContaining({ swing, bars: 3, passes: [] })]);
  const straight = findPart(addKitPart(beat).beat, 3).patterns[0]!;
  expect(Object.keys(straight).sort()).toEqual(["bars", "id", "name", "passes"]);
});

test("chords are called as handbooks call them, spelt as their scale has them", () => {
  const names = (scale: Scale) => Array.from({ length: 7 }, (_, key) => chordName(scaleNotes(scale, key, 60), scale));
  // The triads and sevenths of a major and of a minor key (handbooks of harmony; from memory).
  expect(names({ root: 0, name: "major", chords: "triads" })).toEqual(["C", "Dm", "Em", "F", "G", "Am", "Bdim"]);
  expect(names({ root: 3, name: "major", chords: "sevenths" })).toEqual([
    "E♭maj7",
    "Fm7",
    "Gm7",
    "A♭maj7",
    "B♭7",
    "Cm7",
    "Dm7♭5",
  ]);
  expect(names({ root: 9, name: "harmonic minor", chords: "sevenths" })).toEqual([
    "Am(maj7)",
    "Bm7♭5",
    "Cmaj7♯5",
    "Dm7",
    "E7",
    "Fmaj7",
    "G♯dim7",
  ]);
  expect(chordName([60, 61, 62])).toBeUndefined();
});

test("notes are spelt as their scale has them, with the octave of C4 = 60", () => {
  expect([60, 61, 70, 21].map((note) => noteName(note))).toEqual(["C4", "C♯4", "A♯4", "A0"]);
  const inScale = (root: number, name: Scale["name"], note: number) => noteName(note, { root, name });
  expect(inScale(ROOT_NAMES.indexOf("F"), "major", 70)).toBe("B♭4");
  expect(inScale(ROOT_NAMES.indexOf("D"), "major", 66)).toBe("F♯4");
  expect(inScale(ROOT_NAMES.indexOf("Eb"), "minor", 70)).toBe("B♭4");
  // Outside of the scale, by sharps.
  expect(inScale(ROOT_NAMES.indexOf("F"), "major", 61)).toBe("C♯4");
});

test("keys play all notes from the voice's first one, octaves up and down, and never what no MIDI note is", () => {
  expect(Array.from({ length: KEYS }, (_, key) => keyLanes(bass, key))).toEqual(
    Array.from({ length: KEYS }, (_, key) => [36 + key]),
  );
  expect(keyLanes(bass, 0, 1)).toEqual([48]);
  fc.assert(
    fc.property(
      fc.constantFrom(...VOICE_IDS),
      fc.integer({ min: -3, max: 5 }),
      fc.integer({ min: 0, max: 15 }),
      fc.option(fc.record({ root: fc.integer({ min: 0, max: 11 }), name: fc.constantFrom(...SCALE_NAMES) }), {
        nil: undefined,
      }),
      (voiceId, octaves, key, scale) => {
        const part = { ...bass, voiceId, ...(scale && { scale }) };
        for (const lane of keyLanes(part, key, octaves)) expect(findLane(part, lane)?.note).toBe(lane);
        if (octaves === 0 && !scale) expect(keyLanes(part, key)).toEqual([VOICES[voiceId].base + key]);
      },
    ),
  );
});

test("of notes those on the keys and those that are used are shown, folded the used ones alone; a kit shows its pads", () => {
  const pattern = {
    ...bass.patterns[0]!,
    passes: [
      {
        id: 3,
        name: "P",
        muted: false,
        quantize: { grid: "off", strength: 1, reach: 1 },
        hits: [{ id: 4, lane: 60, played: { ticks: 0, velocity: 90 }, lengthTicks: 60 }],
      },
    ],
  } as unknown as (typeof bass.patterns)[0];
  const ids = (...[part, one, octaves, folded]: Parameters<typeof shownLanes>) =>
    shownLanes(part, one, octaves, folded).map(({ id }) => id);
  expect(ids(bass, pattern, 0, false)).toEqual([...Array.from({ length: 16 }, (_, at) => 36 + at), 60]);
  expect(ids(bass, pattern, 0, true)).toEqual([60]);
  expect(ids(bass, bass.patterns[0]!, 0, true)).toHaveLength(16);
  const kit = kitPart({ partId: 5, patternId: 6, name: "Kit", bars: 1 });
  expect(shownLanes(kit, kit.patterns[0]!, 0, true)).toBe(kit.pads);
  expect(lanesOf(bass)).toHaveLength(128);
});

test("parts that play others: along a chain, never round", () => {
  const one = newBeat({ id: "b", name: "B" });
  const two = addTonalPart(one, "cabin");
  const three = addKitPart(two.beat);
  const [a, b, c] = three.beat.parts.map(({ id }) => id) as [number, number, number];
  const chain = setPart(setPart(three.beat, a, { alsoPlays: b }), b, { alsoPlays: c });
  const names = (beat: typeof chain, at: number) => followersOf(beat, beat.parts[at]!).map(({ id }) => id);
  expect([names(chain, 0), names(chain, 1), names(chain, 2)]).toEqual([[b, c], [c], []]);
  expect(chain.parts.some((part) => playsItself(chain, part))).toBe(false);
  const ring = setPart(chain, c, { alsoPlays: a });
  expect(playsItself(ring, ring.parts[2]!)).toBe(true);
  expect(names(ring, 0)).toEqual([b, c]);
  expect(playsItself(setPart(chain, c, { alsoPlays: 999 }), setPart(chain, c, { alsoPlays: 999 }).parts[2]!)).toBe(
    true,
  );
  expect(setPart(chain, a, { alsoPlays: undefined }).parts[0]).not.toHaveProperty("alsoPlays");
  // Without the one in the middle nothing leads to nowhere: such a beat would be refused as a file.
  const without = removePart(chain, b);
  expect(without.parts.some((part) => playsItself(without, part))).toBe(false);
  expect(without.parts.map(({ alsoPlays }) => alsoPlays)).toEqual([undefined, undefined]);
  expect(removePart(chain, c).parts[0]!.alsoPlays).toBe(b);
});

test("another voice is written with its own program; the same one, or another scale, keeps what it had", () => {
  const { beat, partId } = addTonalPart(newBeat({ id: "b", name: "B" }), "cabin");
  const withProgram = {
    ...beat,
    parts: beat.parts.map((part) => (part.id === partId ? { ...part, program: 3 } : part)),
  };
  const programOf = (changed: typeof beat) => (changed.parts[1] as { program?: number }).program;
  expect(programOf(setTonal(withProgram, partId, { scale: { root: 2, name: "dorian" } }))).toBe(3);
  expect(programOf(setTonal(withProgram, partId, { voiceId: "fog" }))).toBeUndefined();
  expect(setTonal(withProgram, beat.parts[0]!.id, { transpose: 3 }).parts[0]).toBe(withProgram.parts[0]);
});
