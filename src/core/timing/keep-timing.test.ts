import fc from "fast-check";
import type { Beat } from "../beat/beat";
import { addHits, addPass, editPass, findPattern, setBars, setFeel, setPass, type NewHit } from "../beat/edit";
import { commit, startHistory, undo } from "../beat/history";
import { firstPlace, newBeat } from "../beat/new-beat";
import { unmaskPass } from "../beat/pass-edit";
import { duplicatePattern } from "../beat/pattern-edit";
import { readBeatFile, writeBeatFile } from "../formats/beat-file";
import type { Ticks } from "../time/ticks";
import { BUILT_IN_GROOVES } from "./built-in-grooves";
import { heard } from "./heard";
import { keepTiming, returnToPlayed, returnToPoint } from "./keep-timing";

const empty = newBeat({ id: "k", name: "Keep" });
const place = firstPlace(empty);

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
          const added = addPass(beat, place, {
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
          beat = addHits(added.beat, place, added.passId, hits);
        }
        return setFeel(beat, place, {
          swing: { ratio: swing, unit: "1/16" },
          groove: { groove, timing: 0.7, velocity: 0.6 },
          looseness: { ticks: 12, velocity: 6, seed: 5 },
        });
      }),
  );

const sound = (beat: Beat) =>
  heard(findPattern(beat, place), beat.meter).map(({ hit, ticks, velocity, covered }) => [
    hit.id,
    ticks,
    velocity,
    covered,
  ]);
const played = (beat: Beat) =>
  findPattern(beat, place).passes.flatMap(({ hits }) =>
    hits.map(({ id, played: { ticks, velocity } }) => [id, ticks, velocity]),
  );
/** Goes too far: other grids, another swing, another groove, and all of it kept once more. */
function goTooFar(beat: Beat): Beat {
  const passes = findPattern(beat, place).passes;
  const quantized = passes.reduce(
    (all, { id }) => setPass(all, place, id, { quantize: { grid: "1/4", strength: 1, reach: 1 } }),
    beat,
  );
  const feel = { swing: { ratio: 0.75, unit: "1/8" }, groove: { groove: BUILT_IN_GROOVES[7], timing: 1, velocity: 1 } };
  return keepTiming(setFeel(quantized, place, feel as never), place, "Too far");
}

test("what is kept sounds as before with nothing on top of it, and the played times stay", () =>
  fc.assert(
    fc.property(anyBeat, (beat) => {
      const kept = keepTiming(beat, place, "Good");
      const pattern = findPattern(kept, place);
      expect(sound(kept)).toEqual(sound(beat));
      expect(played(kept)).toEqual(played(beat));
      expect(pattern.swing ?? pattern.groove ?? pattern.looseness).toBeUndefined();
      expect(pattern.passes.every(({ hits, quantize }) => hits.length === 0 || quantize.grid === "off")).toBe(true);
    }),
  ));

test("who goes too far comes back exactly, after a reload too, by return and by undo", () =>
  fc.assert(
    fc.property(anyBeat, (beat) => {
      const kept = keepTiming(beat, place, "Good");
      const pointId = findPattern(kept, place).points!.at(-1)!.id;
      const reloaded = readBeatFile(writeBeatFile(goTooFar(kept)));
      expect(played(reloaded)).toEqual(played(beat));
      expect(sound(returnToPoint(reloaded, place, pointId))).toEqual(sound(beat));
      const history = commit(startHistory(beat), kept, { label: "Keep timing", atMs: 1 });
      expect(undo(commit(history, goTooFar(kept), { label: "Too far", atMs: 2 })).present).toBe(kept);
    }),
  ));

test("return to played: every hit where and as hard as it was played, none silent", () =>
  fc.assert(
    fc.property(anyBeat, (beat) => {
      const back = returnToPlayed(goTooFar(keepTiming(beat, place, "Good")), place);
      expect(
        heard(findPattern(back, place), back.meter).map(({ hit, ticks, velocity }) => [hit.id, ticks, velocity]),
      ).toEqual(played(beat));
      expect(sound(back).every(([, , , covered]) => covered === false)).toBe(true);
      expect(findPattern(back, place).points).toHaveLength(2);
    }),
  ));

test("a hit that was played over a swing returns to where it was played; one from after the point keeps its own timing", () => {
  const { beat, passId } = addPass(empty, place, {
    name: "P",
    muted: false,
    quantize: { grid: "1/16", strength: 1, reach: 1 },
  });
  const stroke = { lane: 0, lengthTicks: 60 as Ticks };
  const one = addHits(beat, place, passId, [
    { ...stroke, played: { ticks: 330 as Ticks, straightTicks: 247.5 as Ticks, velocity: 90 } },
  ]);
  const kept = keepTiming(setFeel(one, place, { swing: { ratio: 2 / 3, unit: "1/16" } }), place, " ");
  expect(findPattern(kept, place).points![0]!.name).toBe("Kept");
  expect(sound(kept)[0]![1]).toBeCloseTo(320, 9);
  expect(sound(returnToPlayed(kept, place))[0]![1]).toBe(330);
  const later = addHits(kept, place, passId, [{ ...stroke, lane: 1, played: { ticks: 500 as Ticks, velocity: 90 } }]);
  const moved = editPass(later, place, passId, (pass) => ({
    ...pass,
    quantize: { grid: "1/4", strength: 1, reach: 1 },
  }));
  const back = returnToPoint(moved, place, findPattern(kept, place).points![0]!.id);
  expect(sound(back).map(([, ticks]) => Math.round(ticks as number))).toEqual([320, 500]);
});

test("what is silent keeps its timing, too: double triggers and what lies beyond the loop's end", () => {
  const { beat: start, passId } = addPass(setBars(empty, place, 2), place, {
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
  const beat = addHits(start, place, passId, [hit(250), hit(290, { masked: true }), hit(7000)]);
  const short = keepTiming(setFeel(setBars(beat, place, 1), place, { swing: { ratio: 0.6, unit: "1/8" } }), place, "K");
  const shown = unmaskPass(setBars(short, place, 2), place, passId);
  // The warp of 60 % on eighths moves 240 to 288 and, in its own eighth, 6960 to 7008.
  expect(sound(shown).map(([, ticks]) => ticks)).toEqual([288, 288, 7008]);
  const moved = returnToPlayed(shown, place);
  const { points } = findPattern(moved, place);
  expect(sound(returnToPoint(moved, place, points![0]!.id)).map(([, ticks]) => ticks)).toEqual([288, 288, 7008]);
});

test("a copied pattern goes back to its own points, with groove and all", () => {
  fc.assert(
    fc.property(anyBeat, (beat) => {
      const kept = keepTiming(beat, place, "K");
      const copy = duplicatePattern(kept, place);
      const soundOf = (now: Beat) =>
        heard(findPattern(now, copy.place), now.meter).map(({ ticks, velocity, covered }) => [
          ticks,
          velocity,
          covered,
        ]);
      const before = soundOf(copy.beat);
      const { points } = findPattern(copy.beat, copy.place);
      const there = returnToPoint(returnToPlayed(copy.beat, copy.place), copy.place, points![0]!.id);
      expect(soundOf(there)).toEqual(before);
      expect(readBeatFile(writeBeatFile(there))).toEqual(there);
    }),
    { numRuns: 40 },
  );
});
