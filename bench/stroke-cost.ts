import type { Page } from "@playwright/test";
import type { Beat } from "../src/core/beat/beat";
import type { ServedBrowser } from "../scripts/server/served-browser";
import { waitUntilReady } from "../scripts/server/served-browser";
import { manyEchoes, store } from "../tests/support/browser-store";
import type { Row } from "./row";

/** Pairs of recording without a stroke and with some; what a noisy neighbour does to one does it mostly to both. */
const PAIRS = 6;
const STROKES = 10;
const [DOWN_MS, UP_MS] = [60, 140];
const KEYS = "zxcvb";

/** What a stroke costs the page's main thread, key down and up, beside recording without one: processor time, by the middle pair. */
export async function strokeCostRow(served: ServedBrowser, beat: Beat): Promise<Row> {
  const page = await served.openShelf();
  await store(page, [beat], manyEchoes());
  await page.goto(`${served.url}/beat/${beat.id}`);
  await waitUntilReady(page);
  await page.waitForTimeout(6000);
  await page.keyboard.press("Enter");
  await page.getByText("Recording", { exact: true }).waitFor();
  const processorMs = await threadTime(page);
  const costs: number[] = [];
  for (let pair = 0; pair < PAIRS; pair++) {
    const still = await processorMs(() => page.waitForTimeout(STROKES * (DOWN_MS + UP_MS)));
    const struck = await processorMs(() => strike(page));
    costs.push((struck.busyMs - (still.busyMs / still.tookMs) * struck.tookMs) / STROKES);
  }
  await page.close();
  const cost = costs.sort((a, b) => a - b)[PAIRS >> 1]!;
  return {
    what: "a stroke recorded into 10,000 hits, down and up, whole page: processor time",
    budget: "< 20 ms",
    measured: `${cost.toFixed(1)} ms`,
    kept: cost < 20,
  };
}

async function strike(page: Page): Promise<void> {
  for (let index = 0; index < STROKES; index++) {
    const key = KEYS[index % KEYS.length]!;
    await page.keyboard.down(key);
    await page.waitForTimeout(DOWN_MS);
    await page.keyboard.up(key);
    await page.waitForTimeout(UP_MS);
  }
}

/** @returns what tells how long the main thread's processor was busy with something */
async function threadTime(page: Page) {
  const devTools = await page.context().newCDPSession(page);
  await devTools.send("Performance.enable", { timeDomain: "threadTicks" });
  const read = async () => {
    const { metrics } = await devTools.send("Performance.getMetrics");
    return 1000 * metrics.find(({ name }) => name === "ThreadTime")!.value;
  };
  return async (work: () => Promise<void>) => {
    const [before, start] = [await read(), performance.now()];
    await work();
    return { busyMs: (await read()) - before, tookMs: performance.now() - start };
  };
}
