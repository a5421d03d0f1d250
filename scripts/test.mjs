/**
 * Everything that is checked, from a fresh clone: installs what is missing, then format, lint, types, layers, unit and
 * reference tests, the build, and the browser tests. Says where the time went, and ends with one line: N passed, N failed.
 */
import { spawnSync } from "node:child_process";
import { existsSync, readFileSync } from "node:fs";
import { join } from "node:path";
import { install } from "./install.mjs";
import { readJest, readPlaywright } from "./test-results.mjs";
import { hastenTheRest, runCommand, scratch, timeTable } from "./test-steps.mjs";

/** Debian packages of the browser and of the readers and players that check our files. */
const TOOLS = {
  chromium: "chromium",
  "python3-mido": "/usr/lib/python3/dist-packages/mido",
  midicsv: "midicsv",
  fluidsynth: "fluidsynth",
  "timgm6mb-soundfont": "/usr/share/sounds/sf2/TimGM6mb.sf2",
  "sndfile-programs": "sndfile-info",
  sox: "sox",
  "planetblupi-music-midi": "/usr/share/planetblupi/music",
};
/** Files that took less are no line of the table. */
const SHOWN_SECONDS = 3;

const present = (place) => (place.startsWith("/") ? existsSync(place) : spawnSync("which", [place]).status === 0);

function installTools() {
  const missing = Object.keys(TOOLS).filter((name) => !present(TOOLS[name]));
  if (missing.length === 0) return;
  console.log(`Installing ${missing.join(", ")}`);
  const env = { ...process.env, DEBIAN_FRONTEND: "noninteractive" };
  for (const args of [
    ["update", "-qq"],
    ["install", "-y", "-qq", "--no-install-recommends", ...missing],
  ])
    spawnSync("apt-get", args, { stdio: "inherit", env });
}

/** At a lower priority: it takes what time the browser tests leave, and a little more, so that it never stands still. */
const GIVING_WAY = ["nice", "-n", "10"];
const bin = (name) => `node_modules/.bin/${name}`;
const counts = { passed: 0, failed: 0 };
const steps = [];
const files = [];

function count(name, { passed, failed }) {
  counts.passed += passed;
  counts.failed += failed;
  console.log(`== ${name}: ${passed} passed, ${failed} failed\n`);
}

/** A step that is right or wrong as a whole. */
async function check(name, command) {
  const { right, ...took } = await runCommand(name, command);
  steps.push({ name, ...took });
  count(name, { passed: right ? 1 : 0, failed: right ? 0 : 1 });
  return right;
}

/** A step that leaves a file of results; no file is one failure. @param command of the file's path */
async function tests(name, command, read) {
  const file = join(scratch, `${name}.json`);
  const { right, ...took } = await runCommand(name, command(file), { TEST_JSON: file });
  steps.push({ name, ...took });
  if (!existsSync(file)) return count(name, { passed: 0, failed: 1 });
  const found = read(JSON.parse(readFileSync(file, "utf8")));
  files.push(...found.files);
  count(name, { ...found, failed: found.failed === 0 && !right ? 1 : found.failed });
}

/** @param workers at a time */
const browserTests = (project, workers) =>
  tests(project, () => [bin("playwright"), "test", `--project=${project}`, `--workers=${workers}`], readPlaywright);

const unitTests = () =>
  tests(
    "unit",
    (file) => [...GIVING_WAY, bin("jest"), "--maxWorkers=2", "--json", "--silent", `--outputFile=${file}`],
    (found) => readJest(found, process.cwd()),
  );

async function checks() {
  await check("format", ["node", "scripts/lint.mjs", "format"]);
  await check("lint", ["node", "scripts/lint.mjs", "code"]);
  await check("types of schemas", ["node", "scripts/schema-types.mjs"]);
  await check("types", [bin("tsc"), "--noEmit"]);
  await check("layers", ["node", "scripts/layers.mjs"]);
}

const start = performance.now();
install();
installTools();
const installed = (performance.now() - start) / 1000;
if (installed > SHOWN_SECONDS) steps.push({ name: "install", seconds: installed });
await check("generate", ["node", "scripts/generate.mjs"]);
// Two cores have something to do all the time: browser tests wait for their pages now and then.
const units = unitTests();
const [built] = await Promise.all([check("build", ["node", "scripts/next.mjs", "build"]), checks()]);
if (built) {
  // These measure how quick the app is: beside them only that goes on which gives way.
  await browserTests("machine", 1);
  await browserTests("pages", 2);
} else count("browser tests", { passed: 0, failed: 1 });
hastenTheRest();
await units;

const slow = files.filter(({ seconds }) => seconds >= SHOWN_SECONDS).sort((a, b) => b.seconds - a.seconds);
const rest = files.filter(({ seconds }) => seconds < SHOWN_SECONDS);
const restSeconds = rest.reduce((sum, { seconds }) => sum + seconds, 0);
const all = (performance.now() - start) / 1000;
console.log(timeTable("step", [...steps, { name: "all", seconds: all }]).join("\n"));
console.log(`\n${timeTable("file", [...slow, { name: `${rest.length} others`, seconds: restSeconds }]).join("\n")}\n`);
console.log(`${counts.passed} passed, ${counts.failed} failed`);
process.exit(counts.failed === 0 ? 0 : 1);
