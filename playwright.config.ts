import { execFileSync } from "node:child_process";
import { defineConfig } from "@playwright/test";

const PORT = 3457;

/** Tests of how quick the app is on this machine, which has to itself what they measure. */
const MACHINE = /machine\.spec\.ts/;

/** One worker, unless asked for more. */
export default defineConfig({
  testDir: "tests/e2e",
  projects: [
    { name: "pages", testIgnore: MACHINE },
    { name: "machine", testMatch: MACHINE },
  ],
  fullyParallel: true,
  workers: 1,
  // Generous: on a machine that others use the browser may get a fifth of the time; a test that hangs still ends.
  timeout: 300_000,
  expect: { timeout: 60_000 },
  reporter: process.env.TEST_JSON ? [["line"], ["json", { outputFile: process.env.TEST_JSON }]] : "line",
  use: {
    baseURL: `http://localhost:${PORT}`,
    // A copy for offline use is made in its own test only: elsewhere it would take time from what is tested.
    serviceWorkers: "block",
    viewport: { width: 1280, height: 800 },
    actionTimeout: 60_000,
    launchOptions: {
      executablePath: execFileSync("which", ["chromium"], { encoding: "utf8" }).trim(),
      args: [
        "--no-sandbox",
        "--autoplay-policy=no-user-gesture-required",
        "--disable-background-networking",
        "--disable-component-update",
      ],
    },
  },
  webServer: {
    command: `PORT=${PORT} NODE_ENV=production node scripts/serve.mjs`,
    url: `http://localhost:${PORT}/icon.svg`,
    stdout: "ignore",
  },
});
