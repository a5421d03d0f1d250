import { spawn, spawnSync } from "node:child_process";
import { existsSync, mkdtempSync, readFileSync, rmSync } from "node:fs";
import { constants, setPriority, tmpdir } from "node:os";
import { join, resolve } from "node:path";

/** Scratch folder of a run, for whatever its commands make; deleted when the run ends. */
export const scratch = mkdtempSync(join(tmpdir(), "pocket-"));
process.on("exit", () => rmSync(scratch, { recursive: true, force: true, maxRetries: 3 }));
for (const signal of ["SIGINT", "SIGTERM"]) process.on(signal, () => process.exit(1));
/** Caches outlive the run. */
const CACHES = { PWTEST_CACHE_DIR: resolve("node_modules/.cache/playwright") };

/** Of proc(5): on Linux such a tick is a hundredth of a second. */
const TICKS_PER_SECOND = 100;
/** Of `/proc/self/stat`, behind the name: what children took that have ended and been waited for, in the user's code and in the system's. */
const [CHILDREN_USER, CHILDREN_SYSTEM] = [13, 14];

/** Processor time of all commands that have ended, with what they had started; NaN where the system does not tell. */
function childrenSeconds() {
  if (!existsSync("/proc/self/stat")) return NaN;
  const fields = readFileSync("/proc/self/stat", "utf8").split(") ").at(-1).split(" ");
  return (Number(fields[CHILDREN_USER]) + Number(fields[CHILDREN_SYSTEM])) / TICKS_PER_SECOND;
}

/** The tests are development, whatever the environment says; the framework's telemetry is off. */
function environment(more) {
  const env = { ...process.env, NEXT_TELEMETRY_DISABLED: "1", TMPDIR: scratch, ...CACHES, ...more };
  delete env.NODE_ENV;
  return env;
}

/**
 * Runs a command; what it prints is printed in one piece when it is done, as others may run beside it.
 * @param env added to the environment
 * @returns `right`: it ended with status 0; seconds by the clock, and of the processor
 */
export async function runCommand(name, [command, ...args], env = {}) {
  const start = performance.now();
  const child = spawn(command, args, { env: environment(env), stdio: ["ignore", "pipe", "pipe"] });
  const printed = [];
  child.stdout.on("data", (data) => printed.push(data));
  child.stderr.on("data", (data) => printed.push(data));
  let processorSeconds = NaN;
  const right = await new Promise((done) => {
    // It has been waited for only now, and no other one since: what is more is its own.
    let before = childrenSeconds();
    const others = setInterval(() => (before = childrenSeconds()), 50);
    child.on("exit", () => {
      clearInterval(others);
      processorSeconds = childrenSeconds() - before;
    });
    child.on("close", (status) => done(status === 0));
    child.on("error", () => done(false));
  });
  console.log(`== ${name}`);
  process.stdout.write(Buffer.concat(printed));
  return { right, seconds: (performance.now() - start) / 1000, processorSeconds };
}

/**
 * What still runs goes on at the usual priority: nothing of ours is waited for any more, and beside others' work a low one would get next
 * to nothing. Where the system does not allow it, or does not tell what runs, all goes on as it did.
 */
export function hastenTheRest() {
  const { stdout } = spawnSync("ps", ["-A", "-o", "pid=,ppid="], { encoding: "utf8" });
  const processes = (stdout ?? "")
    .trim()
    .split("\n")
    .map((line) => line.trim().split(/\s+/).map(Number));
  const hasten = (parent) => {
    for (const [pid, from] of processes) {
      if (from !== parent) continue;
      try {
        setPriority(pid, constants.priority.PRIORITY_NORMAL);
      } catch {
        // Only some may raise a priority, and it may have ended.
      }
      hasten(pid);
    }
  };
  hasten(process.pid);
}

/** @returns the table of where the time went, as lines. @param rows name, seconds, and of the processor where it is known */
export function timeTable(title, rows) {
  const width = Math.max(title.length, ...rows.map(({ name }) => name.length));
  const figure = (seconds) => (Number.isNaN(seconds ?? NaN) ? "" : seconds.toFixed(1)).padStart(11);
  const line = (name, seconds, processor) => `${name.padEnd(width)}${seconds}${processor}`.trimEnd();
  return [
    line(title, "seconds".padStart(11), "processor".padStart(11)),
    ...rows.map(({ name, seconds, processorSeconds }) => line(name, figure(seconds), figure(processorSeconds))),
  ];
}
