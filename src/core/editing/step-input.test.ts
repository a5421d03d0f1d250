import { euclid } from "@tonaljs/rhythm-pattern";
import type { Beat } from "../beat/beat";
import { findPattern, setFeel, setInputQuantize } from "../beat/edit";
import { firstPlace, newBeat } from "../beat/new-beat";
import type { GridName } from "../time/grid";
import type { Ticks } from "../time/ticks";
import { BUILT_IN_GROOVES } from "../timing/built-in-grooves";
import { resolveTiming } from "../timing/resolve-timing";
import { enterStep, goOn, stepBack, tieStep, type StepSettings } from "./step-input";

const empty = newBeat({ id: "s", name: "Steps", bars: 1 });
const patternRef = firstPlace(empty);
const OVER: StepSettings = { insert: "off", atEnd: "wrap", lengthTicks: "line" };
const on = (grid: GridName) => setInputQuantize(empty, { grid });
const hits = (beat: Beat) =>
  resolveTiming(findPattern(beat, patternRef), beat.meter)
    .filter(({ duplicateOnLine }) => !duplicateOnLine)
    .map(({ hit, ticks }) => [hit.lane, ticks] as const)
    .sort((a, b) => a[1] - b[1] || a[0] - b[0]);
const ticks = (beat: Beat) => hits(beat).map(([, at]) => at);

/** Types a row: x is a stroke, anything else a rest. */
function type(beat: Beat, row: string, lane: number, settings = OVER, from = 0 as Ticks) {
  let [now, at] = [beat, from];
  for (const step of row) {
    const next =
      step === "x"
        ? enterStep(now, patternRef, at, [{ lane, velocity: 100 }], settings)
        : goOn(now, patternRef, at, settings.atEnd);
    [now, at] = [next.beat, next.next];
  }
  return { beat: now, at };
}

const onsets = (row: string, step: number) => [...row].flatMap((char, index) => (char === "x" ? [index * step] : []));

// Timelines in sixteen steps: Toussaint, The Geometry of Musical Rhythm, 2013 (from memory).
test.each([
  ["shiko", "x...x.x...x.x..."],
  ["son", "x..x..x...x.x..."],
  ["soukous", "x..x..x...xx...."],
  ["rumba", "x..x...x..x.x..."],
  ["bossa-nova", "x..x..x...x..x.."],
  ["gahu", "x..x..x...x...x."],
])("the timeline %s stands on its sixteenths, and comes round to where it began", (_, row) => {
  const { beat, at } = type(on("1/16"), row, 3);
  expect(ticks(beat)).toEqual(onsets(row, 240));
  expect(at).toBe(0);
});

// E(5,12) of Toussaint, The Euclidean algorithm generates traditional musical rhythms, 2005; another program makes it here.
test("a Euclidean rhythm stands on its triplets, and on the lines of a groove where that puts them", () => {
  const row = euclid(12, 5)
    .map((stroke) => (stroke ? "x" : "."))
    .join("");
  expect("x..x.x..x.x.x..x.x..x.x.").toContain(row);
  expect(ticks(type(on("1/8T"), row, 3).beat)).toEqual(onsets(row, 320));
  const groove = BUILT_IN_GROOVES.find(({ grid, bars }) => grid === "1/16" && bars === 1)!;
  const grooved = setFeel(on("groove"), patternRef, { groove: { groove, timing: 1, velocity: 0 } });
  const full = ticks(type(grooved, "xxxxxxxxxxxxxxxx", 3).beat);
  const expected = groove.lines.slice(0, 16).map(({ offsetTicks }, line) => line * 240 + offsetTicks);
  expect(full).toHaveLength(16);
  full.forEach((at, line) => expect(at).toBeCloseTo(expected[line]!, 6));
});

test("a mix is walked on all its lines; backwards, too, round the loop's start", () => {
  const mixed = setInputQuantize(empty, { grid: "1/4", mix: ["1/4T"] });
  expect(ticks(type(mixed, "xxxx", 0).beat)).toEqual([0, 640, 960, 1280]);
  expect(stepBack(mixed, patternRef, 960 as Ticks)).toBe(640);
  expect(stepBack(mixed, patternRef, 0 as Ticks)).toBe(3200);
});

test("a step takes the place of what its lane has there, and of nothing else", () => {
  const { beat } = type(on("1/8"), "xx", 2);
  const again = enterStep(
    beat,
    patternRef,
    480 as Ticks,
    [
      { lane: 2, velocity: 30 },
      { lane: 0, velocity: 90 },
    ],
    OVER,
  );
  expect(hits(again.beat)).toEqual([
    [2, 0],
    [0, 480],
    [2, 480],
  ]);
  const [soft] = resolveTiming(findPattern(again.beat, patternRef), again.beat.meter).filter(
    ({ hit }) => hit.id === again.ids[0],
  );
  expect(soft).toMatchObject({ velocity: 30, duplicateOnLine: false, lengthTicks: 480 });
});

test("insert pushes what follows by a line: in the lane that is struck, or everywhere", () => {
  const two = type(type(on("1/4"), "xx.x", 2).beat, "x...", 0).beat;
  const insert = (settings: StepSettings, at = 960) =>
    hits(enterStep(two, patternRef, at as Ticks, [{ lane: 2, velocity: 100 }], settings).beat);
  expect(insert({ ...OVER, insert: "lane" })).toEqual([
    // The last one went round, onto the first, and only one of them is heard.
    [0, 0],
    [2, 0],
    [2, 960],
    [2, 1920],
  ]);
  expect(insert({ ...OVER, insert: "lane", atEnd: "stop" })).toEqual([
    [0, 0],
    [2, 0],
    [2, 960],
    [2, 1920],
  ]);
  const longer = enterStep(two, patternRef, 0 as Ticks, [{ lane: 2, velocity: 9 }], {
    ...OVER,
    insert: "all",
    atEnd: "extend",
  });
  expect(findPattern(longer.beat, patternRef).bars).toBe(2);
  expect(hits(longer.beat)).toEqual([
    [2, 0],
    [0, 960],
    [2, 960],
    [2, 1920],
    [2, 3840],
  ]);
});

test("behind the last line writing goes round, goes on in a new bar, or stops", () => {
  expect(type(on("1/4"), "xxxxx", 2).at).toBe(960);
  const longer = type(on("1/4"), "xxxxx", 2, { ...OVER, atEnd: "extend" });
  expect(findPattern(longer.beat, patternRef).bars).toBe(2);
  expect(ticks(longer.beat)).toEqual([0, 960, 1920, 2880, 3840]);
  const stopped = type(on("1/4"), "xxxxx", 2, { ...OVER, atEnd: "stop" });
  expect(stopped.at).toBe(3840);
  expect(ticks(stopped.beat)).toEqual([0, 960, 1920, 2880]);
});

test("a tie lengthens what was entered last", () => {
  const first = enterStep(on("1/8"), patternRef, 0 as Ticks, [{ lane: 2, velocity: 80 }], OVER);
  const tied = tieStep(first.beat, patternRef, new Set(first.ids), 0 as Ticks, first.next);
  expect(resolveTiming(findPattern(tied, patternRef), tied.meter)[0]!.lengthTicks).toBe(960);
  const short = enterStep(on("1/8"), patternRef, 0 as Ticks, [{ lane: 2, velocity: 80 }], {
    ...OVER,
    lengthTicks: 77 as Ticks,
  });
  expect(resolveTiming(findPattern(short.beat, patternRef), short.beat.meter)[0]!.lengthTicks).toBe(77);
});
