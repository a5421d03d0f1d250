import fc from "fast-check";
import type { Beat } from "../beat/beat";
import { addHits, addPass, editPass, findPattern, setBars, setFeel, setPass, type NewHit } from "../beat/edit";
import { commit, startHistory, undo } from "../beat/history";
import { firstPlace, newBeat } from "../beat/new-beat";
import { unmaskPass } from "../beat/edits/pass-edit";
import { duplicatePattern } from "../beat/edits/pattern-edit";
import { readBeatFile, writeBeatFile } from "../formats/beat-file";
import type { Ticks } from "../time/ticks";
import { BUILT_IN_GROOVES } from "./built-in-grooves";
import { resolveTiming } from "./resolve-timing";
import { keepTiming, returnToPlayed, returnToPoint } from "./keep-timing";

const empty = newBeat({ id: "k", name: "Keep" });
const patternRef = firstPlace(empty);

const anyBeat: fc.Arbitrary<Beat> = fc
  .array(
    fc.record({
      pad: fc.integer({ min: 0, max: 3 }),
      played: fc.integer({ min: -100 * 8, max: 7600 * 8 }),
      velocity: fc.integer({ min: 1, max: 127 }),
      pass: fc.integer({ min: 0, max: 1 }),
    }),
    { minLength: 1, maxLength: 40 },
  )
  .chain((strokes) =>
    fc
      .record({ groove: fc.constantFrom(...BUILT_IN_GROOVES), swing: fc.double({ min: 0.5, max: 0.7, noNaN: true }) })
      .map(({ groove, swing }) => {
        let beat = empty;
        for (const pass of [0, 1]) {
          const added = addPass(beat, patternRef, {
            name: `Pass ${pass}`,
            muted: false,
            quantize: { grid: pass ? "1/8T" : "1/16", strength: 0.8, reach: 0.9 },
          });
          const hits = strokes
            .filter((stroke) => stroke.pass === pass)
            .map(({ pad, played, velocity }) => ({
              lane: pad,
              played: { velocity, ticks: (played / 8) as Ticks },
              lengthTicks: 60 as Ticks,
            }));
          beat = addHits(added.beat, patternRef, added.passId, hits);
        }
        return setFeel(beat, patternRef, {
          swing: { ratio: swing, unit: "1/16" },
          groove: { groove, timing: 0.7, velocity: 0.6 },
          looseness: { ticks: 12, velocity: 6, seed: 5 },
        });
      }),
  );

const sound = (beat: Beat) =>
  resolveTiming(findPattern(beat, patternRef), beat.meter).map(({ hit, ticks, velocity, duplicateOnLine }) => [
    hit.id,
    ticks,
    velocity,
    duplicateOnLine,
  ]);
const played = (beat: Beat) =>
  findPattern(beat, patternRef).passes.flatMap(({ hits }) =>
    hits.map(({ id, played: { ticks, velocity } }) => [id, ticks, velocity]),
  );
/** Goes too far: other grids, another swing, another groove, and all of it kept once more. */
function goTooFar(beat: Beat): Beat {
  const passes = findPattern(beat, patternRef).passes;
  const quantized = passes.reduce(
    (all, { id }) => setPass(all, patternRef, id, { quantize: { grid: "1/4", strength: 1, reach: 1 } }),
    beat,
  );
  const feel = { swing: { ratio: 0.75, unit: "1/8" }, groove: { groove: BUILT_IN_GROOVES[7], timing: 1, velocity: 1 } };
  return keepTiming(setFeel(quantized, patternRef, feel as never), patternRef, "Too far");
}

test("what is kept sounds as before with nothing on top of it, and the played times stay", () =>
  fc.assert(
    fc.property(anyBeat, (beat) => {
      const kept = keepTiming(beat, patternRef, "Good");
      const pattern = findPattern(kept, patternRef);
      expect(sound(kept)).toEqual(sound(beat));
      expect(played(kept)).toEqual(played(beat));
      expect(pattern.swing ?? pattern.groove ?? pattern.looseness).toBeUndefined();
      expect(pattern.passes.every(({ hits, quantize }) => hits.length === 0 || quantize.grid === "off")).toBe(true);
    }),
  ));

test("who goes too far comes back exactly, after a reload too, by return and by undo", () =>
  fc.assert(
    fc.property(anyBeat, (beat) => {
      const kept = keepTiming(beat, patternRef, "Good");
      const pointId = findPattern(kept, patternRef).points!.at(-1)!.id;
      const reloaded = readBeatFile(writeBeatFile(goTooFar(kept)));
      expect(played(reloaded)).toEqual(played(beat));
      expect(sound(returnToPoint(reloaded, patternRef, pointId))).toEqual(sound(beat));
      const history = commit(startHistory(beat), kept, { label: "Keep timing", atMs: 1 });
      expect(undo(commit(history, goTooFar(kept), { label: "Too far", atMs: 2 })).present).toBe(kept);
    }),
  ));

test("return to played: every hit where and as hard as it was played, none silent", () =>
  fc.assert(
    fc.property(anyBeat, (beat) => {
      const back = returnToPlayed(goTooFar(keepTiming(beat, patternRef, "Good")), patternRef);
      expect(
        resolveTiming(findPattern(back, patternRef), back.meter).map(({ hit, ticks, velocity }) => [
          hit.id,
          ticks,
          velocity,
        ]),
      ).toEqual(played(beat));
      expect(sound(back).every(([, , , covered]) => covered === false)).toBe(true);
      expect(findPattern(back, patternRef).points).toHaveLength(2);
    }),
  ));

test("a hit that was played over a swing returns to where it was played; one from after the point keeps its own timing", () => {
  const { beat, passId } = addPass(empty, patternRef, {
    name: "P",
    muted: false,
    quantize: { grid: "1/16", strength: 1, reach: 1 },
  });
  const stroke = { lane: 0, lengthTicks: 60 as Ticks };
  const one = addHits(beat, patternRef, passId, [
    { ...stroke, played: { ticks: 330 as Ticks, straightTicks: 247.5 as Ticks, velocity: 90 } },
  ]);
  const kept = keepTiming(setFeel(one, patternRef, { swing: { ratio: 2 / 3, unit: "1/16" } }), patternRef, " ");
  expect(findPattern(kept, patternRef).points![0]!.name).toBe("Kept");
  expect(sound(kept)[0]![1]).toBeCloseTo(320, 9);
  expect(sound(returnToPlayed(kept, patternRef))[0]![1]).toBe(330);
  const later = addHits(kept, patternRef, passId, [
    { ...stroke, lane: 1, played: { ticks: 500 as Ticks, velocity: 90 } },
  ]);
  const moved = editPass(later, patternRef, passId, (pass) => ({
    ...pass,
    quantize: { grid: "1/4", strength: 1, reach: 1 },
  }));
  const back = returnToPoint(moved, patternRef, findPattern(kept, patternRef).points![0]!.id);
  expect(sound(back).map(([, ticks]) => Math.round(ticks as number))).toEqual([320, 500]);
});

test("what is silent keeps its timing, too: double triggers and what lies beyond the loop's end", () => {
  const { beat: start, passId } = addPass(setBars(empty, patternRef, 2), patternRef, {
    name: "P",
    muted: false,
    quantize: { grid: "1/16", strength: 1, reach: 1 },
  });
  const hit = (playedTicks: number, more: Partial<NewHit> = {}): NewHit => ({
    lane: 0,
    played: { ticks: playedTicks as Ticks, velocity: 90 },
    lengthTicks: 60 as Ticks,
    ...more,
  });
  const beat = addHits(start, patternRef, passId, [hit(250), hit(290, { masked: true }), hit(7000)]);
  const short = keepTiming(
    setFeel(setBars(beat, patternRef, 1), patternRef, { swing: { ratio: 0.6, unit: "1/8" } }),
    patternRef,
    "K",
  );
  const shown = unmaskPass(setBars(short, patternRef, 2), patternRef, passId);
  // The warp of 60 % on eighths moves 240 to 288 and, in its own eighth, 6960 to 7008.
  expect(sound(shown).map(([, ticks]) => ticks)).toEqual([288, 288, 7008]);
  const moved = returnToPlayed(shown, patternRef);
  const { points } = findPattern(moved, patternRef);
  expect(sound(returnToPoint(moved, patternRef, points![0]!.id)).map(([, ticks]) => ticks)).toEqual([288, 288, 7008]);
});

test("a copied pattern goes back to its own points, with groove and all", () => {
  fc.assert(
    fc.property(anyBeat, (beat) => {
      const kept = keepTiming(beat, patternRef, "K");
      const copy = duplicatePattern(kept, patternRef);
      const soundOf = (now: Beat) =>
        resolveTiming(findPattern(now, copy.patternRef), now.meter).map(({ ticks, velocity, duplicateOnLine }) => [
          ticks,
          velocity,
          duplicateOnLine,
        ]);
      const before = soundOf(copy.beat);
      const { points } = findPattern(copy.beat, copy.patternRef);
      const there = returnToPoint(returnToPlayed(copy.beat, copy.patternRef), copy.patternRef, points![0]!.id);
      expect(soundOf(there)).toEqual(before);
      expect(readBeatFile(writeBeatFile(there))).toEqual(there);
    }),
    { numRuns: 40 },
  );
});
