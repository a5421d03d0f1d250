import type { Beat, Part, PatternRef } from "@/core/beat/beat";
import { addHits, addPass, editPart, findPart, findPattern, setFeel, setHitLength, setPad } from "@/core/beat/edit";
import { lanesOf, padsOf } from "@/core/beat/lanes";
import { firstPlace, newBeat } from "@/core/beat/new-beat";
import { addTonalPart } from "@/core/beat/edits/part-edit";
import type { Ticks } from "@/core/time/ticks";
import { byRow, changedRows } from "./changed-rows";
import { hitLayouter, layoutHits, layoutLines, wholeScale } from "./lane-layout";
import type { ChangedRow, LanePicture } from "./lane-painter";
import { sameLoops } from "./miniature";

const empty = newBeat({ id: "b", name: "B", bpm: 120 });

function strike(beat: Beat, patternRef = firstPlace(beat), lane = 3, ticks = 0, lengthTicks = 60): Beat {
  const passId = findPattern(beat, patternRef).passes.at(-1)!.id;
  return addHits(beat, patternRef, passId, [
    { lane, played: { ticks: ticks as Ticks, velocity: 90 }, lengthTicks: lengthTicks as Ticks },
  ]);
}

/** Another length for the newest hit. */
function lengthen(beat: Beat, patternRef: PatternRef, lengthTicks: number): Beat {
  const { id, hits } = findPattern(beat, patternRef).passes.at(-1)!;
  return setHitLength(beat, patternRef, id, hits.at(-1)!.id, lengthTicks as Ticks);
}

function withPass(beat: Beat, patternRef = firstPlace(beat)): Beat {
  return addPass(beat, patternRef, { name: "P", muted: false, quantize: beat.inputQuantize }).beat;
}

function pictureOf(beat: Beat, more: Partial<LanePicture> = {}): LanePicture {
  const patternRef = firstPlace(beat);
  const pattern = findPattern(beat, patternRef);
  const scale = wholeScale(pattern, beat.meter, 400);
  const lanes = lanesOf(findPart(beat, patternRef.partId)).map(({ id }) => id);
  return {
    lines: layoutLines(beat, pattern, scale),
    lanes,
    hits: byRow(layoutHits(beat, lanesOf(findPart(beat, patternRef.partId)), pattern, scale), lanes),
    masked: lanes.map(() => []),
    silent: new Set(),
    widthPx: 400,
    heightPx: 300,
    ...more,
  };
}

const rowsOf = (...pictures: Parameters<typeof changedRows>) => changedRows(...pictures)?.map(({ row }) => row);

test("a stroke changes the row of its lane, a mute that of the pad, what moves the lines or the size all of it", () => {
  const one = strike(withPass(empty));
  const before = pictureOf(one);
  expect(rowsOf(before, pictureOf(one))).toEqual([]);
  expect(rowsOf(before, pictureOf(strike(one, undefined, 7, 960)))).toEqual([7]);
  // Around it, and no more of the row: 960 of 7680 ticks, on 372 of 400 pixels.
  const [{ fromX, toX }] = changedRows(before, pictureOf(strike(one, undefined, 3, 960)))! as [ChangedRow];
  expect([fromX, toX]).toEqual([60.5, 60.5]);
  // The quieter of two on a line becomes hollow, and nothing else.
  expect(rowsOf(before, pictureOf(strike(one, undefined, 3, 10)))).toEqual([3]);
  expect(rowsOf(before, pictureOf(one, { silent: new Set([5]) }))).toEqual([5]);
  expect(
    rowsOf(
      before,
      pictureOf(one, { masked: before.lanes.map((lane) => (lane === 2 ? [{ id: 9, lane: 2, x: 40 }] : [])) }),
    ),
  ).toEqual([2]);
  // Crosses that lie close depend on each other: a part of a row would be painted with half of one.
  const crossed = { masked: before.lanes.map((lane) => (lane === 7 ? [{ id: 9, lane: 7, x: 58 }] : [])) };
  expect(changedRows(pictureOf(one, crossed), pictureOf(strike(one, undefined, 7, 960), crossed))).toEqual([
    { row: 7, fromX: -Infinity, toX: Infinity },
  ]);
  expect(
    rowsOf(before, pictureOf(setFeel(one, firstPlace(one), { swing: { ratio: 0.6, unit: "1/16" } }))),
  ).toBeUndefined();
  expect(rowsOf(before, pictureOf(one, { heightPx: 301 }))).toBeUndefined();
  // A second pass fades the first one.
  expect(rowsOf(before, pictureOf(strike(withPass(one), undefined, 0, 480)))).toEqual([0, 3]);
});

test("hits that look as before keep their marks, and where none has changed the list is the same one", () => {
  const layout = hitLayouter();
  const { beat, partId } = addTonalPart(withPass(empty), "cabin");
  const lay = (now: Beat, patternRef = firstPlace(now)) => {
    const pattern = findPattern(now, patternRef);
    const part = findPart(now, patternRef.partId);
    const asked = [now, lanesOf(part), pattern, wholeScale(pattern, now.meter, 400)] as const;
    const marks = layout(...asked);
    expect(marks).toEqual(layoutHits(...asked));
    return marks;
  };
  const kit = [0, 480, 960].reduce((now, ticks) => strike(now, firstPlace(now), 3, ticks), beat);
  const [a, b] = [lay(kit), lay(strike(kit, undefined, 4, 960))];
  expect(b.slice(0, 3).map((mark, at) => mark === a[at])).toEqual([true, true, true]);
  // How long a drum was held is not seen; of a note it is, also where it goes on at the loop's start.
  const before = lay(kit);
  expect(lay(lengthen(kit, firstPlace(kit), 300))).toBe(before);
  const keys = { partId, patternId: findPart(beat, partId).patterns[0]!.id };
  const note = strike(withPass(beat, keys), keys, 60, 7200, 300);
  expect(lay(note, keys)).toHaveLength(1);
  expect(lay(lengthen(note, keys, 900), keys)).toHaveLength(2);
});

test("a small picture is drawn anew for hits, and not for a mute or a level", () => {
  const beat = strike(withPass(empty));
  const loopsOf = (now: Beat) => [{ part: now.parts[0]!, pattern: now.parts[0]!.patterns[0]! }];
  const same = (now: Beat) => sameLoops({ beat, loops: loopsOf(beat) }, { beat: now, loops: loopsOf(now) });
  const { partId } = firstPlace(beat);
  expect(same(setPad(beat, partId, 3, { muted: true }))).toBe(true);
  expect(same(strike(beat, undefined, 3, 960))).toBe(false);
  const otherPad = editPart(
    beat,
    partId,
    (part) => ({ ...part, pads: padsOf(part).map((pad) => ({ ...pad, family: "tom" })) }) as Part,
  );
  expect(same(otherPad)).toBe(false);
});
