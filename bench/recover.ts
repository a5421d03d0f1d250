/** Scores the readings on the public cases where they are beside the project; they are GPL test data and not part of it. */
import { existsSync, readFileSync } from "node:fs";
import { findReadings } from "../src/core/recover/readings";
import { LIKELY_METERS, type FreeHit, type Reading } from "../src/core/recover/reading";
import type { Meter } from "../src/core/time/meter";
import { meter } from "../src/core/time/meter";

const CASES = "../shared/data/recover-public.json";

interface Case {
  readonly id: string;
  readonly hits: readonly FreeHit[];
  readonly meter: readonly [number, number];
  readonly truth: {
    readonly bpm: number;
    readonly downbeat: number | null;
    readonly bars: number;
    readonly downbeats: readonly number[];
    readonly loops: readonly number[];
  };
  readonly tags: readonly string[];
}

const within = (value: number, truth: number, share: number) => Math.abs(value / truth - 1) <= share;

function score({ truth, meter: [beats, unit] }: Case, readings: readonly Reading[]) {
  const [first] = readings;
  if (!first)
    return { a1: false, p1: false, a2: false, top3: false, down: undefined, bars: false, loop: false, all: false };
  const a1 = within(first.bpm, truth.bpm, 0.04);
  const known = truth.downbeat !== null;
  const down = truth.downbeats.some((line) => Math.abs(line - first.downbeat) <= 0.07);
  const lengths = [truth.bars, ...truth.loops];
  const bars = lengths.includes(first.bars);
  const seconds = (count: number, bpm: number) => (count * beats * 4 * 60) / unit / bpm;
  return {
    a1,
    p1: within(first.bpm, truth.bpm, 0.01),
    a2: [1 / 3, 0.5, 1, 2, 3].some((times) => within(first.bpm, truth.bpm * times, 0.04)),
    top3: readings.slice(0, 3).some(({ bpm }) => within(bpm, truth.bpm, 0.04)),
    down: known && a1 ? down : undefined,
    bars,
    loop: lengths.some((count) => within(seconds(first.bars, first.bpm), seconds(count, truth.bpm), 0.04)),
    all: known ? a1 && down && bars : undefined,
  };
}

if (!existsSync(CASES)) {
  console.log("The public cases are not beside the project; nothing to score.");
  process.exit(0);
}
const cases = JSON.parse(readFileSync(CASES, "utf8")) as readonly Case[];
const times: number[] = [];
const results = cases.map((one) => {
  const start = performance.now();
  const readings = findReadings(one.hits, [meter(...one.meter) as Meter]);
  times.push(performance.now() - start);
  return { one, readings, scored: score(one, readings) };
});
const percent = (key: keyof ReturnType<typeof score>, of = results) => {
  const counted = of.filter(({ scored }) => scored[key] !== undefined);
  return `${((100 * counted.filter(({ scored }) => scored[key]).length) / counted.length).toFixed(0)}`;
};
const KEYS = ["a1", "p1", "a2", "top3", "down", "bars", "loop", "all"] as const;
console.log(KEYS.map((key) => `${key} ${percent(key)}`).join("  "));
for (const tag of [
  "src:song",
  "src:synthetic",
  "lead:none",
  "lead:pickup",
  "lead:midbar",
  "end:cut",
  "end:one",
  "end:ragged",
])
  console.log(
    tag,
    KEYS.map(
      (key) =>
        `${key} ${percent(
          key,
          results.filter(({ one }) => one.tags.includes(tag)),
        )}`,
    ).join("  "),
  );
console.log(`median ${times.sort((a, b) => a - b)[Math.floor(times.length / 2)]!.toFixed(1)} ms`);
const guessed = cases.map(({ hits, meter: [beats, unit] }) => {
  const [first] = findReadings(hits, LIKELY_METERS);
  return first && first.meter.beats === beats && first.meter.unit === unit;
});
const likely = cases.map(({ meter: [beats, unit] }) =>
  LIKELY_METERS.some((one) => one.beats === beats && one.unit === unit),
);
const right = guessed.filter((yes, index) => yes && likely[index]).length;
console.log(`meter, not given: ${((100 * right) / likely.filter(Boolean).length).toFixed(0)} % right`);
if (process.argv.includes("--misses"))
  for (const { one, readings, scored } of results)
    if (!scored.a1 || scored.down === false || !scored.bars)
      console.log(
        one.id,
        one.tags.filter((tag) => /lead|end|kind|bars|song:/.test(tag)).join(" "),
        `truth ${one.truth.bpm.toFixed(1)} ${one.truth.downbeat?.toFixed(2)} ${one.truth.bars} [${one.truth.loops}]`,
        readings
          .slice(0, 3)
          .map(
            ({ bpm, downbeat, bars, perQuarter }) => `${bpm.toFixed(1)}/${perQuarter} ${downbeat.toFixed(2)} ${bars}`,
          )
          .join(" | "),
        scored.a1 ? "" : "TEMPO",
        scored.down === false ? "DOWN" : "",
        scored.bars ? "" : "BARS",
      );
