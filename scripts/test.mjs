/**
 * Everything that is checked, from a fresh clone: installs what is missing, then format, lint, types, layers, unit and
 * reference tests, the build, and the browser tests. Ends with one line: N passed, N failed.
 */
import { spawnSync } from "node:child_process";
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

/** A step that is right or wrong as a whole. */
function check(name, command, args) {
  console.log(`== ${name}`);
  const right = run(command, args);
  count(name, right ? 1 : 0, right ? 0 : 1);
  return right;
}

const bin = (name) => `node_modules/.bin/${name}`;
const results = mkdtempSync(join(tmpdir(), "pocket-tests-"));

/** Runs a test runner that leaves its figures in a file; no file is one failure. */
function runner(name, args, env, read) {
  console.log(`== ${name}`);
  const file = join(results, `${name}.json`);
  const right = run(args[0], args.slice(1).concat(name === "unit" ? [`--outputFile=${file}`] : []), {
    ...env,
    TEST_JSON: file,
  });
  if (!existsSync(file)) return count(name, 0, 1);
  const { passed, failed } = read(JSON.parse(readFileSync(file, "utf8")));
  count(name, passed, failed === 0 && !right ? 1 : failed);
}

install();
installTools();
check("generate", "node", ["scripts/generate.mjs"]);
check("format", bin("prettier"), ["--check", "."]);
check("lint", bin("eslint"), ["."]);
check("types", bin("tsc"), ["--noEmit"]);
check("layers", bin("depcruise"), ["src", "cli", "--config", ".dependency-cruiser.cjs"]);
runner("unit", [bin("jest"), "--json", "--silent"], {}, (jest) => ({
  passed: jest.numPassedTests,
  failed: jest.numFailedTests + jest.numRuntimeErrorTestSuites,
}));
if (check("build", bin("next"), ["build"])) {
  runner("browser", [bin("playwright"), "test"], {}, ({ stats }) => ({
    passed: stats.expected,
    failed: stats.unexpected + stats.flaky + stats.skipped,
  }));
}
console.log(`${counts.passed} passed, ${counts.failed} failed`);
process.exit(counts.failed === 0 ? 0 : 1);
