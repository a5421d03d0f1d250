import type { Ticks } from "../time/ticks";
import { addHits, addPass, setBars, setPart, setTempo } from "./edit";
import { firstPlace, newBeat } from "./new-beat";
import { addKitPart } from "./edits/part-edit";
import { removeHits } from "./edits/pass-edit";
import { addPattern } from "./edits/pattern-edit";
import { whereChanged } from "./where-changed";

const BEAT = newBeat({ id: "b", name: "B" });
const PLACE = firstPlace(BEAT);
const made = addPass(BEAT, PLACE, { name: "P", muted: false, quantize: BEAT.inputQuantize });
const hit = (ticks: number) => ({ lane: 1, played: { ticks: ticks as Ticks, velocity: 90 }, lengthTicks: 60 as Ticks });
const FULL = addHits(made.beat, PLACE, made.passId, [hit(480), hit(2880), hit(1920)]);
const [FIRST, SECOND, THIRD] = FULL.parts[0]!.patterns[0]!.passes[0]!.hits.map(({ id }) => id);

test("hits that came, went or changed, and the first place of them; nothing else", () => {
  const fewer = removeHits(FULL, PLACE, ({ id }) => id === SECOND || id === THIRD);
  expect(whereChanged(fewer, FULL, PLACE)).toEqual({ ...PLACE, ticks: 1920, hitIds: [SECOND, THIRD] });
  expect(whereChanged(FULL, fewer, PLACE)).toEqual({ ...PLACE, ticks: 1920, hitIds: [] });
  expect(whereChanged(BEAT, FULL, PLACE)).toEqual({ ...PLACE, ticks: 480, hitIds: [FIRST, SECOND, THIRD] });
});

test("a part is a place, too; the beat as a whole is none", () => {
  expect(whereChanged(FULL, setPart(FULL, PLACE.partId, { muted: true }), PLACE)).toEqual({
    partId: PLACE.partId,
    hitIds: [],
  });
  expect(whereChanged(FULL, setTempo(FULL, 90), PLACE)).toBeUndefined();
  const { beat, patternRef } = addPattern(FULL, PLACE);
  expect(whereChanged(FULL, beat, PLACE)).toEqual({ ...patternRef, hitIds: [] });
  const two = addKitPart(FULL);
  expect(whereChanged(FULL, two.beat, PLACE)).toMatchObject({ partId: two.partId });
  expect(whereChanged(two.beat, FULL, PLACE)).toBeUndefined();
});

test("where it happened in several patterns, the open one is meant", () => {
  const { beat, patternRef } = addPattern(FULL, PLACE);
  const both = [PLACE, patternRef].reduce((now, one) => setBars(now, one, 4), beat);
  expect(whereChanged(beat, both, patternRef)).toMatchObject(patternRef);
  expect(whereChanged(beat, both, PLACE)).toMatchObject(PLACE);
});
