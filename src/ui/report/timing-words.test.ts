import type { TimingSample } from "@/core/analysis/timing-stats";
import { defaultPads } from "@/core/beat/new-beat";
import type { Ticks } from "@/core/time/ticks";
import { leaning, timingSummary } from "./timing-words";

const sample = (beat: number, lateMs: number, lap: number): TimingSample => ({
  hitId: beat,
  passId: 2,
  pad: beat % 2,
  lap,
  line: (beat * 960) as Ticks,
  beat,
  lateMs,
  velocity: 80,
});

test("in words: what leads, what is loose, locking in and rushing over the laps", () => {
  const laps = [30, 20, 12, 6, 2].flatMap((spread, lap) =>
    [-1, 1, -1, 1].map((side, line) => sample(line, side * spread - 4 * lap, lap)),
  );
  const words = timingSummary(laps, defaultPads()).join(" ");
  expect(words).toMatch(/^20 hits, 8 ms ahead on average, spread \d+ ms: loose\./);
  expect(words).toContain("Kick comes first, Snare 28 ms after it.");
  expect(words).toContain("You lock in: from 30 ms in the first lap to 2 ms in the last.");
  expect(words).toContain("You rush more with every lap: 16 ms from first to last.");
  expect(timingSummary([], defaultPads())).toEqual(["There is nothing to measure yet: no hit."]);
  expect([leaning(0.4), leaning(-12.4), leaning(7)]).toEqual([
    "on the line on average",
    "12 ms ahead on average",
    "7 ms behind on average",
  ]);
});
