/**
 * Fits the weights of readings (docs/decisions/0029): conditional logit over all that is thought of, by L-BFGS, with a ridge.
 *   npx tsx bench/readings/fit-readings.ts [--write] [--no-folds] [--synthetic MADE.json] CASES.json ...
 * Cases have the format of bench/readings/reading-cases.ts. Songs weigh about alike, each by itself and in variations (bench/readings/vary-cases.ts),
 * and what was generated weighs as much as all songs. Prints how readings do on songs that were left out, five folds of whole songs
 * (--no-folds: not), and with --write puts the weights of a fit to all of them into src/core/recover/readings/reading-weights.ts. What is
 * learnt from depends on the weights to begin with (bench/readings/guess-table.ts): where features have changed, twice is better than once.
 * Takes some forty minutes and two gigabytes for 3,300 cases; the same cases and weights to begin with give the same weights.
 */
import { writeFileSync } from "node:fs";
import { READING_FEATURES } from "../../src/core/recover/readings/reading-score";
import { minimise } from "./lbfgs";
import { judge, percentRight, readCases, songOf, type Case, type Judged } from "./reading-cases";
import { bestGuess, guessTable } from "./guess-table";
import { variationsOf } from "./vary-cases";

const RIDGE = 2e-2;
/** Of each case so many variations, which together count so much of its song. */
const VARIED = { times: 12, share: 0.6 };
const FOLDS = 5;
const ITERATIONS = 200;
const OUT = "src/core/recover/readings/reading-weights.ts";
const NAMES = Object.values(READING_FEATURES).flat();

/** A song of which there is more counts more, by the root of it. @returns what each case counts, all together 1 */
function evenly(cases: readonly Case[]): number[] {
  const counts = new Map<string, number>();
  for (const one of cases) counts.set(songOf(one), (counts.get(songOf(one)) ?? 0) + 1);
  const total = [...counts.values()].reduce((sum, count) => sum + Math.sqrt(count), 0);
  return cases.map((one) => 1 / Math.sqrt(counts.get(songOf(one))!) / total);
}

/** Whole songs go to one fold; of what was generated each case goes by itself. */
function foldOf(name: string): number {
  let hash = 7;
  for (const letter of name) hash = (hash * 31 + letter.charCodeAt(0)) % 1_000_003;
  return hash % FOLDS;
}

const flags = process.argv.slice(2);
const files = flags.filter((flag) => !flag.startsWith("--"));
const madeAt = flags.indexOf("--synthetic");
const made = madeAt < 0 ? [] : readCases([flags[madeAt + 1]!]);
const isMade = new Set(made.map(({ id }) => id));
const songs = readCases(files).filter(({ id }) => !isMade.has(id));
const songFold = (one: Case) => foldOf(songOf(one));
const byFold = Array.from({ length: FOLDS }, (_, fold) => songs.filter((one) => songFold(one) === fold));
// What is laid over a case is left out with it.
const varied = variationsOf(songs, VARIED.times, (one) => byFold[songFold(one)]!);
const cases = [...songs, ...varied, ...made];
const folds = cases.map((one) => (isMade.has(one.id) ? foldOf(one.id) : songFold(one)));
const weights = Float64Array.from([
  ...evenly(songs).map((weight) => weight * (1 - VARIED.share)),
  ...evenly(varied).map((weight) => weight * VARIED.share),
  ...evenly(made),
]);
const table = guessTable(cases);

/** @returns what is added to a score for each feature, as it is */
function fit(caseWeights: Float64Array): Float64Array {
  const { scales } = table;
  const scaled = minimise((at) => table.loss(at, caseWeights, RIDGE), new Float64Array(scales.length), ITERATIONS);
  return scaled.map((weight, index) => weight / scales[index]!);
}

interface Left {
  readonly one: Case;
  readonly judged: Judged;
  readonly confidence: number;
}

/** How cases do that were left out when the weights were fitted. */
function leftOut(fold: number): readonly Left[] {
  const fitted = fit(weights.map((weight, index) => (folds[index] === fold ? 0 : weight)));
  console.log(`fold ${fold + 1} of ${FOLDS}`);
  return [...songs, ...made].flatMap((one) => {
    if ((isMade.has(one.id) ? foldOf(one.id) : songFold(one)) !== fold) return [];
    const best = bestGuess(one, fitted);
    return best ? [{ one, judged: judge(one, best.guess), confidence: best.confidence }] : [];
  });
}

function report(title: string, left: readonly Left[]): void {
  const judged = left.map((one) => one.judged);
  const keys = ["tempo", "near", "octave", "down", "bars", "loop", "all"] as const;
  console.log(
    `${title} (${judged.length}): ${keys.map((key) => `${key} ${percentRight(judged, key).toFixed(1)}`).join("  ")}`,
  );
}

function calibration(left: readonly Left[]): void {
  for (let from = 0.2; from < 0.95; from += 0.1) {
    const called = left.filter(
      ({ judged, confidence }) => judged.all !== undefined && confidence >= from && confidence < from + 0.1,
    );
    const right = called.filter(({ judged }) => judged.all).length / called.length;
    console.log(
      `called ${from.toFixed(1)} to ${(from + 0.1).toFixed(1)}: ${called.length}, ${(100 * right).toFixed(0)} % right`,
    );
  }
}

if (!flags.includes("--no-folds")) {
  const left = Array.from({ length: FOLDS }, (_, fold) => leftOut(fold)).flat();
  const real = left.filter(({ one }) => !isMade.has(one.id));
  report("songs left out", real);
  report(
    "of these, without those whose tempo may as well be half or twice as fast",
    real.filter(({ one }) => !one.tags.includes("feel:doubtful")),
  );
  if (made.length > 0)
    report(
      "generated, left out",
      left.filter(({ one }) => isMade.has(one.id)),
    );
  calibration(real);
}
if (flags.includes("--write")) {
  const fitted = fit(weights);
  const lines = NAMES.map((name, index) => `  ${JSON.stringify(name)}: ${Number(fitted[index]!.toPrecision(2))},\n`);
  const head =
    "/** What speaks how much for a reading; made by bench/readings/fit-readings.ts, never by hand (decision 29). */\n";
  writeFileSync(
    OUT,
    `${head}export const READING_WEIGHTS: Readonly<Record<string, number>> = {\n${lines.join("")}};\n`,
  );
  console.log(`${OUT}: ${NAMES.length} weights.`);
}
