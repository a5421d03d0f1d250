import fc from "fast-check";
import type { Beat } from "../beat/beat";
import { addHits, addPass, findPattern, removePass, setBars, setFeel, setPass } from "../beat/edit";
import { firstPlace, newBeat } from "../beat/new-beat";
import { compileEvents } from "./compile-events";
import { orderOf } from "../sound/player/event-table";
import type { Ticks } from "../time/ticks";
import { earlyLate } from "../timing/early-late";
import { resolvedHits, resolveTiming } from "../timing/resolve-timing";

const empty = newBeat({ id: "b", name: "B", bpm: 120 });
const patternRef = firstPlace(empty);
const GRIDS = ["1/16", "1/8T", "off", "groove"] as const;
const meterOf = (beat: Beat) => beat.meter;
/** The same in every figure, and no object of it known from before. */
const anew = <T>(value: T): T => structuredClone(value);

function strike(beat: Beat, passId: number, lane: number, ticks: number, velocity: number): Beat {
  const lengthTicks = 60 as Ticks;
  // Some were played over a swing.
  const straight = lane === 1 && { straightTicks: (ticks - 9) as Ticks };
  return addHits(beat, patternRef, passId, [
    { lane, played: { ticks: ticks as Ticks, ...straight, velocity }, lengthTicks },
  ]);
}

/** An edit by three numbers 0..1. */
function edit(beat: Beat, what: number, which: number, much: number): Beat {
  const { passes } = findPattern(beat, patternRef);
  const pass = passes[Math.floor(which * passes.length)];
  if (what < 0.15 || !pass) {
    const quantize = {
      grid: GRIDS[Math.floor(which * 4)]!,
      strength: 1,
      reach: 1,
      mix: ["1/8T"],
      adaptive: true,
    } as const;
    return addPass(beat, patternRef, { name: "P", muted: false, quantize }).beat;
  }
  if (what < 0.75)
    return strike(beat, pass.id, Math.floor(much * 3), (what - 0.15) * 12_800, 1 + Math.floor(which * 126));
  if (what < 0.8) return setPass(beat, patternRef, pass.id, { muted: much < 0.5 });
  if (what < 0.85) return setBars(beat, patternRef, 1 + Math.floor(much * 3));
  if (what < 0.95)
    return setFeel(beat, patternRef, { swing: much < 0.3 ? undefined : { ratio: 0.5 + much / 4, unit: "1/16" } });
  return removePass(beat, patternRef, pass.id);
}

test("what is remembered of passes and patterns is what would be worked out anew, whatever was edited before", () => {
  const share = fc.integer({ min: 0, max: 999 }).map((thousandth) => thousandth / 1000);
  fc.assert(
    fc.property(fc.array(fc.tuple(share, share, share), { minLength: 5, maxLength: 40 }), (edits) => {
      let beat = empty;
      for (const [what, which, much] of edits) {
        beat = edit(beat, what, which, much);
        const pattern = findPattern(beat, patternRef);
        for (const timingView of ["grooved", "corrected", "played"] as const)
          expect(resolvedHits(pattern, meterOf(beat), timingView)).toEqual(
            resolveTiming(anew(pattern), anew(beat.meter), timingView),
          );
        expect(earlyLate(pattern, beat.meter, beat.inputQuantize)).toEqual(
          earlyLate(anew(pattern), beat.meter, beat.inputQuantize),
        );
        expect(compileEvents(beat, patternRef)).toEqual(compileEvents(anew(beat), patternRef));
      }
    }),
    { numRuns: 60 },
  );
});

test("a stroke leaves every hit that sounds as before the very same object, also one that another pass covers", () => {
  const quantize = { grid: "1/16", strength: 1, reach: 1 } as const;
  const first = addPass(empty, patternRef, { name: "A", muted: false, quantize });
  const old = [10, 250, 500].reduce((beat, ticks) => strike(beat, first.passId, 0, ticks, 60), first.beat);
  const second = addPass(old, patternRef, { name: "B", muted: false, quantize });
  const louder = strike(second.beat, second.passId, 0, 240, 100);
  const more = strike(louder, second.passId, 1, 960, 100);
  const [a, b, c] = [second.beat, louder, more].map((beat) => resolveTiming(findPattern(beat, patternRef), beat.meter));
  expect(b!.map(({ duplicateOnLine }) => duplicateOnLine)).toEqual([false, true, false, false]);
  expect([b![0] === a![0], b![1] === a![1], b![2] === a![2]]).toEqual([true, false, true]);
  // Beside a stroke elsewhere the covered one is the one it was, too.
  expect(b!.slice(0, 3).map((one, index) => one === c![index])).toEqual([true, true, true]);
});

test("events by their place on the circle of the loop, as a plain sort has them", () => {
  const tick = fc.oneof(
    fc.double({ min: -3840, max: 3839.99, noNaN: true }),
    fc.integer({ min: -8, max: 8 }).map((n) => n * 240),
  );
  fc.assert(
    fc.property(fc.array(tick, { maxLength: 300 }), (ticks) => {
      const on = ticks.map((one) => (one < 0 ? one + 3840 : one));
      const sorted = ticks.map((_, index) => index).sort((a, b) => on[a]! - on[b]! || a - b);
      expect([...orderOf(Float64Array.from(ticks), 3840 as Ticks)]).toEqual(sorted);
    }),
  );
});
