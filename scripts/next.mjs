/** `node scripts/next.mjs build` or `dev`: the framework's own commands, with its telemetry off. */
import { spawnSync } from "node:child_process";

const env = { ...process.env, NEXT_TELEMETRY_DISABLED: "1" };
const { status } = spawnSync("node_modules/.bin/next", process.argv.slice(2), { stdio: "inherit", env });
process.exit(status ?? 1);
