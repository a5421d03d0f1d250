import fc from "fast-check";
import type { Beat } from "../beat/beat";
import * as edits from "../beat/edit";
import * as passEdits from "../beat/edits/pass-edit";
import * as takes from "../beat/edits/takes";
import { readBeatFile, writeBeatFile } from "../formats/beat-file";
import { firstPlace, newBeat } from "../beat/new-beat";
import { GRID_NAMES, gridTicks, type GridName } from "../time/grid";
import type { LoopSpan } from "../time/loop-span";
import type { Ticks } from "../time/ticks";
import { resolveTiming } from "../timing/resolve-timing";
import { eraseSpan } from "./erase";
import { openingReachTicks, placeStroke } from "./place-stroke";
import { placeIn, type IncomingStroke } from "./placed-stroke";
import { recordStroke, startRecording, type Recording, type RecordMode } from "./record-stroke";

const LOOP: LoopSpan = { startTicks: 0 as Ticks, lengthTicks: 7680 as Ticks };
const BAR = 3840 as Ticks;

describe("where a stroke belongs", () => {
  test.each([
    ["on the downbeat", 0, { lap: 0, playedTicks: 0 }],
    ["in the middle of lap 3", 2 * 7680 + 1000.5, { lap: 2, playedTicks: 1000.5 }],
    ["half a step before the end", 7680 - 120, { lap: 1, playedTicks: -120 }],
    ["just over half a step before the end", 7680 - 120.01, { lap: 0, playedTicks: 7559.99 }],
    ["at the end of the count-in", -120, { lap: 0, playedTicks: -120 }],
    ["earlier in the count-in", -121, { lap: -1, playedTicks: 7559 }],
    ["at the start of a count-in of two bars", -7680, { lap: -1, playedTicks: 0 }],
  ])("%s", (_, ticks, expected) => {
    const { lap, playedTicks } = placeStroke(ticks as Ticks, LOOP, BAR, "1/16");
    expect({ lap, playedTicks: Number(playedTicks.toFixed(6)) }).toEqual(expected);
  });

  test("the reach of the downbeat follows the grid, and without one it is that of sixteenths", () => {
    expect(placeStroke(-400 as Ticks, LOOP, BAR, "1/4")).toEqual({ lap: 0, playedTicks: -400 });
    expect(placeStroke(-100 as Ticks, LOOP, BAR, "1/32")).toEqual({ lap: -1, playedTicks: 7580 });
    expect(placeStroke(-100 as Ticks, LOOP, BAR, "off")).toEqual({ lap: 0, playedTicks: -100 });
  });

  test("before the very first downbeat half a beat, and at least 150 ms, is the downbeat, whatever the grid", () => {
    expect([
      openingReachTicks({ beats: 4, unit: 4 }, 60),
      openingReachTicks({ beats: 4, unit: 4 }, 300),
      openingReachTicks({ beats: 7, unit: 8 }, 100),
    ]).toEqual([480, 720, 240]);
    const region: LoopSpan = { startTicks: 960 as Ticks, lengthTicks: 1920 as Ticks };
    const opening = (ticks: number, grid: GridName, span = LOOP) =>
      placeStroke(ticks as Ticks, span, BAR, grid, 480 as Ticks);
    for (const grid of ["1/16", "1/32", "1/64", "off"] as const)
      expect(opening(-480, grid)).toEqual({ lap: 0, playedTicks: -480, downbeatTicks: 0 });
    expect(opening(-200, "1/16", region)).toEqual({ lap: 0, playedTicks: 760, downbeatTicks: 960 });
    expect(opening(-100, "1/16")).toEqual({ lap: 0, playedTicks: -100 });
    expect(opening(-481, "off")).toEqual({ lap: -1, playedTicks: 7199 });
    // A lap later the grid decides again.
    expect(opening(7680 - 200, "1/16")).toEqual({ lap: 0, playedTicks: 7480 });
  });

  test.each([
    [-200, "1/16", 1, 0],
    [-200, "1/16", 0.5, -100],
    [-90, "1/32", 1, 0],
    [-450, "off", 1, -450],
  ] as const)("an opening stroke at %i on %s at strength %d sounds at %i", (ticks, grid, strength, expected) => {
    const beat = edits.setInputQuantize(newBeat({ id: "b", name: "B" }), { grid, strength, reach: 0.2 });
    const run = {
      segment: 1,
      patternRef: firstPlace(beat),
      span: LOOP,
      bpm: 120,
      opens: true,
      timingView: "grooved" as const,
    };
    const placed = placeIn(beat, run, { lane: 0, velocity: 100 }, ticks as Ticks);
    const { beat: after } = recordStroke(beat, startRecording(firstPlace(beat), "overdub"), placed);
    const [pattern] = readBeatFile(writeBeatFile(after)).parts[0]!.patterns;
    expect(resolveTiming(pattern!, beat.meter).map((hit) => [hit.ticks, hit.hit.played.ticks])).toEqual([
      [expected, ticks],
    ]);
  });
});

const stroke = fc.record({
  lane: fc.integer({ min: 0, max: 15 }),
  velocity: fc.integer({ min: 1, max: 127 }),
  // Parts of a tick that a sum keeps exactly.
  transportTicks: fc.integer({ min: -3840 * 64, max: 6 * 7680 * 64 }).map((part) => (part / 64) as Ticks),
});

type PlainStroke = IncomingStroke & { readonly transportTicks: Ticks };

function write(beat: Beat, recording: Recording, { transportTicks, ...one }: PlainStroke, span = LOOP) {
  const run = {
    segment: 1,
    patternRef: recording.patternRef,
    span,
    bpm: beat.bpm,
    opens: false,
    timingView: "grooved" as const,
  };
  const placed = placeIn(beat, run, one, transportTicks);
  return placed.lap < 0 ? undefined : recordStroke(beat, recording, placed);
}

function recordAll(start: Beat, strokes: readonly PlainStroke[], mode: RecordMode = "overdub", span = LOOP) {
  let beat = start;
  let recording = startRecording(firstPlace(start), mode);
  const recorded = [];
  for (const one of strokes) {
    const result = write(beat, recording, one, span);
    if (!result) continue;
    ({ beat, recording } = result);
    recorded.push({ ...result, stroke: one });
  }
  return { beat, recording, recorded };
}

describe("overdub", () => {
  const empty = newBeat({ id: "b", name: "B" });

  test("never removes or moves an earlier hit, never changes the length, and puts every hit inside the loop", () =>
    fc.assert(
      fc.property(fc.array(stroke, { maxLength: 40 }), fc.array(stroke, { maxLength: 40 }), (first, second) => {
        const before = recordAll(empty, first).beat;
        const after = recordAll(before, second).beat;
        const passes = (beat: Beat) => beat.parts[0]!.patterns[0]!.passes;
        expect(passes(after).slice(0, passes(before).length)).toEqual(passes(before));
        expect(after.parts[0]!.patterns[0]!.bars).toBe(2);
        for (const {
          played: { ticks: playedTicks },
        } of passes(after).flatMap(({ hits }) => hits)) {
          expect(playedTicks).toBeGreaterThanOrEqual(-120);
          expect(playedTicks).toBeLessThan(7680 - 120);
        }
      }),
    ));

  test("a hit sounds again only after the moment at which it was struck, and within one loop and a step", () =>
    fc.assert(
      fc.property(stroke, fc.constantFrom(...GRID_NAMES), (one, grid) => {
        const start = edits.setInputQuantize(empty, { grid });
        const { beat, recorded } = recordAll(start, [one]);
        const halfStep = (gridTicks(grid) ?? 240) / 2;
        for (const { soundsFromLap } of recorded) {
          const { ticks } = resolveTiming(beat.parts[0]!.patterns[0]!, beat.meter)[0]!;
          const next = soundsFromLap * 7680 + ticks;
          expect(next).toBeGreaterThan(one.transportTicks);
          expect(next - one.transportTicks).toBeLessThanOrEqual(7680 + halfStep);
          expect(next - one.transportTicks).toBeGreaterThanOrEqual(7680 - halfStep);
        }
      }),
    ));

  test("no stroke, no pass; another grid, another pass; an undone pass is not written to again", () => {
    expect(recordAll(empty, [{ lane: 0, velocity: 9, transportTicks: -2000 as Ticks }]).beat).toBe(empty);
    const patternRef = firstPlace(empty);
    const strike = (beat: Beat, recording: Recording, ticks: number) =>
      write(beat, recording, { lane: 0, velocity: 9, transportTicks: ticks as Ticks })!;
    const one = strike(empty, startRecording(patternRef, "overdub"), 0);
    const two = strike(edits.setInputQuantize(one.beat, { grid: "1/8" }), one.recording, 960);
    expect(edits.findPattern(two.beat, patternRef).passes.map(({ name, quantize }) => [name, quantize.grid])).toEqual([
      ["Pass 1", "1/16"],
      ["Pass 2", "1/8"],
    ]);
    const undone = strike(empty, one.recording, 1920);
    expect(edits.findPattern(undone.beat, patternRef).passes.map(({ hits }) => hits.length)).toEqual([1]);
  });
});

test("what is written of a stroke is all of it, and nothing else", () => {
  const beat = newBeat({ id: "b", name: "B" });
  const patternRef = firstPlace(beat);
  const write = (more: Partial<IncomingStroke>, ticks: number, mode: RecordMode = "overdub", start = beat) => {
    const run = { segment: 1, patternRef, span: LOOP, bpm: 120, opens: true, timingView: "grooved" as const };
    const placed = placeIn(start, run, { lane: 3, velocity: 77, ...more }, ticks as Ticks);
    return recordStroke(start, startRecording(patternRef, mode), placed).beat;
  };
  const passes = (after: Beat) => edits.findPattern(after, patternRef).passes;
  const plain = { lane: 3, played: { velocity: 77, ticks: 1000 }, lengthTicks: 60, lap: 0 };
  const pass = { name: "Pass 1", muted: false, quantize: beat.inputQuantize };
  const [made] = passes(write({}, 1000));
  expect(made).toEqual({ ...pass, id: made!.id, hits: [{ ...plain, id: made!.hits[0]!.id }] });
  const grid = { grid: "1/8", strength: 1, reach: 1 } as const;
  const [repeated] = passes(write({ quantize: grid, masked: true }, -2000));
  expect(repeated!.hits[0]).toEqual({
    ...plain,
    id: expect.any(Number),
    played: { ticks: 5680, velocity: 77 },
    lap: undefined,
    quantize: grid,
    masked: true,
  });
  const [take] = passes(write({}, 1000, "takes"));
  expect(take).toMatchObject({ name: "Take 1", take: expect.any(Number) });
  // Over a swing of two thirds what is struck on the late sixteenth (640) is straight on 480; a made note comes with its line.
  const swung = edits.setFeel(beat, patternRef, { swing: { ratio: 2 / 3, unit: "1/16" } });
  const straight = (more: Partial<IncomingStroke>, ticks: number) =>
    passes(write(more, ticks, "overdub", swung))[0]!.hits[0];
  expect(straight({}, 320)).toMatchObject({ played: { ticks: 320, straightTicks: 240 } });
  expect(straight({ quantize: grid }, 240)).toMatchObject({ played: { ticks: 320, straightTicks: 240 } });
});

test("a pass has the first number that none has", () => {
  let beat = newBeat({ id: "b", name: "B" });
  const patternRef = firstPlace(beat);
  for (const name of ["Pass 12", "My Pass 40", "Pass 70b", "Take 9"])
    beat = edits.addHits(...withPass(beat, name), [
      { lane: 0, played: { velocity: 9, ticks: 0 as Ticks }, lengthTicks: 60 as Ticks },
    ]);
  expect(passesOf(recordAll(beat, [at(0, 0)]).beat).at(-1)!.name).toBe("Pass 13");
  const { beat: taken } = recordAll(beat, [at(0, 0), at(0, 7680)], "takes");
  expect(
    passesOf(taken)
      .slice(-2)
      .map(({ name }) => name),
  ).toEqual(["Take 1", "Take 2"]);

  function withPass(before: Beat, name: string): [Beat, typeof patternRef, number] {
    const added = edits.addPass(before, patternRef, { name, muted: false, quantize: before.inputQuantize });
    return [added.beat, patternRef, added.passId];
  }
});

const passesOf = (beat: Beat) => beat.parts[0]!.patterns[0]!.passes;
const hitsOf = (beat: Beat) => passesOf(beat).flatMap(({ hits }) => hits);
const at = (lane: number, transportTicks: number) => ({ lane, velocity: 90, transportTicks: transportTicks as Ticks });

describe("replace", () => {
  const empty = newBeat({ id: "b", name: "B" });

  test("only pads that are struck lose what they had; the others are left alone, and the last lap wins", () => {
    const before = recordAll(empty, [at(0, 0), at(0, 960), at(1, 1920), at(2, 480)]).beat;
    const { beat } = recordAll(before, [at(0, 240), at(1, 1440), at(0, 7680 + 2880), at(0, 7680 + 3840)], "replace");
    expect(hitsOf(beat).map(({ lane, played: { ticks } }) => [lane, ticks])).toEqual([
      [2, 480],
      [1, 1440],
      [0, 2880],
      [0, 3840],
    ]);
  });

  test("over random performances it touches only pads that were played", () =>
    fc.assert(
      fc.property(fc.array(stroke, { maxLength: 30 }), fc.array(stroke, { maxLength: 30 }), (first, second) => {
        const before = recordAll(empty, first).beat;
        const { beat, recorded } = recordAll(before, second, "replace");
        const struck = new Set(recorded.map(({ stroke: { lane } }) => lane));
        const kept = new Set(hitsOf(beat).map(({ id }) => id));
        for (const hit of hitsOf(before)) expect(kept.has(hit.id)).toBe(!struck.has(hit.lane));
        expect(beat.parts[0]!.patterns[0]!.bars).toBe(2);
      }),
    ));

  test("it goes by what is listened to: corrected, a hit belongs to its line; as played, to where it was", () => {
    const region: LoopSpan = { startTicks: 1920 as Ticks, lengthTicks: 1920 as Ticks };
    const quarters = edits.setInputQuantize(empty, { grid: "1/4" });
    const before = edits.setInputQuantize(recordAll(quarters, [at(0, 1700)]).beat, { grid: "1/16" });
    const patternRef = firstPlace(before);
    const struck = (timingView: "played" | "grooved") => {
      const run = { segment: 1, patternRef, span: region, bpm: 120, opens: false, timingView };
      const placed = placeIn(before, run, { lane: 0, velocity: 90 }, 960 as Ticks);
      return hitsOf(recordStroke(before, startRecording(patternRef, "replace"), placed).beat).length;
    };
    expect([struck("grooved"), struck("played")]).toEqual([1, 2]);
    const erased = (timingView: "played" | "grooved") =>
      hitsOf(eraseSpan(before, patternRef, new Set([0]), 1800 as Ticks, 2000 as Ticks, LOOP, timingView)).length;
    expect([erased("grooved"), erased("played")]).toEqual([0, 1]);
  });

  test("a region's lap takes nothing outside of it, a silent pass nothing at all, a double trigger nobody's place", () => {
    const region: LoopSpan = { startTicks: 3840 as Ticks, lengthTicks: 1920 as Ticks };
    const before = recordAll(empty, [at(0, 100), at(0, 3790), at(0, 3900), at(0, 5700), at(0, 5790)]).beat;
    const masked = write(before, startRecording(firstPlace(before), "replace"), { ...at(0, 960), masked: true })!;
    expect(hitsOf(masked.beat)).toHaveLength(6);
    expect(resolveTiming(masked.beat.parts[0]!.patterns[0]!, masked.beat.meter)).toHaveLength(5);
    const { beat } = recordAll(before, [at(0, 480)], "replace", region);
    expect(hitsOf(beat).map(({ played: { ticks } }) => ticks)).toEqual([100, 5700, 5790, 4320]);
    const muted = edits.setPass(before, firstPlace(before), passesOf(before)[0]!.id, { muted: true });
    expect(hitsOf(recordAll(muted, [at(0, 480)], "replace").beat)).toHaveLength(6);
  });
});

describe("takes", () => {
  const empty = newBeat({ id: "b", name: "B" });
  const patternRef = firstPlace(empty);

  test("over random performances every lap is a take of its own and never two sound together", () =>
    fc.assert(
      fc.property(fc.array(stroke, { minLength: 1, maxLength: 30 }), (strokes) => {
        const ordered = strokes.toSorted((a, b) => a.transportTicks - b.transportTicks);
        const { beat, recorded } = recordAll(empty, ordered, "takes");
        const laps = new Set(recorded.map(({ soundsFromLap }) => soundsFromLap));
        expect(passesOf(beat)).toHaveLength(laps.size);
        expect(passesOf(beat).filter(({ muted }) => !muted)).toHaveLength(Math.min(1, laps.size));
        expect(hitsOf(beat)).toHaveLength(recorded.length);
      }),
    ));

  test("stepping, keeping one, keeping another, dropping the rest", () => {
    const { beat } = recordAll(empty, [at(0, 0), at(1, 7680), at(2, 2 * 7680)], "takes");
    const [one, two, three] = passesOf(beat).map(({ id }) => id);
    const open = (of: Beat) =>
      passesOf(of)
        .filter(({ muted }) => !muted)
        .map(({ id }) => id);
    expect(passesOf(beat).map(({ name }) => name)).toEqual(["Take 1", "Take 2", "Take 3"]);
    expect(open(beat)).toEqual([three]);
    const stepped = takes.chooseTake(beat, patternRef, one!);
    expect(open(stepped)).toEqual([one]);
    const kept = takes.keepTake(stepped, patternRef, one!);
    expect(open(takes.chooseTake(kept, patternRef, two!))).toEqual([one, two]);
    expect(passesOf(takes.dropTakes(kept, patternRef, passesOf(beat)[0]!.take!)).map(({ id }) => id)).toEqual([one]);
    const again = recordAll(beat, [at(4, 0)], "takes").beat;
    expect(new Set(passesOf(again).map(({ take }) => take)).size).toBe(2);
  });
});

describe("erase", () => {
  const beat = recordAll(newBeat({ id: "b", name: "B" }), [
    at(0, 0),
    at(0, 960),
    at(0, 970),
    at(1, 960),
    at(0, 7670),
  ]).beat;
  const patternRef = firstPlace(beat);
  const left = (from: number, to: number, pads = [0]) =>
    hitsOf(eraseSpan(beat, patternRef, new Set(pads), from as Ticks, to as Ticks, LOOP, "grooved")).map(
      ({ lane, played: { ticks } }) => [lane, ticks],
    );

  test.each([
    [
      "what is heard goes, with what it covered",
      900,
      1000,
      [0],
      [
        [0, 0],
        [1, 960],
        [0, -10],
      ],
    ],
    [
      "round the loop's end, in a later lap",
      3 * 7680 - 100,
      3 * 7680 + 100,
      [0],
      [
        [0, 960],
        [0, 970],
        [1, 960],
      ],
    ],
    [
      "the end is not part of it",
      0,
      960,
      [0],
      [
        [0, 960],
        [0, 970],
        [1, 960],
      ],
    ],
    ["two pads for a lap and more", 500, 9000, [0, 1], []],
  ])("%s", (_, from, to, pads, expected) => expect(left(from, to, pads)).toEqual(expected));

  test("nothing to erase is no change at all", () => {
    expect(eraseSpan(beat, patternRef, new Set([5]), 0 as Ticks, 7680 as Ticks, LOOP, "grooved")).toBe(beat);
    expect(eraseSpan(beat, patternRef, new Set([0]), 300 as Ticks, 300 as Ticks, LOOP, "grooved")).toBe(beat);
  });

  test("clearing a pad leaves the others, and no empty pass behind", () => {
    const cleared = passEdits.clearPad(passEdits.clearPad(beat, patternRef, 0), patternRef, 1);
    expect(passesOf(cleared)).toEqual([]);
    expect(passEdits.clearPattern(beat, patternRef).parts[0]!.patterns[0]).toMatchObject({ bars: 2, passes: [] });
  });
});

test("merging keeps what is heard, and undoing a solo brings the others back", () => {
  const one = recordAll(newBeat({ id: "b", name: "B" }), [at(0, 50), at(1, 1000)]).beat;
  const two = recordAll(edits.setInputQuantize(one, { grid: "1/4", strength: 0.5 }), [at(2, 500), at(3, 2000)]).beat;
  const patternRef = firstPlace(two);
  const sound = (beat: Beat) =>
    resolveTiming(beat.parts[0]!.patterns[0]!, beat.meter)
      .map(({ hit, ticks }) => [hit.lane, ticks])
      .sort();
  const merged = passEdits.mergePassDown(two, patternRef, passesOf(two)[1]!.id);
  expect([passesOf(merged).length, sound(merged)]).toEqual([1, sound(two)]);
  expect(passEdits.mergePassDown(merged, patternRef, passesOf(merged)[0]!.id)).toEqual(merged);
  const solo = passEdits.soloPass(two, patternRef, passesOf(two)[1]!.id, true);
  expect(sound(solo).map(([pad]) => pad)).toEqual([2, 3]);
  expect(passEdits.soloPass(solo, patternRef, passesOf(two)[1]!.id, false)).toEqual(two);
});
