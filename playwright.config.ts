import { defineConfig } from "@playwright/test";
import { CHROMIUM } from "./scripts/chromium";

/** Tests of how quick the app is on this machine, which has to itself what they measure. */
const MACHINE = /machine\.spec\.ts/;

/** One worker, unless asked for more. */
export default defineConfig({
  testDir: "tests/e2e",
  projects: [
    { name: "pages", testIgnore: MACHINE },
    { name: "machine", testMatch: MACHINE },
    // No part of the tests, but of `npm run soak`.
    { name: "soak", testMatch: /\.soak\.ts/ },
  ],
  fullyParallel: true,
  workers: 1,
  // Generous: on a machine that others use the browser may get a fifth of the time; a test that hangs still ends.
  timeout: 300_000,
  expect: { timeout: 60_000 },
  reporter: process.env.TEST_JSON ? [["line"], ["json", { outputFile: process.env.TEST_JSON }]] : "line",
  use: {
    // The server takes a free port and says which; it is known by the time that a test begins.
    baseURL: `http://localhost:${process.env.SERVED_PORT}`,
    // A copy for offline use is made in its own test only: elsewhere it would take time from what is tested.
    serviceWorkers: "block",
    viewport: { width: 1280, height: 800 },
    actionTimeout: 60_000,
    launchOptions: CHROMIUM,
  },
  webServer: {
    command: "node tests/e2e/support/serve.mjs",
    env: { NODE_ENV: "production" },
    wait: { stdout: /Serving at port (?<served_port>\d+)/ },
  },
});
