import fc from "fast-check";
import { addHits, addPass, setPad, setPart } from "../beat/edit";
import { firstPlace, newBeat } from "../beat/new-beat";
import type { Beat } from "../beat/beat";
import { demoBeat } from "../demo/demo-beats";
import { MAX_PATTERNS } from "../limits";
import type { Ticks } from "../time/ticks";
import { newBeatCheck } from "./beat-check";
import { checkBeat } from "./beat-file";

const BEAT = newBeat({ id: "b", name: "B" });
const PLACE = firstPlace(BEAT);
const hit = (lane: number, ticks: number, velocity = 90) => ({
  lane,
  played: { ticks: ticks as Ticks, velocity },
  lengthTicks: 60 as Ticks,
});

/** A beat with what somebody might do to it next, right or wrong. */
const EDITS: readonly ((beat: Beat, number: number) => Beat)[] = [
  (beat, number) => setPad(beat, PLACE.partId, 0, { mix: { levelDb: number, pan: 0, roomDb: -60 } }),
  (beat, number) => setPart(beat, PLACE.partId, { name: "x".repeat(Math.abs(number)) }),
  (beat, number) => ({ ...beat, bpm: (100 + number) as Beat["bpm"] }),
  (beat, number) => {
    const { beat: ready, passId } = addPass(beat, PLACE, {
      name: "P",
      muted: false,
      quantize: beat.inputQuantize,
    });
    return addHits(ready, PLACE, passId, [hit(0, 10), hit(number % 20, 20, 64 + number)]);
  },
];

function readable(beat: Beat): boolean {
  try {
    checkBeat(beat);
    return true;
  } catch {
    return false;
  }
}

test("edit by edit it says what a check of the whole beat says, and a refused one leaves no trace", () =>
  fc.assert(
    fc.property(
      fc.array(fc.tuple(fc.nat(EDITS.length - 1), fc.integer({ min: -70, max: 70 })), { maxLength: 12 }),
      (edits) => {
        const check = newBeatCheck();
        check.trust(BEAT);
        let beat = BEAT;
        for (const [kind, number] of edits) {
          const next = EDITS[kind]!(beat, number);
          const problem = check.problemIn(next);
          expect(problem === undefined).toBe(readable(next));
          if (problem === undefined) beat = next;
        }
      },
    ),
    { numRuns: 60 },
  ));

test("it says what is wrong and where, also of what a beat has too much of", () => {
  const check = newBeatCheck();
  expect(check.problemIn(setPad(BEAT, PLACE.partId, 0, { mix: { levelDb: 999, pan: 0, roomDb: -60 } }))).toBe(
    "/beat/parts/0/pads/0/mix/levelDb: must be <= 12, got 999",
  );
  const part = BEAT.parts[0]!;
  const patterns = Array.from({ length: MAX_PATTERNS + 1 }, (_, index) => ({
    ...part.patterns[0]!,
    id: 10 + index,
  }));
  expect(check.problemIn({ ...BEAT, nextId: 1000, parts: [{ ...part, patterns }] })).toBe(
    "/beat/parts/0/patterns: must NOT have more than 256 items",
  );
});

test("what was found good is not looked at again", () => {
  const check = newBeatCheck();
  const beat = demoBeat("Slow Harbour");
  check.trust(beat);
  let looks = 0;
  const part = beat.parts[0]!;
  const pattern = part.patterns[0]!;
  const watched = pattern.passes.map((pass) => ({
    ...pass,
    hits: pass.hits.map((one) => new Proxy(one, { get: (target, name) => (looks++, Reflect.get(target, name)) })),
  }));
  const seen = { ...beat, parts: [{ ...part, patterns: [{ ...pattern, passes: watched }] }, ...beat.parts.slice(1)] };
  expect(check.problemIn(seen as Beat)).toBeUndefined();
  expect(looks).toBeGreaterThan(100);
  looks = 0;
  expect(check.problemIn({ ...(seen as Beat), bpm: 99 as Beat["bpm"] })).toBeUndefined();
  expect(looks).toBe(0);
});
