import { existsSync } from "node:fs";
import type { Page } from "@playwright/test";
import type { Beat } from "../src/core/beat/beat";
import { startServedBrowser, waitUntilReady } from "../scripts/server/served-browser";
import { manyEchoes, store } from "../tests/support/browser-store";
import { demoBeat } from "../src/core/demo/demo-beats";
import { editingRows } from "./editing-cost";
import { largeDocumentRows } from "./large-documents";
import { pageCostRows } from "./page-cost";
import { recordedTimesRow } from "./recorded-times";
import type { Row } from "./row";
import { shelfRows } from "./shelf-cost";
import { strokeCostRow } from "./stroke-cost";

const RUNS = 5;

/** The middle one of several runs, from a click until the page shows something. All are selectors. */
async function untilShown(page: Page, click: string, shown: string, undo: string): Promise<number> {
  const times: number[] = [];
  for (let segment = 0; segment < RUNS; segment++) {
    times.push(
      await page.evaluate(
        async ({ click, shown }) => {
          const start = performance.now();
          document.querySelector<HTMLElement>(click)!.click();
          while (!document.querySelector(shown)) await new Promise((done) => setTimeout(done));
          return performance.now() - start;
        },
        { click, shown },
      ),
    );
    await page.evaluate((selector) => document.querySelector<HTMLElement>(selector)!.click(), undo);
    await page.waitForTimeout(300);
  }
  return times.sort((a, b) => a - b)[RUNS >> 1]!;
}

const FIRST_ECHO = "[role=tabpanel][aria-labelledby=tab-echoes] li button";

/**
 * What only shows in a real page: lists, pictures and readings while the loop runs. Needs a build.
 * @param large a beat of ten thousand hits
 * @param wide one of two thousand in eight parts
 * @param long one of two thousand in 64 bars
 * @param huge one of fifty thousand
 */
export async function browserRows(
  beat: Beat,
  large: Beat,
  wide: Beat,
  long: Beat,
  huge: Beat,
): Promise<readonly Row[]> {
  if (!existsSync(".next/BUILD_ID")) return [];
  const served = await startServedBrowser();
  try {
    const page = await served.openShelf();
    await store(page, [beat], manyEchoes());
    await page.goto(`${served.url}/beat/${beat.id}`);
    await waitUntilReady(page);
    // On its first visit a page keeps the kit that it rendered, once and a little later.
    await page.waitForTimeout(8000);
    await page.keyboard.press("Space");
    await page.waitForTimeout(1500);
    const { perSecond, longest } = await page.evaluate(async () => {
      const tasks: number[] = [];
      const observer = new PerformanceObserver((list) => list.getEntries().forEach((one) => tasks.push(one.duration)));
      observer.observe({ entryTypes: ["longtask"] });
      const start = performance.now();
      let frames = 0;
      while (performance.now() - start < 4000) {
        await new Promise(requestAnimationFrame);
        frames++;
      }
      observer.disconnect();
      return { perSecond: (frames * 1000) / (performance.now() - start), longest: Math.max(0, ...tasks) };
    });
    const list = await untilShown(page, "#tab-echoes", FIRST_ECHO, "#tab-passes");
    await page.locator("#tab-echoes").click();
    const readings = await untilShown(page, FIRST_ECHO, "#stack [type=radio]", FIRST_ECHO);
    await page.close();
    return [
      await recordedTimesRow(served),
      await strokeCostRow(served, large),
      ...(await editingRows(served, beat, large)),
      ...(await shelfRows(served)),
      ...(await largeDocumentRows(served, long, large, huge)),
      ...(await pageCostRows(served, [{ ...demoBeat("Slow Harbour"), id: "small" }, wide])),
      {
        what: "lanes with 2,000 hits while playing",
        budget: "60 frames/s, no task > 50 ms",
        measured: `${perSecond.toFixed(0)} frames/s, longest ${longest.toFixed(0)} ms`,
        kept: perSecond > 58 && longest <= 50,
      },
      {
        what: "list of 20,000 remembered hits opens, loop running",
        budget: "< 200 ms",
        measured: `${list.toFixed(0)} ms`,
        kept: list < 200,
      },
      {
        what: "a 200-hit echo opened until its readings are shown, loop running",
        budget: "< 200 ms",
        measured: `${readings.toFixed(0)} ms`,
        kept: readings < 200,
      },
    ];
  } finally {
    await served.close();
  }
}
