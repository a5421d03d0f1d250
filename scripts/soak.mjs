/**
 * `npm run soak -- 60` goes on for so many minutes (30): kills of the browser, tabs, spoilt files and all that is drawn by
 * chance, each round with seeds of its own, and ten minutes of playing, with what the page holds before and after. Ends with
 * one line: N passed, N failed. SOAK_ROUND is the round to begin with.
 */
import { existsSync, readFileSync, rmSync } from "node:fs";
import { join } from "node:path";
import { install } from "./install.mjs";
import { readJest, readPlaywright } from "./test-results.mjs";
import { runCommand, scratch } from "./test-steps.mjs";

const minutes = Number(process.argv[2] ?? 30);
if (!(minutes > 0)) throw new Error(`How many minutes is that: ${process.argv[2]}?`);
const endMs = Date.now() + minutes * 60_000;
const file = join(scratch, "results.json");
const bin = (name) => `node_modules/.bin/${name}`;
const counts = { passed: 0, failed: 0 };

/** @param seeds of the round, for what is drawn */
async function tests(name, command, read, seeds) {
  if (Date.now() > endMs) return;
  rmSync(file, { force: true });
  const { right, seconds } = await runCommand(name, command, { TEST_JSON: file, SOAK_ROUND: String(seeds) });
  const found = existsSync(file) ? read(JSON.parse(readFileSync(file, "utf8"))) : { passed: 0, failed: 1 };
  const failed = found.failed === 0 && !right ? 1 : found.failed;
  counts.passed += found.passed;
  counts.failed += failed;
  console.log(`== ${name}: ${found.passed} passed, ${failed} failed, ${seconds.toFixed(0)} s\n`);
}

install();
for (const [name, command] of [
  ["generate", ["node", "scripts/generate.mjs"]],
  ["build", ["node", "scripts/next.mjs", "build"]],
])
  if (!(await runCommand(name, command)).right) process.exit(1);

const browser = (...args) => [bin("playwright"), "test", "--workers=1", ...args];
for (let round = Number(process.env.SOAK_ROUND ?? 0); Date.now() < endMs; round++) {
  await tests(
    `round ${round}, kills and quickness`,
    browser("--project=pages", "--project=machine", "kills", "machine"),
    readPlaywright,
    round,
  );
  await tests(
    `round ${round}, seeds`,
    [bin("jest"), "--config=jest.soak.config.mjs", "--maxWorkers=2", "--json", "--silent", `--outputFile=${file}`],
    (found) => readJest(found, process.cwd()),
    round,
  );
  await tests(`round ${round}, playing`, browser("--project=soak"), readPlaywright, round);
}
console.log(`${counts.passed} passed, ${counts.failed} failed`);
process.exit(counts.failed === 0 ? 0 : 1);
