/**
 * Puts small faults into the code, folder by folder, and counts how many the tests notice.
 * `npm run mutants` does all folders, `npm run mutants -- core/timing store` those; what was found is kept in build/mutants, so
 * that only what has changed is tried again. Of the largest folders it takes some stretches of lines, so that each is done
 * within half an hour on two cores; `--whole` takes all of them.
 */
import { spawnSync } from "node:child_process";
import { existsSync, mkdirSync, readdirSync, readFileSync } from "node:fs";
import { install } from "./install.mjs";

/** Lines of a stretch; what reaches over its ends is left out. */
const STRETCH_LINES = 15;

/**
 * By folder of src: the score that it must reach, the tests that its mutants are shown to, the quickest first, and of how
 * many stretches of lines one is taken.
 */
const FOLDERS = {
  "core/time": { least: 75, tests: ["time/time", "timing/timing", "record/record"].map(inCore) },
  "core/timing": {
    least: 75,
    tests: [
      "timing/timing",
      "timing/fit-swing",
      "timing/groove",
      "timing/keep-timing",
      "playback/compile-events",
      "playback/groove-change",
      "playback/remembered",
    ].map(inCore),
  },
  "core/beat": {
    least: 75,
    oneIn: 4,
    tests: ["beat/history", "beat/edits/edit", "beat/lanes", "record/record"].map(inCore),
  },
  "core/record": { least: 75, tests: ["record/record"].map(inCore) },
  "core/playback": {
    least: 75,
    tests: ["playback/compile-events", "playback/groove-change", "playback/boundaries", "playback/remembered"].map(
      inCore,
    ),
  },
  "core/sound": {
    least: 75,
    oneIn: 30,
    tests: [
      "sound/mix/mix",
      "sound/kits/voices",
      "sound/player/track",
      "sound/player/player",
      "sound/sound",
      "sound/voices/voices",
    ].map(inCore),
  },
  "core/recover": {
    least: 75,
    oneIn: 16,
    tests: [
      "recover/echo",
      "recover/pulse/pulse-search",
      "recover/features/again-features",
      "recover/readings/pulse",
      "recover/readings/odd-meters",
      "recover/readings/readings",
    ].map(inCore),
  },
  "core/analysis": { least: 75, oneIn: 4, tests: ["analysis/timing-stats", "analysis/grid-advice"].map(inCore) },
  store: {
    least: 65,
    oneIn: 24,
    tests: [
      "workspace/store",
      "timing/timing-control",
      "timing/hearing",
      "workspace/patterns-and-repeat",
      "workspace/parts",
      "engine/transport-control",
      "input/several-hands",
      "workspace/tonal",
      "persistence/autosave",
      "persistence/tables/lookback-table",
      "persistence/keeping",
      "workspace/boundaries",
      "echoes/echo-review",
      "workspace/session",
      "persistence/first-version",
    ].map(inStore),
  },
};

function inCore(name) {
  return `src/core/${name}.test.ts`;
}

function inStore(name) {
  return `src/store/${name}.test.ts`;
}

/** The files of a folder, of the largest ones some of their lines, as Stryker's `mutate` has it. */
function placesOf(folder, oneIn) {
  const files = readdirSync(`src/${folder}`, { recursive: true, withFileTypes: true })
    .filter((entry) => entry.isFile() && entry.name.endsWith(".ts") && !entry.name.includes(".test."))
    .map(({ parentPath, name }) => `${parentPath}/${name}`)
    .sort();
  if (oneIn === 1) return files;
  let stretch = 0;
  return files.flatMap((file) => {
    const lines = readFileSync(file, "utf8").split("\n").length;
    const starts = Array.from({ length: Math.ceil(lines / STRETCH_LINES) }, (_, at) => at * STRETCH_LINES + 1);
    return starts
      .filter(() => stretch++ % oneIn === 0)
      .map((start) => `${file}:${start}-${Math.min(lines, start + STRETCH_LINES - 1)}`);
  });
}

function run(folder, whole) {
  const { tests, oneIn = 1 } = FOLDERS[folder];
  const name = folder.replace("/", "-");
  const places = placesOf(folder, whole ? 1 : oneIn).join(",");
  const env = { ...process.env, MUTANT_PLACES: places, MUTANT_TESTS: tests.join(","), MUTANT_NAME: name };
  mkdirSync("build/mutants", { recursive: true });
  spawnSync("node_modules/.bin/stryker", ["run", "stryker.config.mjs"], { stdio: "inherit", env });
  return `build/mutants/${name}.report.json`;
}

/** @returns how many mutants were noticed, and how many not, by file */
function count(report) {
  const noticed = new Set(["Killed", "Timeout"]);
  const missed = new Set(["Survived", "NoCoverage"]);
  const { files } = JSON.parse(readFileSync(report, "utf8"));
  const all = Object.values(files).flatMap(({ mutants }) => mutants);
  const of = (set) => all.filter(({ status }) => set.has(status)).length;
  return { noticed: of(noticed), missed: of(missed) };
}

install();
spawnSync("node", ["scripts/generate.mjs"], { stdio: "ignore" });
const whole = process.argv.includes("--whole");
const asked = process.argv.slice(2).filter((argument) => argument !== "--whole");
for (const folder of asked.filter((name) => !FOLDERS[name]))
  throw new Error(`${folder} is none of ${Object.keys(FOLDERS)}.`);
const rows = (asked.length > 0 ? asked : Object.keys(FOLDERS)).map((folder) => {
  const report = run(folder, whole);
  if (!existsSync(report)) return { folder, score: "none", least: FOLDERS[folder].least };
  const { noticed, missed } = count(report);
  const score = (100 * noticed) / (noticed + missed);
  return {
    folder,
    mutants: noticed + missed,
    missed,
    "score %": Number(score.toFixed(1)),
    "least %": FOLDERS[folder].least,
  };
});
console.table(rows);
if (rows.some((row) => !(row["score %"] >= row["least %"]))) process.exitCode = 1;
