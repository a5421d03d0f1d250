import { readBeatFile, writeBeatFile } from "../../formats/beat-file";
import { MAX_BEAT_FILE_BYTES, MAX_HITS, MAX_POINT_STARTS } from "../../limits";
import { seededRandom } from "../../random";
import type { Ticks } from "../../time/ticks";
import { BUILT_IN_GROOVES } from "../../timing/built-in-grooves";
import { keepTiming } from "../../timing/keep-timing";
import type { Beat } from "../beat";
import { pointStarts } from "../beat";
import { addHits, addPass, findPattern, setBars, setFeel, type NewHit } from "../edit";
import { firstPlace, newBeat } from "../new-beat";

const empty = newBeat({ id: "full", name: "Full" });
const patternRef = firstPlace(empty);

/** With every field that a hit can have, at its longest. */
function beatOf(count: number): Beat {
  const random = seededRandom(7);
  const { beat, passId } = addPass(setBars(empty, patternRef, 2000), patternRef, {
    name: "P",
    muted: false,
    quantize: { grid: "1/16", strength: 1, reach: 1 },
  });
  const hits = Array.from({ length: count }, (): NewHit => {
    const ticks = (random() * 7_600_000) as Ticks;
    return {
      lane: Math.floor(16 * random()),
      played: { ticks: ticks, straightTicks: (ticks - random()) as Ticks, velocity: 100 + Math.floor(27 * random()) },
      lengthTicks: (60 + random()) as Ticks,
      masked: true,
      choked: true,
      quantize: { grid: "1/16", strength: random(), reach: random(), mix: ["1/8T", "1/16T"], adaptive: true },
      start: { ticks, velocity: 100, covered: true, by: "keep" },
      lap: 1_000_000 + Math.floor(1000 * random()),
    };
  });
  return setFeel(addHits(beat, patternRef, passId, hits), patternRef, {
    groove: { groove: BUILT_IN_GROOVES[3]!, timing: 1, velocity: 1 },
  });
}

test("the largest beat that editing allows is written and read back whole, with as many points as there is room for", () => {
  const full = beatOf(MAX_HITS);
  let beat = full;
  for (let point = 0; point < 3; point++) beat = keepTiming(beat, patternRef, "Kept");
  const starts = pointStarts(findPattern(beat, patternRef));
  expect(starts).toBeLessThanOrEqual(MAX_POINT_STARTS);
  expect(starts).toBeGreaterThanOrEqual(MAX_HITS);
  const text = writeBeatFile({ ...full, parts: beat.parts, nextId: beat.nextId });
  expect(text.length).toBeLessThan(MAX_BEAT_FILE_BYTES);
  const largest = writeBeatFile(full);
  expect(largest.length + 60 * MAX_POINT_STARTS).toBeLessThan(MAX_BEAT_FILE_BYTES);
  expect(writeBeatFile(readBeatFile(text)) === text).toBe(true);
  expect(writeBeatFile(readBeatFile(largest)) === largest).toBe(true);
});

test("32 kept timings of 3,000 hits round-trip", () => {
  let beat = beatOf(3000);
  for (let point = 0; point < 32; point++) beat = keepTiming(beat, patternRef, `Kept ${point}`);
  expect(findPattern(beat, patternRef).points).toHaveLength(32);
  expect(writeBeatFile(readBeatFile(writeBeatFile(beat))) === writeBeatFile(beat)).toBe(true);
});
