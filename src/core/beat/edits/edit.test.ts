import { readBeatFile, writeBeatFile } from "../../formats/beat-file";
import type { Ticks } from "../../time/ticks";
import type { Beat, Hit } from "../beat";
import { compactIds } from "./compact-ids";
import * as edits from "../edit";
import { nearlyFull, tooFull } from "../samples/fullness";
import { keptHitCount, newPasses, putBack, unsettled } from "./kept-pass";
import { firstPlace, newBeat } from "../new-beat";
import { addKitPart } from "./part-edit";
import * as passEdits from "./pass-edit";
import * as patternEdits from "./pattern-edit";
import { quantizeOf, setQuantize } from "./quantize-edit";
import { changeQuantize, sameQuantize } from "../quantize-settings";
import { chooseTake, dropTakes, keepTake, stepTake, takesOf } from "./takes";

const empty = newBeat({ id: "b", name: "B", bars: 3 });
const patternRef = firstPlace(empty);
const EIGHTHS = { grid: "1/8", strength: 0.5, reach: 1 } as const;

/** A pass of hits on these pads, one every beat. */
function withPass(beat: Beat, pads: readonly number[], more: Partial<edits.NewPass> = {}, at = patternRef) {
  const added = edits.addPass(beat, at, { name: "P", muted: false, quantize: beat.inputQuantize, ...more });
  const hits = pads.map((pad, index) => ({
    lane: pad,
    played: { ticks: (index * 960 + 5) as Ticks, velocity: 60 + index },
    lengthTicks: 60 as Ticks,
  }));
  return edits.addHits(added.beat, at, added.passId, hits);
}

const passesOf = (beat: Beat, at = patternRef) => edits.findPattern(beat, at).passes;
const hitsOf = (beat: Beat) => passesOf(beat).flatMap(({ hits }) => hits);
const changed = (hit: Hit, change: Partial<Hit>): Hit => edits.numberHit({ ...hit, ...change }, hit.id);

describe("the document's edits", () => {
  test("unknown ids and impossible lengths are refused by name", () => {
    expect(() => edits.findPattern(empty, { partId: 1, patternId: 99 })).toThrow("There is no pattern 99 here.");
    expect(() => edits.removePass(empty, { partId: 9, patternId: 2 }, 1)).toThrow("There is no part 9 here.");
    expect(() => edits.setPass(empty, patternRef, 77, {})).toThrow("There is no pass 77 here.");
    expect(() => edits.setPad(empty, 1, 16, { muted: true })).toThrow("There is no pad 16 here.");
    for (const bars of [0, 2001, 1.5])
      expect(() => edits.setBars(empty, patternRef, bars)).toThrow(`A loop has 1 to 2000 bars, got ${bars}.`);
    expect(edits.findPattern(edits.setBars(empty, patternRef, 2000), patternRef).bars).toBe(2000);
  });

  test("what changes nothing is the same beat; names are trimmed and cut", () => {
    expect(edits.renameBeat(empty, "   ")).toBe(empty);
    expect(edits.renameBeat(empty, " B ")).toBe(empty);
    expect(edits.renameBeat(empty, ` ${"x".repeat(130)} `).name).toBe("x".repeat(120));
    expect(edits.setTempo(empty, empty.bpm)).toBe(empty);
    expect(edits.setMeter(empty, { beats: 4, unit: 4 })).toBe(empty);
    expect(edits.setMeter(empty, { beats: 7, unit: 8 }).meter).toEqual({ beats: 7, unit: 8 });
    const beat = withPass(empty, [0]);
    expect(edits.setTempo(beat, 61)).toEqual({ ...beat, bpm: 61 });
    const [pass] = passesOf(beat);
    expect(passEdits.renamePass(beat, patternRef, pass!.id, " ")).toBe(beat);
    expect(passesOf(passEdits.renamePass(beat, patternRef, pass!.id, ` ${"y".repeat(121)}`))[0]!.name).toBe(
      "y".repeat(120),
    );
  });

  test("a part of the feel is set, and goes where it is given as undefined", () => {
    const swing = { ratio: 0.6, unit: "1/8" } as const;
    const swung = edits.setFeel(empty, patternRef, { swing, padAmounts: { 1: 0.5 } });
    expect(edits.findPattern(swung, patternRef)).toMatchObject({ swing, padAmounts: { 1: 0.5 } });
    const less = edits.findPattern(edits.setFeel(swung, patternRef, { swing: undefined }), patternRef);
    expect([Object.hasOwn(less, "swing"), less.padAmounts]).toEqual([false, { 1: 0.5 }]);
  });

  test("a hit that is let go has its length, the newest of that id, and its sound ends only where it was choked", () => {
    const beat = withPass(empty, [0, 1]);
    const [pass] = passesOf(beat);
    const [first, second] = pass!.hits;
    const ended = edits.setHitLength(beat, patternRef, pass!.id, first!.id, 333 as Ticks);
    expect(hitsOf(ended)).toEqual([{ ...first, lengthTicks: 333 }, second]);
    const choked = edits.setHitLength(beat, patternRef, pass!.id, second!.id, 50 as Ticks, true);
    expect(hitsOf(choked)).toEqual([first, { ...second, lengthTicks: 50, choked: true }]);
    expect(edits.setHitLength(beat, patternRef, pass!.id, 999, 1 as Ticks)).toEqual(beat);
  });
});

describe("quantize of what was recorded", () => {
  const beat = withPass(withPass(empty, [0, 1], { quantize: EIGHTHS }), [1, 2]);
  const [below, above] = passesOf(beat);
  const grids = (after: Beat) =>
    passesOf(after).map(({ quantize, hits }) => [quantize.grid, ...hits.map((hit) => hit.quantize?.grid)]);

  test.each([
    [
      "everything",
      { kind: "all" },
      [
        ["1/4", undefined, undefined],
        ["1/4", undefined, undefined],
      ],
    ],
    [
      "one pass",
      { kind: "pass", passId: below!.id },
      [
        ["1/4", undefined, undefined],
        ["1/16", undefined, undefined],
      ],
    ],
    [
      "one pad",
      { kind: "pad", pad: 1 },
      [
        ["1/8", undefined, "1/4"],
        ["1/16", "1/4", undefined],
      ],
    ],
    [
      "hits",
      { kind: "hits", ids: new Set([above!.hits[1]!.id]) },
      [
        ["1/8", undefined, undefined],
        ["1/16", undefined, "1/4"],
      ],
    ],
  ] as const)("%s", (_, scope, expected) => {
    const after = setQuantize(beat, patternRef, scope, { grid: "1/4" });
    expect(grids(after)).toEqual(expected);
    expect(quantizeOf(passesOf(after), scope)!.grid).toBe("1/4");
    expect(hitsOf(after).map(({ played: { ticks } }) => ticks)).toEqual(
      hitsOf(beat).map(({ played: { ticks } }) => ticks),
    );
  });

  test("single hits keep the rest of their own settings; of a scope those of the newest count", () => {
    const own = setQuantize(beat, patternRef, { kind: "pad", pad: 1 }, { grid: "1/4" });
    expect(passesOf(own)[0]!.hits[1]!.quantize).toEqual({ ...EIGHTHS, grid: "1/4" });
    const again = setQuantize(own, patternRef, { kind: "pad", pad: 1 }, { reach: 0.3 });
    expect(passesOf(again)[0]!.hits[1]!.quantize).toEqual({ ...EIGHTHS, grid: "1/4", reach: 0.3 });
    expect(quantizeOf(passesOf(beat), { kind: "all" })).toBe(above!.quantize);
    expect(quantizeOf(passesOf(beat), { kind: "pass", passId: below!.id })).toBe(below!.quantize);
    expect(quantizeOf(passesOf(beat), { kind: "pad", pad: 0 })).toBe(below!.quantize);
    expect(quantizeOf(passesOf(beat), { kind: "pad", pad: 9 })).toBeUndefined();
    expect(quantizeOf(passesOf(beat), { kind: "pass", passId: 99 })).toBeUndefined();
  });

  test("settings are the same only where all of them are; an empty mix, and a mix without a grid, is none", () => {
    const full = { grid: "1/16", strength: 1, reach: 0.5, mix: ["1/8T", "1/4"], adaptive: true, ends: "grid" } as const;
    expect(sameQuantize(full, { ...full, mix: ["1/8T", "1/4"] })).toBe(true);
    for (const other of [
      { ...full, grid: "1/8" },
      { ...full, strength: 0.9 },
      { ...full, reach: 1 },
      { ...full, mix: ["1/4", "1/8T"] },
      { ...full, ends: "played" },
      changeQuantize(full, { adaptive: undefined }),
      changeQuantize(full, { mix: undefined }),
    ] as const)
      expect(sameQuantize(full, other)).toBe(false);
    expect(changeQuantize(full, { mix: [] })).toEqual({ grid: "1/16", strength: 1, reach: 0.5, ends: "grid" });
    expect(changeQuantize(full, { grid: "off" })).toEqual({ grid: "off", strength: 1, reach: 0.5, ends: "grid" });
    expect(changeQuantize(full, { ends: undefined })).toEqual({ ...changeQuantize(full, {}), ends: undefined });
    expect(Object.hasOwn(changeQuantize(full, { ends: undefined }), "ends")).toBe(false);
  });
});

describe("passes", () => {
  const beat = withPass(withPass(empty, [0, 1], { name: "Low", quantize: EIGHTHS }), [1, 2], { name: "High" });
  const [low, high] = passesOf(beat);

  test("a merged pass keeps what is heard: other settings go along with the hits, same ones do not, and echoes add up", () => {
    const marked = edits.setPass(
      edits.setPass(beat, patternRef, low!.id, { echoes: [{ fromMs: 1, toMs: 2 }] }),
      patternRef,
      high!.id,
      {
        echoes: [{ fromMs: 5, toMs: 6 }],
      },
    );
    const [merged, ...rest] = passesOf(passEdits.mergePassDown(marked, patternRef, high!.id));
    expect(rest).toEqual([]);
    expect(merged).toMatchObject({ id: low!.id, name: "Low", quantize: EIGHTHS });
    expect(merged!.echoes).toEqual([
      { fromMs: 1, toMs: 2 },
      { fromMs: 5, toMs: 6 },
    ]);
    expect(merged!.hits).toEqual([
      ...low!.hits,
      ...high!.hits.map((hit) => changed(hit, { quantize: high!.quantize })),
    ]);
    const alike = setQuantize(beat, patternRef, { kind: "all" }, EIGHTHS);
    expect(hitsOf(passEdits.mergePassDown(alike, patternRef, high!.id))).toEqual([...low!.hits, ...high!.hits]);
    expect(Object.hasOwn(passesOf(passEdits.mergePassDown(beat, patternRef, high!.id))[0]!, "echoes")).toBe(false);
    expect(passEdits.mergePassDown(beat, patternRef, low!.id)).toEqual(beat);
  });

  test("double triggers are let through, pads and patterns cleared, and only what lost its last hit goes", () => {
    const masked = setMasked(beat);
    expect(hitsOf(masked).filter((hit) => hit.masked)).toHaveLength(2);
    expect(passEdits.unmaskPass(masked, patternRef, high!.id)).toEqual(beat);
    const left = passesOf(passEdits.clearPad(beat, patternRef, 1));
    expect(left.map(({ hits }) => hits.map(({ lane }) => lane))).toEqual([[0], [2]]);
    expect(passEdits.clearPad(beat, patternRef, 9)).toBe(beat);
    const all = (hit: Hit) => hit.lane <= 2;
    expect(passesOf(passEdits.removeHits(beat, patternRef, all))).toEqual([]);
    expect(passesOf(passEdits.removeHits(beat, patternRef, all, high!.id))).toEqual([{ ...high, hits: [] }]);
    const waiting = edits.addPass(beat, patternRef, { name: "Open", muted: false, quantize: EIGHTHS });
    expect(passesOf(passEdits.clearPad(waiting.beat, patternRef, 0)).map(({ name }) => name)).toEqual([
      "Low",
      "High",
      "Open",
    ]);
    expect(passesOf(passEdits.clearPattern(beat, patternRef))).toEqual([]);
    const cleared = edits.findPattern(empty, patternRef);
    expect(edits.findPattern(passEdits.clearPattern(empty, patternRef), patternRef)).toBe(cleared);

    function setMasked(from: Beat): Beat {
      return edits.editPass(from, patternRef, high!.id, (pass) => ({
        ...pass,
        hits: pass.hits.map((hit) => changed(hit, { masked: true })),
      }));
    }
  });
});

describe("takes", () => {
  const three = [0, 1, 2].reduce(
    (beat, pad) => withPass(beat, [pad], { name: `Take ${pad + 1}`, take: 50 }),
    withPass({ ...empty, nextId: 60 }, [5]),
  );
  const [plain, ...takes] = passesOf(three);
  const sounding = (beat: Beat) =>
    passesOf(beat)
      .filter(({ muted }) => !muted)
      .map(({ name }) => name);

  test("one of a group sounds; what is no take is left alone; stepping goes round", () => {
    const first = chooseTake(three, patternRef, takes[0]!.id);
    expect(sounding(first)).toEqual(["P", "Take 1"]);
    expect(chooseTake(three, patternRef, plain!.id)).toEqual(three);
    expect(sounding(stepTake(first, patternRef, 1))).toEqual(["P", "Take 2"]);
    expect(sounding(stepTake(first, patternRef, -1))).toEqual(["P", "Take 3"]);
    expect(sounding(stepTake(stepTake(first, patternRef, -1), patternRef, 1))).toEqual(["P", "Take 1"]);
    const none = takes.reduce((beat, { id }) => edits.setPass(beat, patternRef, id, { muted: true }), three);
    expect(sounding(stepTake(none, patternRef, 1))).toEqual(["P", "Take 3"]);
    expect(stepTake(empty, patternRef, 1)).toBe(empty);
    // The newest group is the one that is stepped through.
    const newer = withPass(withPass(first, [7], { name: "New 1", take: 90 }), [8], {
      name: "New 2",
      take: 90,
      muted: true,
    });
    expect(sounding(stepTake(newer, patternRef, 1))).toEqual(["P", "Take 1", "New 2"]);
  });

  test("a take that is kept is a pass like any other, and the rest can go", () => {
    const kept = keepTake(chooseTake(three, patternRef, takes[0]!.id), patternRef, takes[1]!.id);
    expect(sounding(kept)).toEqual(["P", "Take 1", "Take 2"]);
    expect(takesOf(edits.findPattern(kept, patternRef), 50).map(({ name }) => name)).toEqual(["Take 1", "Take 3"]);
    expect(passesOf(dropTakes(kept, patternRef, 50)).map(({ name }) => name)).toEqual(["P", "Take 2"]);
  });
});

describe("patterns", () => {
  const beat = [0, 1].reduce((from, pad) => withPass(from, [pad], { take: 40 }), { ...empty, nextId: 60 });

  test("a new one has the length, a copy has ids of its own, and both leave the first alone", () => {
    const swung = edits.setFeel(beat, patternRef, { swing: { ratio: 0.6, unit: "1/8" } });
    const added = patternEdits.addPattern(swung, patternRef);
    expect(edits.findPattern(added.beat, added.patternRef)).toEqual({
      id: added.patternRef.patternId,
      name: "Pattern 2",
      bars: 3,
      swing: { ratio: 0.6, unit: "1/8" },
      passes: [],
    });
    expect(patternEdits.nextEmptyPattern(added.beat, patternRef)).toEqual(added.patternRef);
    expect(patternEdits.nextEmptyPattern(added.beat, added.patternRef)).toBeUndefined();
    const copied = patternEdits.duplicatePattern(added.beat, patternRef);
    expect(readBeatFile(writeBeatFile(copied.beat))).toEqual(copied.beat);
    const [first, , copy] = copied.beat.parts[0]!.patterns;
    expect(copy!.name).toBe("Pattern 3");
    expect(copy!.passes.map(({ hits }) => hits.length)).toEqual([1, 1]);
    expect(new Set(copy!.passes.map(({ take }) => take))).toEqual(new Set([copy!.passes[0]!.id]));
    expect(first).toEqual(edits.findPattern(swung, patternRef));
    expect(patternEdits.nextEmptyPattern(withPass(added.beat, [], {}, added.patternRef), patternRef)).toEqual(
      added.patternRef,
    );
  });

  test("a copy goes back to points of its own: starts by the ids that its hits have, without those of hits that are gone", () => {
    const [hit] = hitsOf(beat);
    const start = { ticks: 7 as Ticks, velocity: 70, by: "keep" as const };
    const pointed = edits.editPattern({ ...beat, nextId: 71 }, patternRef, (pattern) => ({
      ...pattern,
      points: [{ id: 70, name: "Kept 1", starts: { [hit!.id]: start, 3: start } }],
    }));
    const copied = patternEdits.duplicatePattern(pointed, patternRef);
    const copy = edits.findPattern(copied.beat, copied.patternRef);
    expect(copy.points).toEqual([
      { id: expect.any(Number), name: "Kept 1", starts: { [copy.passes[0]!.hits[0]!.id]: start } },
    ]);
    expect(copy.points![0]!.id).toBeGreaterThan(70);
    const bare = patternEdits.addPattern(pointed, patternRef);
    expect(Object.hasOwn(edits.findPattern(bare.beat, bare.patternRef), "points")).toBe(false);
  });

  test("sixteen places and no more; the last pattern stays; a place that is gone leads to one that is there", () => {
    let full = beat;
    for (let index = 1; index < 16; index++) full = patternEdits.addPattern(full, patternRef).beat;
    expect(() => patternEdits.addPattern(full, patternRef)).toThrow(/All 16 pattern places are taken/);
    expect(patternEdits.removePattern(beat, patternRef)).toEqual(beat);
    const added = patternEdits.addPattern(beat, patternRef);
    expect(patternEdits.removePattern(added.beat, added.patternRef).parts).toEqual(beat.parts);
    expect(patternEdits.existingPlace(beat, added.patternRef)).toEqual(patternRef);
    expect(patternEdits.existingPlace(added.beat, added.patternRef)).toBe(added.patternRef);
    expect(patternEdits.existingPlace(added.beat, { partId: 1, patternId: 999 })).toEqual(added.patternRef);
    expect(patternEdits.existingPlace(added.beat, { partId: 9, patternId: 2 })).toEqual(patternRef);
  });
});

describe("passes that were kept beside the beat", () => {
  const before = withPass(empty, [0]);
  const after = withPass(withPass(before, [1, 2]), []);

  test("new are those with hits that the state before has not", () => {
    const fresh = newPasses(after, before);
    expect(fresh.map(({ pass, place: home }) => [pass.hits.length, home])).toEqual([[2, patternRef]]);
    expect(Object.keys(fresh[0]!.pattern).sort()).toEqual(["bars", "id", "name"]);
    expect(keptHitCount(fresh)).toBe(2);
    expect(newPasses(after, after)).toEqual([]);
    expect(newPasses(after, { ...before, parts: [] })).toHaveLength(2);
  });

  test("they come back with ids of their own; a pattern that is gone comes back for all of them; unknown pads stay out", () => {
    const [kept] = newPasses(after, before);
    const back = putBack(before, [kept!]);
    expect(passesOf(back).map(({ hits }) => hits.map(({ lane }) => lane))).toEqual([[0], [1, 2]]);
    expect(passesOf(back)[1]!.id).toBe(before.nextId);
    const lost = { ...kept!, place: { partId: 1, patternId: 900 }, pattern: { id: 900, name: "Gone", bars: 5 } };
    const strange = { ...lost, pass: { ...lost.pass, hits: [...lost.pass.hits, { ...lost.pass.hits[0]!, lane: 99 }] } };
    const both = putBack(before, [lost, strange]);
    expect(
      both.parts[0]!.patterns.map(({ name, bars, passes }) => [name, bars, passes.map(({ hits }) => hits.length)]),
    ).toEqual([
      ["Pattern 1", 3, [1]],
      ["Gone", 5, [2, 2]],
    ]);
    expect(readBeatFile(writeBeatFile(both))).toEqual(both);
    const elsewhere = putBack(before, [{ ...kept!, place: { partId: 77, patternId: 2 } }]);
    expect(passesOf(elsewhere)).toHaveLength(2);
    // A take sounds alone in its group, whose number nobody else gets.
    const take = putBack(before, [{ ...kept!, pass: { ...kept!.pass, take: 500, muted: true } }]);
    expect([take.nextId > 500, passesOf(take)[1]!.muted]).toEqual([true, false]);
  });

  test("what the beat has got is not offered again, and ids go on after the rest", () => {
    const kept = newPasses(after, before);
    expect(unsettled(after, kept)).toEqual({ beat: after, passes: [] });
    const far = [{ ...kept[0]!, pass: { ...kept[0]!.pass, id: 800 } }];
    expect(unsettled(after, far)).toEqual({ beat: { ...after, nextId: 801 }, passes: far });
    const near = [{ ...kept[0]!, pass: { ...kept[0]!.pass, id: before.nextId } }];
    expect(unsettled(before, near).beat.nextId).toBe(before.nextId + 1);
  });
});

test("very large ids are made small in their order, with everything that points at them; small ones stay", () => {
  const beat = withPass(withPass(empty, [0, 1], { take: 2_000_000 }), [2]);
  expect(compactIds(beat)).toBe(beat);
  const [first] = hitsOf(beat);
  const start = { ticks: 1 as Ticks, velocity: 9, by: "hand" as const };
  const large = edits.editPattern({ ...beat, nextId: 3_000_000 }, patternRef, (pattern) => ({
    ...pattern,
    points: [{ id: 2_500_000, name: "K", starts: { [first!.id]: start, 999: start } }],
  }));
  const two = addKitPart(large);
  const along = compactIds(edits.setPart(two.beat, patternRef.partId, { alsoPlays: two.partId }));
  expect(along.parts[0]!.alsoPlays).toBe(along.parts[1]!.id);
  const small = compactIds(large);
  const pattern = small.parts[0]!.patterns[0]!;
  const ids = [
    small.parts[0]!.id,
    pattern.id,
    ...pattern.passes.flatMap(({ id, hits }) => [id, ...hits.map((hit) => hit.id)]),
  ];
  expect(ids).toEqual([1, 2, 3, 4, 5, 6, 7]);
  expect([pattern.passes[0]!.take, pattern.points![0]!.id, small.nextId]).toEqual([8, 9, 10]);
  expect(pattern.points![0]!.starts).toEqual({ 4: start });
  expect(hitsOf(small).map(({ lane }) => lane)).toEqual([0, 1, 2]);
});

test("a beat says that it is nearly full when it becomes so, and no more fits when it is; what was fuller may shrink", () => {
  const hit = hitsOf(withPass(empty, [0]))[0]!;
  const holding = (hits: number, passes = 1) => {
    const one = { ...passesOf(withPass(empty, []))[0]!, hits: [] as Hit[] };
    const all = Array.from({ length: passes }, () => one);
    return edits.editPattern(empty, patternRef, (pattern) => ({
      ...pattern,
      passes: all.with(0, { ...one, hits: Array<Hit>(hits).fill(hit) }),
    }));
  };
  expect(tooFull(holding(99_999), holding(100_000))).toBeUndefined();
  expect(tooFull(holding(99_999), holding(100_001))).toBe("A beat holds 100,000 hits at the most; nothing was added.");
  expect(tooFull(holding(100_002), holding(100_001))).toBeUndefined();
  expect(tooFull(holding(1, 10_000), holding(1, 10_001))).toBe(
    "A beat holds 10,000 passes at the most; nothing was added.",
  );
  expect(nearlyFull(holding(79_998), holding(79_999))).toBeUndefined();
  expect(nearlyFull(holding(79_999), holding(80_000))).toBe("This beat has 80,000 hits; 100,000 are the most.");
  expect(nearlyFull(holding(80_000), holding(80_001))).toBeUndefined();
  expect(nearlyFull(holding(1, 7_999), holding(1, 8_000))).toBe("This beat has 8,000 passes; 10,000 are the most.");
});
