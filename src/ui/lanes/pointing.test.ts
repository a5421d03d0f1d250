import type { Beat } from "@/core/beat/beat";
import { addHits, addPass, findPart, findPattern } from "@/core/beat/edit";
import { lanesOf } from "@/core/beat/lanes";
import { firstPlace, newBeat } from "@/core/beat/new-beat";
import type { Ticks } from "@/core/time/ticks";
import { fall, SILENT_DB } from "../common/meters/fall";
import { hitNear, type HitRows } from "./hits/hit-rows-at";
import { layoutHits, wholeScale, type HitMark } from "./picture/lane-layout";
import { regionStep } from "./ruler/use-region-drag";

const mark = (id: number, lane: number, x: number, endX?: number): HitMark => ({
  id,
  lane,
  family: endX === undefined ? "kick" : "pitch",
  x,
  ...(endX !== undefined && { endX }),
  playedX: x,
  size: 1,
  opacity: 1,
  duplicateOnLine: false,
});
/** Two rows of 20 pixels: lane 5 above lane 2. */
const rowsOf = (...hits: HitMark[]): HitRows => ({
  pads: [],
  hits,
  rowOf: new Map([5, 2].map((lane, row) => [lane, row])),
  rowPx: 20,
});

test("the hit that is meant is the nearest of its row, of equals the newest; a finger is wider than a pointer", () => {
  const rows = rowsOf(mark(1, 5, 100), mark(2, 5, 108), mark(3, 2, 100), mark(4, 2, 100), mark(5, 2, 200, 260));
  const at = (x: number, y: number, touch = false) => hitNear(rows, x, y, touch)?.id;
  expect([at(99, 10), at(105, 10), at(118, 3), at(120, 10)]).toEqual([1, 2, 2, undefined]);
  expect(at(101, 30)).toBe(4);
  expect([at(230, 30), at(268, 30), at(272, 30), at(230, 41)]).toEqual([5, 5, undefined, undefined]);
  expect([at(126, 10), at(126, 10, true), at(278, 45, true), at(278, 53, true)]).toEqual([undefined, 2, 5, undefined]);
});

test("a whisker goes the short way round the loop, from where a hit sounds to where it was played", () => {
  const empty = newBeat({ id: "b", name: "B", bpm: 120, bars: 2 });
  const patternRef = firstPlace(empty);
  const { beat, passId } = addPass(empty, patternRef, {
    name: "P",
    muted: false,
    quantize: { grid: "off", strength: 1, reach: 1 },
  });
  // Early on the downbeat as it was played, and one that a hand has put before the loop's end, where it was played behind its start.
  const played = [
    { ticks: -20 as Ticks, velocity: 90 },
    { ticks: 5 as Ticks, velocity: 90 },
  ];
  const struck: Beat = addHits(beat, patternRef, passId, [
    { lane: 3, played: played[0]!, lengthTicks: 60 as Ticks },
    { lane: 4, played: played[1]!, start: { by: "hand", ticks: 7670 as Ticks }, lengthTicks: 60 as Ticks },
  ]);
  const pattern = findPattern(struck, patternRef);
  const scale = wholeScale(pattern, struck.meter, 400);
  const marks = layoutHits(struck, lanesOf(findPart(struck, patternRef.partId)), pattern, scale);
  expect(marks).toHaveLength(2);
  for (const { x, playedX } of marks) expect(Math.abs(playedX - x)).toBeLessThan(2);
});

test("a region goes by bars, by beats in a single bar and with Shift; a meter falls by 50 dB a second, and rises at once", () => {
  const seven = { beats: 7, unit: 8 } as const;
  expect([regionStep(seven, 4, false), regionStep(seven, 4, true), regionStep(seven, 1, false)]).toEqual([
    3360, 480, 480,
  ]);
  expect(fall(-6, 0, 100)).toBe(-11);
  expect(fall(-40, 0.5, 100)).toBeCloseTo(-6, 1);
  expect(fall(-40, 0, 10_000)).toBe(SILENT_DB);
});
