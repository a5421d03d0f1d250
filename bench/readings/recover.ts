/** Scores the readings on cases, by default the public ones where they lie beside the project; they are GPL test data and no part of it. */
import { existsSync } from "node:fs";
import { findReadings } from "../../src/core/recover/readings/readings";
import { LIKELY_METERS, THINKABLE_METERS, type Reading } from "../../src/core/recover/readings/reading";
import { sameMeter } from "../../src/core/time/meter";
import { caseMeter, judge, percentRight, readCases, type Case, type Judged } from "./reading-cases";

const PUBLIC = ["recover-public", "more-songs-freedoom", "more-songs-simutrans"].map(
  (name) => `../shared/data/${name}.json`,
);
const KEYS = ["tempo", "near", "octave", "three", "down", "bars", "loop", "all"] as const;
const TAGS = [
  "src:song",
  "src:synthetic",
  "lead:none",
  "lead:pickup",
  "lead:midbar",
  "end:cut",
  "end:one",
  "end:ragged",
];
const NOTHING = { bpm: 1, downbeat: -1, bars: 0 };

interface Scored {
  readonly one: Case;
  readonly readings: readonly Reading[];
  readonly judged: Judged & { readonly three: boolean };
}

function scored(one: Case): Scored {
  const readings = findReadings(one.hits, [caseMeter(one)]);
  const three = readings.slice(0, 3).some((reading) => judge(one, reading).tempo);
  return { one, readings, judged: { ...judge(one, readings[0] ?? NOTHING), three } };
}

function line(title: string, results: readonly Scored[]): void {
  const percent = (key: (typeof KEYS)[number]) =>
    key === "three"
      ? (100 * results.filter(({ judged }) => judged.three).length) / results.length
      : percentRight(
          results.map(({ judged }) => judged),
          key,
        );
  console.log(`${title} (${results.length}): ${KEYS.map((key) => `${key} ${percent(key).toFixed(1)}`).join("  ")}`);
}

/** Of readings that are called so likely, how many are right. */
function calibration(results: readonly Scored[]): void {
  for (let tenth = 2; tenth < 10; tenth++) {
    const called = results.filter(
      ({ judged, readings: [first] }) =>
        judged.all !== undefined && first && Math.floor(10 * first.confidence) === tenth,
    );
    const right = (100 * called.filter(({ judged }) => judged.all).length) / called.length;
    console.log(`called ${tenth}0 to ${tenth + 1}0 %: ${called.length}, ${right.toFixed(0)} % right`);
  }
}

const files = process.argv.slice(2).filter((flag) => !flag.startsWith("--"));
const found = (files.length > 0 ? files : PUBLIC).filter((file) => existsSync(file));
if (found.length === 0) {
  console.log("No cases are beside the project; nothing to score.");
  process.exit(0);
}
const cases = readCases(found);
const results = cases.map(scored);
line("all", results);
for (const tag of TAGS)
  line(
    tag,
    results.filter(({ one }) => one.tags.includes(tag)),
  );
calibration(results);
const likely = cases.filter((one) => LIKELY_METERS.some((meter) => sameMeter(meter, caseMeter(one))));
const told = likely.filter((one) => {
  const [first] = findReadings(one.hits, THINKABLE_METERS);
  return first && sameMeter(first.meter, caseMeter(one));
});
console.log(`meter, not given: ${((100 * told.length) / likely.length).toFixed(1)} % right`);
if (process.argv.includes("--misses"))
  for (const { one, readings, judged } of results)
    if (!judged.tempo || judged.down === false || !judged.bars)
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
        judged.tempo ? "" : "TEMPO",
        judged.down === false ? "DOWN" : "",
        judged.bars ? "" : "BARS",
      );
