/**
 * Everything that is checked, from a fresh clone: installs what is missing, then format, lint, types, layers, unit and
 * reference tests, the build, and the browser tests. Ends with one line: N passed, N failed.
 */
import { spawn, spawnSync } from "node:child_process";
import { existsSync, mkdtempSync, readFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { install } from "./install.mjs";

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

const run = (command, args, env = {}) =>
  spawnSync(command, args, { stdio: "inherit", env: { ...process.env, ...env } }).status === 0;
const present = (place) => (place.startsWith("/") ? existsSync(place) : spawnSync("which", [place]).status === 0);

function installTools() {
  const missing = Object.keys(TOOLS).filter((name) => !present(TOOLS[name]));
  if (missing.length === 0) return;
  console.log(`Installing ${missing.join(", ")}`);
  run("apt-get", ["update", "-qq"]);
  run("apt-get", ["install", "-y", "-qq", "--no-install-recommends", ...missing], {
    DEBIAN_FRONTEND: "noninteractive",
  });
}

const counts = { passed: 0, failed: 0 };
function count(name, passed, failed) {
  counts.passed += passed;
  counts.failed += failed;
  console.log(`== ${name}: ${passed} passed, ${failed} failed\n`);
}

/** Runs a command beside others; what it prints is printed in one piece when it is done. */
async function runBeside(name, command, args, env = {}) {
  const child = spawn(command, args, { env: { ...process.env, ...env }, stdio: ["ignore", "pipe", "pipe"] });
  const printed = [];
  child.stdout.on("data", (data) => printed.push(data));
  child.stderr.on("data", (data) => printed.push(data));
  const status = await new Promise((done) => {
    child.on("close", done);
    child.on("error", () => done(1));
  });
  console.log(`== ${name}`);
  process.stdout.write(Buffer.concat(printed));
  return status === 0;
}

/** A step that is right or wrong as a whole. */
async function check(name, command, args) {
  const right = await runBeside(name, command, args);
  count(name, right ? 1 : 0, right ? 0 : 1);
  return right;
}

const bin = (name) => `node_modules/.bin/${name}`;
const results = mkdtempSync(join(tmpdir(), "pocket-tests-"));

/** What a test runner left in a file; no file is one failure. */
function countFile(name, right, file, read) {
  if (!existsSync(file)) return count(name, 0, 1);
  const { passed, failed } = read(JSON.parse(readFileSync(file, "utf8")));
  count(name, passed, failed === 0 && !right ? 1 : failed);
}

async function unitTests() {
  const file = join(results, "unit.json");
  const right = await runBeside("unit", bin("jest"), ["--maxWorkers=2", "--json", "--silent", `--outputFile=${file}`]);
  countFile("unit", right, file, (jest) => ({
    passed: jest.numPassedTests,
    failed: jest.numFailedTests + jest.numRuntimeErrorTestSuites,
  }));
}

/** @returns true when there is something to open in a browser */
async function codeAndBuild() {
  await check("format", bin("prettier"), ["--check", "."]);
  await check("lint", bin("eslint"), ["."]);
  await check("types", bin("tsc"), ["--noEmit"]);
  await check("layers", bin("depcruise"), ["src", "cli", "--config", ".dependency-cruiser.cjs"]);
  return check("build", bin("next"), ["build"]);
}

/** @param project of the Playwright configuration. @param workers at a time */
function browserTests(project, workers) {
  console.log(`== ${project}`);
  const file = join(results, `${project}.json`);
  const right = run(bin("playwright"), ["test", `--project=${project}`, `--workers=${workers}`], { TEST_JSON: file });
  countFile(project, right, file, ({ stats }) => ({
    passed: stats.expected,
    failed: stats.unexpected + stats.flaky + stats.skipped,
  }));
}

install();
installTools();
await check("generate", "node", ["scripts/generate.mjs"]);
const [built] = await Promise.all([codeAndBuild(), unitTests()]);
if (built) {
  browserTests("pages", 2);
  // Alone: they measure how quick it is.
  browserTests("machine", 1);
}
console.log(`${counts.passed} passed, ${counts.failed} failed`);
process.exit(counts.failed === 0 ? 0 : 1);
