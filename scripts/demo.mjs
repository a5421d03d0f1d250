/** Installs, builds and serves the app with its demo beats on PORT or 3000, for this machine unless HOST says otherwise. */
import { spawn, spawnSync } from "node:child_process";
import { install } from "./install.mjs";

install();
const { status } = spawnSync("npm", ["run", "build"], { stdio: "inherit" });
if (status !== 0) process.exit(status ?? 1);

const server = spawn("node", ["scripts/serve.mjs"], {
  stdio: "inherit",
  env: { ...process.env, NODE_ENV: "production" },
});
for (const signal of ["SIGINT", "SIGTERM"]) process.on(signal, () => server.kill(signal));
server.on("exit", (code) => process.exit(code ?? 0));
