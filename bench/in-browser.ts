import { existsSync } from "node:fs";
import type { Page } from "@playwright/test";
import type { Beat } from "../src/core/beat/beat";
import type { LookbackHit } from "../src/core/recover/echo";
import { seededRandom } from "../src/core/random";
import { startServedBrowser, waitUntilReady } from "../scripts/served-browser";
import type { Row } from "./row";

const PORT = 3459;
const ECHO_HITS = 200;
const ECHOES = 100;
const RUNS = 5;

/** 20,000 strokes in phrases of 200, the last one a minute ago. */
function manyEchoes(): readonly LookbackHit[] {
  const random = seededRandom(3);
  const phraseMs = ECHO_HITS * 125 + 5000;
  const startMs = Date.now() - 60_000 - ECHOES * phraseMs;
  const pads = [8, 0, 8, 1];
  const notes = [42, 36, 42, 38];
  return Array.from({ length: ECHOES * ECHO_HITS }, (_, index) => ({
    timeMs: startMs + Math.floor(index / ECHO_HITS) * phraseMs + (index % ECHO_HITS) * 125 + 16 * (random() - 0.5),
    pad: pads[index % 4],
    note: notes[index % 4],
    velocity: 60 + Math.floor(60 * random()),
    device: "bench",
    beatId: "bench",
    partId: 1,
  }));
}

/** Puts beats and what was played into the browser's store, as the app keeps them. */
async function store(page: Page, beats: readonly Beat[], hits: readonly LookbackHit[]): Promise<void> {
  await page.evaluate(
    async ({ beats, chunks }) => {
      const database = await new Promise<IDBDatabase>((done) => {
        const request = indexedDB.open("echo-pocket");
        request.onsuccess = () => done(request.result);
      });
      const work = database.transaction(["beats", "lookback"], "readwrite");
      for (const beat of beats) work.objectStore("beats").put({ id: beat.id, changedAt: Date.now(), beat });
      for (const chunk of chunks) work.objectStore("lookback").add(chunk);
      await new Promise((done) => (work.oncomplete = done));
      database.close();
    },
    {
      beats,
      chunks: Array.from({ length: ECHOES }, (_, index) => {
        const own = hits.slice(index * ECHO_HITS, (index + 1) * ECHO_HITS);
        return { count: own.length, lastMs: own.at(-1)!.timeMs, hits: JSON.stringify(own) };
      }),
    },
  );
}

/** The middle one of several runs, from a click until the page shows something. All are selectors. */
async function untilShown(page: Page, click: string, shown: string, undo: string): Promise<number> {
  const times: number[] = [];
  for (let run = 0; run < RUNS; run++) {
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
  return times.sort((a, b) => a - b)[RUNS >> 1];
}

const FIRST_ECHO = "[role=tabpanel][aria-labelledby=tab-echoes] li button";

/** What only shows in a real page: lists, pictures and readings while the loop runs. Needs a build. */
export async function browserRows(beat: Beat): Promise<readonly Row[]> {
  if (!existsSync(".next/BUILD_ID")) return [];
  const served = await startServedBrowser(PORT);
  try {
    const page = await served.openShelf();
    await store(page, [beat], manyEchoes());
    await page.goto(`http://localhost:${PORT}/beat/${beat.id}`);
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
    return [
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
