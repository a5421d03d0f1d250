import fc from "fast-check";
import type { Beat } from "../beat/beat";
import * as edits from "../beat/edit";
import { commit, redo, startHistory, undo } from "../beat/history";
import { firstPlace, newBeat } from "../beat/new-beat";
import { GRID_NAMES } from "../time/grid";
import type { Ticks } from "../time/ticks";
import { heard } from "../timing/heard";
import { placeStroke } from "./place-stroke";
import { recordStroke, type OpenPass } from "./record-stroke";

const LENGTH = 7680 as Ticks;
const BAR = 3840 as Ticks;

describe("where a stroke belongs", () => {
  test.each([
    ["on the downbeat", 0, { lap: 0, playedTicks: 0 }],
    ["in the middle of lap 3", 2 * 7680 + 1000.5, { lap: 2, playedTicks: 1000.5 }],
    ["half a step before the end", 7680 - 120, { lap: 1, playedTicks: -120 }],
    ["just over half a step before the end", 7680 - 120.01, { lap: 0, playedTicks: 7559.99 }],
    ["at the end of the count-in", -120, { lap: 0, playedTicks: -120 }],
    ["earlier in the count-in", -121, undefined],
    ["at the start of a count-in of two bars", -7680, undefined],
  ])("%s", (_, ticks, expected) => {
    const place = placeStroke(ticks as Ticks, LENGTH, BAR, "1/16");
    expect(place && { lap: place.lap, playedTicks: Number(place.playedTicks.toFixed(6)) }).toEqual(expected);
  });

  test("the reach of the downbeat follows the grid, and without one it is that of sixteenths", () => {
    expect(placeStroke(-400 as Ticks, LENGTH, BAR, "1/4")).toEqual({ lap: 0, playedTicks: -400 });
    expect(placeStroke(-100 as Ticks, LENGTH, BAR, "1/32")).toBeUndefined();
    expect(placeStroke(-100 as Ticks, LENGTH, BAR, "off")).toEqual({ lap: 0, playedTicks: -100 });
  });
});

const stroke = fc.record({
  pad: fc.integer({ min: 0, max: 15 }),
  velocity: fc.integer({ min: 1, max: 127 }),
  transportTicks: fc.double({ min: -3840, max: 6 * 7680, noNaN: true }).map((ticks) => ticks as Ticks),
});

function recordAll(start: Beat, strokes: readonly { pad: number; velocity: number; transportTicks: Ticks }[]) {
  let beat = start;
  let open: OpenPass = { place: firstPlace(start), passId: undefined };
  const recorded = [];
  for (const one of strokes) {
    const result = recordStroke(beat, open, one);
    if (!result) continue;
    ({ beat, openPass: open } = result);
    recorded.push({ ...result, stroke: one });
  }
  return { beat, recorded };
}

describe("overdub", () => {
  const empty = newBeat({ id: "b", name: "B" });

  test("never removes or moves an earlier hit, never changes the length, and puts every hit inside the loop", () =>
    fc.assert(
      fc.property(fc.array(stroke, { maxLength: 40 }), fc.array(stroke, { maxLength: 40 }), (first, second) => {
        const before = recordAll(empty, first).beat;
        const after = recordAll(before, second).beat;
        const passes = (beat: Beat) => beat.parts[0].patterns[0].passes;
        expect(passes(after).slice(0, passes(before).length)).toEqual(passes(before));
        expect(after.parts[0].patterns[0].bars).toBe(2);
        for (const { playedTicks } of passes(after).flatMap(({ hits }) => hits)) {
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
        for (const { soundsFromLap } of recorded) {
          const [{ ticks }] = heard(beat.parts[0].patterns[0], beat.meter);
          const next = soundsFromLap * 7680 + ticks;
          expect(next).toBeGreaterThan(one.transportTicks);
          expect(next - one.transportTicks).toBeLessThanOrEqual(7680 + 480);
          expect(next - one.transportTicks).toBeGreaterThanOrEqual(7680 - 480);
        }
      }),
    ));

  test("no stroke, no pass; another grid, another pass; an undone pass is not written to again", () => {
    expect(recordAll(empty, [{ pad: 0, velocity: 9, transportTicks: -2000 as Ticks }]).beat).toBe(empty);
    const place = firstPlace(empty);
    const strike = (beat: Beat, open: OpenPass, ticks: number) =>
      recordStroke(beat, open, { pad: 0, velocity: 9, transportTicks: ticks as Ticks })!;
    const one = strike(empty, { place, passId: undefined }, 0);
    const two = strike(edits.setInputQuantize(one.beat, { grid: "1/8" }), one.openPass, 960);
    expect(edits.findPattern(two.beat, place).passes.map(({ name, quantize }) => [name, quantize.grid])).toEqual([
      ["Pass 1", "1/16"],
      ["Pass 2", "1/8"],
    ]);
    const undone = strike(empty, one.openPass, 1920);
    expect(edits.findPattern(undone.beat, place).passes.map(({ hits }) => hits.length)).toEqual([1]);
  });
});

describe("history", () => {
  test("undo of everything returns the first state, redo of everything the last, exactly", () =>
    fc.assert(
      fc.property(fc.array(fc.array(stroke, { minLength: 1, maxLength: 4 }), { maxLength: 12 }), (takes) => {
        const first = newBeat({ id: "b", name: "B" });
        let history = startHistory(first);
        takes.forEach(
          (strokes, index) =>
            (history = commit(history, recordAll(history.present, strokes).beat, "Record", `take ${index}`)),
        );
        const last = history.present;
        for (let step = 0; step <= takes.length; step++) history = undo(history);
        expect(history.present).toBe(first);
        for (let step = 0; step <= takes.length; step++) history = redo(history);
        expect(history.present).toBe(last);
      }),
    ));

  test("changes with one key are one step, others are not, and a redo does not grow", () => {
    let history = startHistory(0);
    for (const [value, key] of [
      [1, "a"],
      [2, "a"],
      [3, undefined],
      [4, undefined],
      [5, "a"],
    ] as const)
      history = commit(history, value, "x", key);
    expect(history.past.map(({ document }) => document)).toEqual([0, 2, 3, 4]);
    history = commit(redo(undo(history)), 6, "x", "a");
    expect(undo(history).present).toBe(5);
    expect(commit(history, 6, "same")).toBe(history);
  });
});

describe("edits", () => {
  const beat = newBeat({ id: "b", name: "B" });
  const place = firstPlace(beat);
  test("unknown ids and impossible lengths are refused by name", () => {
    expect(() => edits.findPattern(beat, { partId: 1, patternId: 99 })).toThrow("There is no pattern 99 here.");
    expect(() => edits.setBars(beat, place, 0)).toThrow(/1 to 2000 bars, got 0/);
  });
  test("a blank name changes nothing", () => expect(edits.renameBeat(beat, "   ")).toBe(beat));
  test("a tempo change leaves every hit on its tick", () => {
    const { beat: recorded } = recordAll(beat, [{ pad: 3, velocity: 70, transportTicks: 1234.5 as Ticks }]);
    expect(edits.setTempo(recorded, 61).parts).toBe(recorded.parts);
  });
});
