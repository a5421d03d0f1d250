/** `node scripts/with-install.mjs COMMAND ARGS…`: installs and generates what is missing, then runs a packaged command. */
import { spawnSync } from "node:child_process";
import { existsSync } from "node:fs";
import { install } from "./install.mjs";

install();
if (!existsSync("src/core/formats/generated/beat-validator.js")) {
  const { status } = spawnSync("node", ["scripts/generate.mjs"], { stdio: ["ignore", 2, 2] });
  if (status !== 0) process.exit(status ?? 1);
}
const [command, ...args] = process.argv.slice(2);
const { status } = spawnSync(`node_modules/.bin/${command}`, args, { stdio: "inherit" });
process.exit(status ?? 1);
