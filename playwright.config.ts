import { execFileSync } from "node:child_process";
import { defineConfig } from "@playwright/test";

const PORT = 3457;

/** One worker: the tests listen to real time, and two at once would compete for the two cores the project plans for. */
export default defineConfig({
  testDir: "tests/e2e",
  workers: 1,
  // Generous: on a machine that others use the browser gets half the time; a test that hangs still ends.
  timeout: 180_000,
  expect: { timeout: 20_000 },
  reporter: process.env.TEST_JSON ? [["line"], ["json", { outputFile: process.env.TEST_JSON }]] : "line",
  use: {
    baseURL: `http://localhost:${PORT}`,
    // A copy for offline use is made in its own test only: elsewhere it would take time from what is listened to.
    serviceWorkers: "block",
    viewport: { width: 1280, height: 800 },
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
    command: `node_modules/.bin/next start -p ${PORT}`,
    url: `http://localhost:${PORT}/icon.svg`,
    stdout: "ignore",
  },
});
