/** Installs packages when there are none or the lock file has changed; quick when there is nothing to do. */
import { spawnSync } from "node:child_process";
import { createHash } from "node:crypto";
import { existsSync, readFileSync, writeFileSync } from "node:fs";

const mark = "node_modules/.installed-lock";

export function install() {
  const lock = createHash("sha256").update(readFileSync("package-lock.json")).digest("hex");
  if (existsSync(mark) && readFileSync(mark, "utf8") === lock) return;
  // Not `npm ci`: a lock file made on one platform may lack another platform's builds of Next's compiler, which are
  // optional; `npm ci` then refuses the whole file, `npm install` takes the locked versions and goes on.
  // Development packages whatever NODE_ENV says: the mark below is for all commands, the tests among them.
  // To standard error, so that a command's own output stays clean.
  const options = ["--include=dev", "--no-audit", "--no-fund", "--no-save"];
  const { status } = spawnSync("npm", ["install", ...options], { stdio: ["ignore", 2, 2] });
  if (status !== 0) process.exit(status ?? 1);
  writeFileSync(mark, lock);
}
