/**
 * Puts small faults into the code, folder by folder, and counts how many the tests notice.
 * `npm run mutants` does all folders, `npm run mutants -- core/timing store` those; what was found is kept in build/mutants, so
 * that only what has changed is tried again.
 */
import { spawnSync } from "node:child_process";
import { existsSync, mkdirSync, readFileSync } from "node:fs";
import { install } from "./install.mjs";

/** By folder of src: the score that it must reach, and the tests that its mutants are shown to, the quickest first. */
const FOLDERS = {
  "core/time": { least: 75, tests: ["time/time", "timing/timing", "record/record"].map(inCore) },
  "core/timing": {
    least: 75,
    tests: [
      "timing/timing",
      "timing/groove",
      "timing/keep-timing",
      "playback/compile-events",
      "playback/groove-change",
    ].map(inCore),
  },
  "core/beat": { least: 75, tests: ["beat/history", "beat/edit", "record/record"].map(inCore) },
  "core/record": { least: 75, tests: ["record/record"].map(inCore) },
  "core/playback": {
    least: 75,
    tests: ["playback/compile-events", "playback/groove-change", "playback/boundaries"].map(inCore),
  },
  "core/sound": { least: 75, tests: ["sound/mix", "sound/voices", "sound/player", "sound/sound"].map(inCore) },
  "core/recover": { least: 75, tests: ["recover/echo", "recover/pulse", "recover/readings"].map(inCore) },
  store: {
    least: 65,
    tests: [
      "src/store/{patterns-and-repeat,timing-control,echo-desk,boundaries,store,session}.test.ts",
      "src/store/persistence/*.test.ts",
    ],
  },
};

function inCore(name) {
  return `src/core/${name}.test.ts`;
}

function run(folder) {
  const { tests } = FOLDERS[folder];
  const name = folder.replace("/", "-");
  const env = { ...process.env, MUTANT_FOLDER: folder, MUTANT_TESTS: tests.join(","), MUTANT_NAME: name };
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
const asked = process.argv.slice(2);
for (const folder of asked.filter((name) => !FOLDERS[name]))
  throw new Error(`${folder} is none of ${Object.keys(FOLDERS)}.`);
const rows = (asked.length > 0 ? asked : Object.keys(FOLDERS)).map((folder) => {
  const report = run(folder);
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
