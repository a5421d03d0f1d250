import fc from "fast-check";
import { addAlternate, keepOfPair, otherOfPair, patternPlaces, setSilentLanes } from "../beat/edits/alternate";
import type { Beat, PatternRef } from "../beat/beat";
import { compactIds } from "../beat/edits/compact-ids";
import { addHits, addPass, findPart, findPattern, setInputQuantize, setMeter } from "../beat/edit";
import { firstPlace, newBeat } from "../beat/new-beat";
import { addKitPart, addTonalPart, duplicatePart } from "../beat/edits/part-edit";
import {
  addPattern,
  duplicatePattern,
  existingPlace,
  nextEmptyPattern,
  removePattern,
} from "../beat/edits/pattern-edit";
import { removeHits } from "../beat/edits/pass-edit";
import { demoBeats } from "../demo/demo";
import { beatToMidi } from "../formats/midi/beat-to-midi";
import { readBeatFile, writeBeatFile } from "../formats/beat-file";
import { midiToBeat } from "../formats/midi/midi-to-beat";
import { compileEvents } from "../playback/compile-events";
import type { Ticks } from "../time/ticks";
import { resolvedHits } from "../timing/resolve-timing";
import { FILL_LENGTHS, writeFill } from "./fill";
import { moveByLines } from "./move-hits";
import { patternDifference } from "./pattern-difference";
import { shiftVelocity } from "./weigh-hits";
import { writeHits } from "./write-hits";

const empty = newBeat({ id: "v", name: "Vary" });
const patternRef = firstPlace(empty);
const [KICK, SNARE, HAT] = [0, 1, 8];
const at = (ticks: number) => ticks as Ticks;
const strokes = (hits: readonly (readonly [lane: number, ticks: number])[]) => {
  const { beat, passId } = addPass(empty, patternRef, { name: "P", muted: false, quantize: empty.inputQuantize });
  return addHits(
    beat,
    patternRef,
    passId,
    hits.map(([lane, ticks]) => ({ lane, played: { ticks: at(ticks), velocity: 90 }, lengthTicks: at(60) })),
  );
};
const groove = strokes([
  [KICK, 3],
  [SNARE, 950],
  [HAT, 1930],
  [HAT, 5765],
]);
const idAt = (beat: Beat, where: PatternRef, ticks: number) =>
  resolvedHits(findPattern(beat, where), beat.meter).find((one) => one.ticks === ticks)!.hit.id;
const differ = (beat: Beat, from: PatternRef, to: PatternRef) =>
  patternDifference(findPattern(beat, from), findPattern(beat, to), beat.meter);
const part = (beat: Beat) => findPart(beat, patternRef.partId);

test("an alternate stands beside its pattern, takes no place of its own, and is made but once", () => {
  const { beat, patternRef: alternate } = addAlternate(addPattern(groove, patternRef).beat, patternRef);
  const [first, second] = patternPlaces(part(beat));
  expect([first!.original.id, first!.alternate!.id, second!.alternate]).toEqual([
    patternRef.patternId,
    alternate.patternId,
    undefined,
  ]);
  expect(first!.alternate!.name).toBe("Pattern 1, alternate");
  expect(addAlternate(beat, alternate)).toEqual({ beat, patternRef });
  expect(otherOfPair(part(beat), first!.alternate!)).toBe(first!.original);
  expect(Object.values(differ(beat, patternRef, alternate)).flat()).toEqual([]);
  const copied = duplicatePattern(beat, alternate);
  expect(Object.hasOwn(findPattern(copied.beat, copied.patternRef), "alternateOf")).toBe(false);
});

test("the next empty pattern is one with a place of its own", () => {
  const { beat } = addAlternate(empty, patternRef);
  expect(nextEmptyPattern(beat, patternRef)).toBeUndefined();
  const { beat: two, patternRef: second } = addPattern(beat, patternRef);
  expect(nextEmptyPattern(two, patternRef)).toEqual(second);
});

test("sixteen places hold sixteen pairs", () => {
  let beat = groove;
  for (let more = 0; more < 15; more++) ({ beat } = addPattern(beat, patternRef));
  for (const { id } of part(beat).patterns) ({ beat } = addAlternate(beat, { ...patternRef, patternId: id }));
  expect([part(beat).patterns.length, patternPlaces(part(beat)).length]).toEqual([32, 16]);
  expect(() => addPattern(beat, patternRef)).toThrow("All 16 pattern places are taken");
  expect(readBeatFile(writeBeatFile(beat))).toEqual(beat);
});

test("one of a pair stays, at its place and under its name; with the original the alternate goes", () => {
  const { beat, patternRef: alternate } = addAlternate(addPattern(groove, patternRef).beat, patternRef);
  const kept = keepOfPair(beat, alternate);
  expect(part(kept).patterns.map(({ id, name, alternateOf }) => [id, name, alternateOf])).toEqual([
    [alternate.patternId, "Pattern 1", undefined],
    [part(beat).patterns[2]!.id, "Pattern 2", undefined],
  ]);
  expect(keepOfPair(beat, patternRef).parts).toEqual(addPattern(groove, patternRef).beat.parts);
  expect(keepOfPair(kept, alternate)).toBe(kept);
  expect(part(removePattern(beat, patternRef)).patterns.map(({ name }) => name)).toEqual(["Pattern 2"]);
  const alone = addAlternate(groove, patternRef).beat;
  expect(removePattern(alone, patternRef)).toEqual(alone);
  expect(existingPlace(removePattern(beat, alternate), alternate, beat)).toEqual(patternRef);
});

test("a pair is a pair in a copy of its part, and with small ids", () => {
  const { beat } = addAlternate(groove, patternRef);
  const copied = duplicatePart(beat, patternRef.partId);
  const [original, alternate] = findPart(copied.beat, copied.partId).patterns;
  expect(alternate!.alternateOf).toBe(original!.id);
  const far = { ...beat, nextId: 3_000_000 };
  const [small, its] = part(compactIds(far)).patterns;
  expect(its!.alternateOf).toBe(small!.id);
});

test.each([
  ["of nothing", { alternateOf: 999 }],
  ["of itself", { alternateOf: patternRef.patternId }],
])("a file whose first pattern is an alternate %s is refused", (_, change) => {
  const text = writeBeatFile(groove).replace('"bars":2', `"bars":2,"alternateOf":${change.alternateOf}`);
  expect(() => readBeatFile(text)).toThrow("patterns/0/alternateOf");
});

test("what differs is named by stroke, then by place, then by what is near in the lane", () => {
  const { beat, patternRef: alternate } = addAlternate(groove, patternRef);
  let now = moveByLines(beat, alternate, new Set([idAt(beat, alternate, 960)]), 6);
  now = removeHits(now, alternate, ({ id }) => id === idAt(beat, alternate, 1920));
  now = shiftVelocity(now, alternate, new Set([idAt(beat, alternate, 0)]), 20);
  now = writeHits(now, alternate, [
    { lane: SNARE, ticks: at(480), velocity: 50, lengthTicks: at(240) },
    // In place of the hat that is gone, less than a beat away.
    { lane: HAT, ticks: at(1200), velocity: 80, lengthTicks: at(240) },
    { lane: 12, ticks: at(0), velocity: 80, lengthTicks: at(240) },
  ]).beat;
  now = setSilentLanes(now, alternate, [KICK]);
  const { added, gone, moved, weighed } = differ(now, patternRef, alternate);
  const placed = ({ hit, ticks }: (typeof added)[number]) => [hit.lane, ticks];
  expect(added.map(placed)).toEqual([
    [SNARE, 480],
    [12, 0],
  ]);
  expect(gone).toEqual([]);
  expect(moved.map(({ from, to }) => [...placed(from), ...placed(to)])).toEqual([
    [SNARE, 960, SNARE, 2400],
    [HAT, 1920, HAT, 1200],
  ]);
  expect(weighed.map(({ from, to }) => [from.velocity, to.velocity])).toEqual([[90, 110]]);
  expect(differ(now, patternRef, alternate)).toMatchObject({ silenced: [KICK], unsilenced: [] });
  const back = differ(now, alternate, patternRef);
  expect([back.added.length, back.gone.length, back.moved.length, back.weighed.length]).toEqual([0, 2, 2, 1]);
  expect(back).toMatchObject({ silenced: [], unsilenced: [KICK] });
});

const lines = fc.uniqueArray(fc.tuple(fc.integer({ min: 0, max: 3 }), fc.integer({ min: 0, max: 31 })), {
  selector: ([lane, line]) => `${lane} ${line}`,
  maxLength: 40,
});

test("of any two patterns each hit is the same, moved, added or gone, and never two of them; the other way round it is the reverse", () =>
  fc.assert(
    fc.property(lines, lines, (before, after) => {
      const written = (hits: typeof before) =>
        hits.map(([lane, line]) => ({ lane, ticks: at(240 * line), velocity: 90, lengthTicks: at(240) }));
      const { beat: both, patternRef: other } = addPattern(empty, patternRef);
      const beat = writeHits(writeHits(both, patternRef, written(before)).beat, other, written(after)).beat;
      const there = differ(beat, patternRef, other);
      const back = differ(beat, other, patternRef);
      const ids = (hits: readonly { hit: { id: number } }[]) => hits.map(({ hit }) => hit.id).sort((a, b) => a - b);
      expect(ids(back.gone)).toEqual(ids(there.added));
      expect(ids(back.added)).toEqual(ids(there.gone));
      expect(back.moved).toHaveLength(there.moved.length);
      const touched = [...there.added, ...there.moved.map(({ to }) => to)].map(({ hit }) => hit.id);
      expect(new Set(touched).size).toBe(touched.length);
      expect(before.length - there.gone.length).toBe(after.length - there.added.length);
    }),
  ));

test("a silent lane keeps its hits and is heard nowhere: not in the loop, not in a MIDI file; what is recorded on it is", () => {
  const beat = setSilentLanes(groove, patternRef, [SNARE, HAT, HAT]);
  expect(findPattern(beat, patternRef).silentLanes).toEqual([SNARE, HAT]);
  expect([...compileEvents(beat, patternRef).lanes]).toEqual([KICK]);
  const [pass] = findPattern(beat, patternRef).passes;
  expect([...compileEvents(beat, patternRef, { recordingPassId: pass!.id }).lanes]).toHaveLength(4);
  const { beat: read } = midiToBeat(beatToMidi(beat, [patternRef], "heard"), "m", "M");
  expect(read.parts[0]!.patterns[0]!.passes.flatMap(({ hits }) => hits)).toHaveLength(1);
  expect(readBeatFile(writeBeatFile(beat))).toEqual(beat);
  expect(setSilentLanes(beat, patternRef, []).parts).toEqual(groove.parts);
  expect(() => readBeatFile(writeBeatFile(setSilentLanes(groove, patternRef, [100])))).toThrow(
    "silentLanes: there is no pad 100",
  );
});

describe("fills", () => {
  const ends = [
    ["beat", 4 * 960],
    ["half bar", 2 * 960],
    ["bar", 0],
  ] as const;
  test.each(ends)("of a %s: sixteenths there, nothing else but the kick, and all before as it was", (length, from) => {
    const start = 3840 + (length === "beat" ? 2880 : from);
    const full = writeHits(groove, patternRef, [
      { lane: HAT, ticks: at(7200), velocity: 90, lengthTicks: at(60) },
      { lane: KICK, ticks: at(7440), velocity: 90, lengthTicks: at(60) },
    ]).beat;
    for (let seed = 0; seed < 12; seed++) {
      const { beat, ids } = writeFill(full, patternRef, length, seed);
      const heard = resolvedHits(findPattern(beat, patternRef), beat.meter);
      const inFill = heard.filter(({ straightTicks }) => straightTicks >= start);
      expect(ids.length).toBeGreaterThanOrEqual(2);
      expect(inFill.every(({ straightTicks }) => straightTicks % 240 === 0)).toBe(true);
      expect(inFill.some(({ hit }) => hit.lane === HAT)).toBe(false);
      expect(inFill.filter(({ hit, ticks }) => hit.lane === KICK && ticks === 7440)).toHaveLength(1);
      expect(inFill.every(({ duplicateOnLine, velocity }) => !duplicateOnLine && velocity >= 40)).toBe(true);
      const before = (one: Beat) =>
        resolvedHits(findPattern(one, patternRef), one.meter).filter(({ straightTicks }) => straightTicks < start);
      expect(before(beat)).toEqual(before(full));
      expect(readBeatFile(writeBeatFile(beat))).toEqual(beat);
      expect(writeFill(full, patternRef, length, seed)).toEqual({ beat, ids });
    }
  });

  test("four in a row are four; in triplets it steps in triplets; an odd bar has a larger half; every demo kit takes one", () => {
    const shapes = [0, 1, 2, 3].map((seed) => {
      const { beat } = writeFill(groove, patternRef, "bar", seed);
      return resolvedHits(findPattern(beat, patternRef), beat.meter)
        .filter(({ ticks }) => ticks >= 3840)
        .map(({ hit, ticks, velocity }) => `${hit.lane} ${ticks} ${velocity}`)
        .join();
    });
    expect(new Set(shapes).size).toBe(4);
    const triplets = writeFill(setInputQuantize(empty, { grid: "1/8T" }), patternRef, "beat", 0).beat;
    expect(compileEvents(triplets, patternRef).ticks).toEqual(new Float64Array([6720, 7040, 7360]));
    const odd = writeFill(setMeter(empty, { beats: 7, unit: 8 }), patternRef, "half bar", 0).beat;
    expect(Math.min(...compileEvents(odd, patternRef).ticks)).toBe(2 * 3360 - 4 * 480);
    for (const beat of demoBeats())
      for (const length of FILL_LENGTHS)
        expect(writeFill(beat, firstPlace(beat), length, 1).ids.length).toBeGreaterThan(0);
  });

  test("a part with pitch is left alone", () => {
    const { beat, partId } = addTonalPart(addKitPart(empty).beat, "keel");
    const tonal = { partId, patternId: findPart(beat, partId).patterns[0]!.id };
    expect(writeFill(beat, tonal, "bar", 0)).toEqual({ beat, ids: [] });
  });
});
