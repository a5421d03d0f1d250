/**
 * Fits the weights of readings (docs/decisions/0029): conditional logit over all that is thought of, by L-BFGS, with a ridge.
 *   npx tsx bench/fit-readings.ts [--write] [--no-folds] [--synthetic MADE.json] CASES.json ...
 * Cases have the format of bench/reading-cases.ts. Songs weigh alike, and what was generated weighs as much as all songs. Prints how
 * readings do on songs that were left out, five folds of whole songs (--no-folds: not), and with --write puts the weights of a fit to all of them
 * into src/core/recover/reading-weights.ts. Takes some minutes and a gigabyte for 2,500 cases; the same cases give the same weights.
 */
import { writeFileSync } from "node:fs";
import { PHRASE_FEATURES } from "../src/core/recover/phrase-features";
import { READING_FEATURES } from "../src/core/recover/reading-score";
import { TEMPERATURE } from "../src/core/recover/readings";
import { minimise } from "./lbfgs";
import { judge, percentRight, readCases, songOf, type Case, type Judged } from "./reading-cases";
import { guessTable, GRADES, type GuessTable } from "./guess-table";

const RIDGE = 3e-3;
const FOLDS = 5;
const ITERATIONS = 100;
const OUT = "src/core/recover/reading-weights.ts";
const NAMES = [...READING_FEATURES.flat(), ...PHRASE_FEATURES];

/** What each case counts: songs alike, and styles together as much as songs. */
function weightsOf(cases: readonly Case[], synthetic: ReadonlySet<string>): Float64Array {
  const counts = new Map<string, number>();
  for (const one of cases) counts.set(songOf(one), (counts.get(songOf(one)) ?? 0) + 1);
  const weights = Float64Array.from(cases, (one) => 1 / counts.get(songOf(one))!);
  const isMade = cases.map(({ id }) => synthetic.has(id));
  const sum = (made: boolean) =>
    weights.reduce((all, weight, index) => (isMade[index] === made ? all + weight : all), 0);
  const [real, made] = [sum(false), sum(true)];
  return weights.map((weight, index) => (isMade[index] && real > 0 ? (weight * real) / made : weight));
}

/** Whole songs go to one fold; of what was generated each case goes by itself. */
function foldOf(one: Case, synthetic: ReadonlySet<string>): number {
  let hash = 7;
  for (const letter of synthetic.has(one.id) ? one.id : songOf(one))
    hash = (hash * 31 + letter.charCodeAt(0)) % 1_000_003;
  return hash % FOLDS;
}

/** @returns what is added to a score for each feature, as it is */
function fit(table: GuessTable, weights: Float64Array): Float64Array {
  const { scales } = table;
  const scaled = minimise((at) => table.loss(at, weights, RIDGE), new Float64Array(scales.length), ITERATIONS);
  return scaled.map((weight, index) => weight / scales[index]!);
}

function report(title: string, judged: readonly Judged[]): void {
  const keys = ["tempo", "near", "octave", "down", "bars", "loop", "all"] as const;
  console.log(
    `${title} (${judged.length}): ${keys.map((key) => `${key} ${percentRight(judged, key).toFixed(1)}`).join("  ")}`,
  );
}

const flags = process.argv.slice(2);
const files = flags.filter((flag) => !flag.startsWith("--"));
const madeAt = flags.indexOf("--synthetic");
const made = madeAt < 0 ? [] : readCases([flags[madeAt + 1]!]);
const synthetic = new Set(made.map(({ id }) => id));
const cases = readCases(files);
const table = guessTable(cases);
const weights = weightsOf(cases, synthetic);
const folds = cases.map((one) => foldOf(one, synthetic));
const left: { readonly one: Case; readonly judged: Judged; readonly confidence: number }[] = [];
for (let fold = 0; fold < FOLDS && !flags.includes("--no-folds"); fold++) {
  const fitted = fit(
    table,
    weights.map((weight, index) => (folds[index] === fold ? 0 : weight)),
  );
  cases.forEach((one, index) => {
    if (folds[index] !== fold || !table.has(index)) return;
    const { guess, confidence } = table.best(index, fitted, TEMPERATURE);
    left.push({ one, judged: judge(one, guess), confidence });
  });
  console.log(`fold ${fold + 1} of ${FOLDS}`);
}
const songs = left.filter(({ one }) => !synthetic.has(one.id));
report(
  "songs left out",
  songs.map(({ judged }) => judged),
);
if (made.length > 0)
  report(
    "generated, left out",
    left.filter(({ one }) => synthetic.has(one.id)).map(({ judged }) => judged),
  );
for (let from = 0.2; from < 0.95; from += 0.1) {
  const called = songs.filter(
    ({ judged, confidence }) => judged.all !== undefined && confidence >= from && confidence < from + 0.1,
  );
  const right = called.filter(({ judged }) => judged.all).length / called.length;
  console.log(
    `called ${from.toFixed(1)} to ${(from + 0.1).toFixed(1)}: ${called.length}, ${(100 * right).toFixed(0)} % right`,
  );
}
if (flags.includes("--write")) {
  const fitted = fit(table, weights);
  const lines = NAMES.map((name, index) => `  ${JSON.stringify(name)}: ${Number(fitted[index]!.toPrecision(2))},\n`);
  const head =
    "/** What speaks how much for a reading; made by bench/fit-readings.ts, never by hand (decision 29). */\n";
  writeFileSync(
    OUT,
    `${head}export const READING_WEIGHTS: Readonly<Record<string, number>> = {\n${lines.join("")}};\n`,
  );
  console.log(`${OUT}: ${NAMES.length} weights, of ${GRADES.length} grades of rightness.`);
}
