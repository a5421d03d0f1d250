import { execFileSync } from "node:child_process";
import { defineConfig } from "@playwright/test";

const PORT = 3457;

/** Tests that are about what is on the page; the others listen to real time. */
const PAGES = /(access|keeping|offline|timing)\.spec\.ts/;

/** One worker, unless asked for more: two at once compete for the two cores that the project plans for. */
export default defineConfig({
  testDir: "tests/e2e",
  projects: [
    { name: "pages", testMatch: PAGES },
    { name: "sound", testIgnore: PAGES },
  ],
  fullyParallel: true,
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
    actionTimeout: 30_000,
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
