/**
 * Puts small faults into the code, folder by folder, and counts how many the tests notice.
 * `npm run mutants` does all folders, `npm run mutants -- core/timing store` those; what was found is kept in build/mutants, so
 * that only what has changed is tried again.
 */
import { spawnSync } from "node:child_process";
import { existsSync, mkdirSync, readFileSync } from "node:fs";
import { install } from "./install.mjs";

/** By folder of src: the score that it must reach, and the tests that its mutants are shown to. */
const FOLDERS = {
  "core/time": {
    least: 75,
    tests: ["src/core/time/*.test.ts", "src/core/timing/*.test.ts", "src/core/record/*.test.ts"],
  },
  "core/timing": {
    least: 75,
    tests: ["src/core/timing/*.test.ts", "src/core/analysis/*.test.ts", "src/core/playback/*.test.ts"],
  },
  "core/beat": {
    least: 75,
    tests: ["src/core/record/*.test.ts", "src/core/timing/keep-timing.test.ts", "src/core/formats/*.test.ts"],
  },
  "core/record": { least: 75, tests: ["src/core/record/*.test.ts", "src/store/boundaries.test.ts"] },
  "core/playback": { least: 75, tests: ["src/core/playback/*.test.ts", "src/core/sound/*.test.ts"] },
  "core/sound": { least: 75, tests: ["src/core/sound/*.test.ts", "src/core/playback/boundaries.test.ts"] },
  "core/recover": { least: 75, tests: ["src/core/recover/*.test.ts"] },
  store: {
    least: 65,
    tests: [
      "src/store/{session,boundaries,echo-desk,patterns-and-repeat,store,timing-control}.test.ts",
      "src/store/persistence/*.test.ts",
    ],
  },
};

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
