/** Installs, builds and serves the app with its demo beats on PORT or 3000. */
import { spawn, spawnSync } from "node:child_process";
import { install } from "./install.mjs";

const port = process.env.PORT || "3000";

install();
const { status } = spawnSync("npm", ["run", "build"], { stdio: "inherit" });
if (status !== 0) process.exit(status ?? 1);

const server = spawn("node_modules/.bin/next", ["start", "-p", port], { stdio: ["inherit", "pipe", "inherit"] });
server.stdout.on("data", (text) => {
  process.stdout.write(text);
  if (String(text).includes("Ready")) console.log(`\nEcho Pocket is at http://localhost:${port}\n`);
});
for (const signal of ["SIGINT", "SIGTERM"]) process.on(signal, () => server.kill(signal));
server.on("exit", (code) => process.exit(code ?? 0));
