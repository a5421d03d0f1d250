import { execFileSync } from "node:child_process";
import { mkdtempSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { chromium, expect, test, type BrowserContext, type Page } from "@playwright/test";
import type { Beat, Pass } from "@/core/beat/beat";
import { seededRandom } from "@/core/random";
import { CHROMIUM } from "../../../scripts/chromium";
import { SOAKED, seeds } from "../../support/seeds";

/** One in each mode; `KILLS=20` makes it twenty. */
const KILLS = Number(process.env.KILLS ?? 3);
/**
 * What is younger than this when the browser is killed may be gone; on a machine that others keep busy by as much more as a plain
 * timer and write beside the app came late in that round.
 */
const KEPT_AFTER_MS = 2000;
const ECHO_AFTER_MS = 1000;
const BESIDE_MS = 250;
const ROUND_MS = { least: 2600, most: 5200 };
const STROKE_MS = 90;
const BPM = 240;

/** What the drummer did, as it is known outside of the page. */
interface Stroke {
  readonly atMs: number;
  /** The key's; each stroke of a round has one of these in turn. */
  readonly lane: number;
}

const PADS = ["KeyZ", "KeyX", "KeyC", "KeyV", "KeyB", "KeyN", "KeyM", "KeyA", "KeyS", "KeyD"];
const PAD_IDS = [0, 1, 2, 3, 4, 5, 6, 8, 9, 10];

/** What is on disk, read by the page itself, and what it offers to bring back. */
interface Found {
  readonly beats: readonly Beat[];
  readonly journal: readonly { readonly beatId: string; readonly passes: string }[];
  readonly lookback: readonly { readonly hits: string }[];
}

async function readDisk(page: Page): Promise<Found> {
  return page.evaluate(async () => {
    const database = await new Promise<IDBDatabase>((done, fail) => {
      const request = indexedDB.open("echo-pocket");
      request.onsuccess = () => done(request.result);
      request.onerror = () => fail(request.error);
    });
    const all = (table: string) =>
      new Promise<unknown[]>((done) => {
        const request = database.transaction(table).objectStore(table).getAll();
        request.onsuccess = () => done(request.result);
      });
    const [beats, journal, lookback] = await Promise.all(["beats", "journal", "lookback"].map(all));
    database.close();
    return { beats: beats!.map((record) => (record as { beat: Beat }).beat), journal, lookback } as Found;
  });
}

function countByPad(pads: readonly number[]): Map<number, number> {
  const counts = new Map<number, number>();
  for (const pad of pads) counts.set(pad, (counts.get(pad) ?? 0) + 1);
  return counts;
}

/** Each pad was struck at least so often by then; replace takes hits away, so there only the last lap of a pad counts. */
function expectKept(what: string, struck: readonly number[], kept: readonly number[]): void {
  const have = countByPad(kept);
  for (const [pad, count] of countByPad(struck))
    expect(have.get(pad) ?? 0, `${what}: pad ${pad}`).toBeGreaterThanOrEqual(count);
}

/** Kits are made and kept while tests are soaked, which keeps the store busy; otherwise that would take most of the time. */
async function launch(profile: string, url: string): Promise<BrowserContext> {
  const context = await chromium.launchPersistentContext(profile, {
    ...CHROMIUM,
    viewport: { width: 1280, height: 800 },
  });
  if (!SOAKED) await context.addCookies([{ name: "sounds", value: "stand-in", url }]);
  return context;
}

/** Makes what a first visit makes, and a store that nobody touches. */
async function firstVisit(profile: string, url: string): Promise<void> {
  const context = await launch(profile, url);
  const page = context.pages()[0] ?? (await context.newPage());
  await page.goto(url);
  await expect(page.getByRole("link", { name: "Tide Table", exact: true })).toBeVisible();
  await page.evaluate(
    (name) => new Promise((done) => (indexedDB.open(name).onsuccess = done)).then(() => undefined),
    SENTINEL,
  );
  await context.close();
}

/**
 * A store of the same origin that nobody touches. Chromium, when it is killed at a bad moment, now and then throws away all
 * that an origin keeps ("Creating DB since it was missing", its log says); then this is gone, too, and the round says
 * nothing about the app.
 */
const SENTINEL = "untouched";
const MOST_EMPTIED = 2;

/** Asked once the app has opened its beat: for a moment after a kill Chromium may not be able to open any store. */
async function isEmptied(page: Page): Promise<boolean> {
  await expect(page.getByText(/^Opening the beat|does not answer/)).toHaveCount(0);
  const names = await page.evaluate(async () => (await indexedDB.databases()).map(({ name }) => name));
  return !names.includes(SENTINEL);
}

/** From here on the page does beside the app what the app does: it lets a moment pass, and writes something. */
async function writeBeside(page: Page): Promise<void> {
  await page.evaluate(
    ([name, waitMs]) => {
      const lateness = { since: performance.now(), mostMs: 0 };
      Object.assign(window, { lateness });
      const write = (database: IDBDatabase) => {
        lateness.since = performance.now();
        setTimeout(() => {
          const writing = database.transaction("beside", "readwrite");
          writing.objectStore("beside").put(lateness.since, "now");
          writing.oncomplete = () => {
            lateness.mostMs = Math.max(lateness.mostMs, performance.now() - lateness.since - waitMs);
            write(database);
          };
        }, waitMs);
      };
      const opening = indexedDB.open(`${name} beside`);
      opening.onupgradeneeded = () => opening.result.createObjectStore("beside");
      opening.onsuccess = () => write(opening.result);
    },
    [SENTINEL, BESIDE_MS] as const,
  );
}

/** How late what was written beside the app was at most, what is being written included. */
function latenessOf(page: Page): Promise<number> {
  return page.evaluate((waitMs) => {
    const { lateness } = window as unknown as { lateness: { since: number; mostMs: number } };
    return Math.max(0, lateness.mostMs, performance.now() - lateness.since - waitMs);
  }, BESIDE_MS);
}

/** The browser and all its processes end at once, as when the machine's memory is short. */
function kill(profile: string): void {
  const pids = execFileSync("pgrep", ["-f", profile], { encoding: "utf8" }).trim().split("\n").map(Number);
  for (const pid of pids)
    if (pid !== process.pid)
      try {
        process.kill(pid, "SIGKILL");
      } catch {
        /* Gone with its parent. */
      }
}

/** One evening that ends with a kill. @returns the strokes that were recorded, and all of them */
async function drum(page: Page, random: () => number, mode: string) {
  const recorded: Stroke[] = [];
  const struck: Stroke[] = [];
  await page.keyboard.press("Enter");
  await page.getByText("Recording", { exact: true }).waitFor();
  const endMs = Date.now() + ROUND_MS.least + random() * (ROUND_MS.most - ROUND_MS.least);
  let recording = true;
  for (let stroke = 0; Date.now() < endMs; stroke++) {
    const index = Math.floor(random() * PADS.length);
    await page.keyboard.press(PADS[index]!);
    // From when the page had it: until then a busy machine is in the way, which the promise is not about.
    const made = { atMs: Date.now(), lane: PAD_IDS[index]! };
    struck.push(made);
    if (recording) recorded.push(made);
    const other = random();
    if (other < 0.06) {
      await page.keyboard.press("KeyP");
      recording = !recording;
    } else if (other < 0.1 && mode !== "replace") await page.keyboard.press("Digit0");
    else if (other < 0.14) await page.keyboard.press("ArrowUp");
    await page.waitForTimeout(STROKE_MS * (0.5 + random()));
  }
  return { recorded, struck };
}

const hitsIn = (passes: readonly Pass[]) => passes.flatMap(({ hits }) => hits.map(({ lane }) => lane));

for (const seed of seeds(1)) {
  test(`${KILLS} kills of the whole browser under a drummer who never pauses (${seed})`, async ({ baseURL }) => {
    test.setTimeout(900_000);
    const random = seededRandom(100 + seed);
    const profile = mkdtempSync(join(tmpdir(), "pocket-kill-"));
    const url = `${baseURL}/`;
    await firstVisit(profile, url);
    let emptied = 0;
    for (let round = 0; round < KILLS; round++) {
      const context = await launch(profile, url);
      const page = context.pages()[0] ?? (await context.newPage());
      await page.goto(url);
      await page.getByRole("button", { name: "New beat", exact: true }).click();
      await page.getByRole("button", { name: "Record" }).and(page.locator(":enabled")).waitFor();
      const tempo = page.getByRole("spinbutton", { name: "Tempo", exact: true });
      await tempo.fill(String(BPM));
      await tempo.press("Enter");
      const mode = ["overdub", "takes", "replace"][round % 3]!;
      for (const key of ["overdub", "replace", "takes"])
        if (key !== mode) await page.keyboard.press("KeyO");
        else break;
      const beatId = page.url().split("/").at(-1)!;
      await writeBeside(page);
      const { recorded, struck } = await drum(page, random, mode);
      const lateMs = await latenessOf(page);
      const killedAt = Date.now();
      kill(profile);
      await context.close().catch(() => undefined);

      const again = await launch(profile, url);
      const shelf = again.pages()[0] ?? (await again.newPage());
      await shelf.goto(`${url}beat/${beatId}`);
      if (await isEmptied(shelf)) {
        await again.close();
        expect(++emptied).toBeLessThanOrEqual(MOST_EMPTIED);
        await firstVisit(profile, url);
        round--;
        continue;
      }
      await expect(shelf.getByLabel("Name of the beat"), `round ${round}: the beat is there`).toBeVisible();
      const found = await readDisk(shelf);
      const beat = found.beats.find(({ id }) => id === beatId)!;
      const journal = found.journal.filter((record) => record.beatId === beatId);
      const kept = journal.flatMap(
        ({ passes }) => JSON.parse(passes) as { pass: Pass; place: { patternId: number } }[],
      );
      const onDisk = beat.parts[0]!.patterns.flatMap(({ passes }) => hitsIn(passes));
      const where = `round ${round}, ${mode}`;
      const old =
        (ageMs: number) =>
        ({ atMs }: Stroke) =>
          atMs < killedAt - ageMs - lateMs;
      // In replace a stroke takes earlier ones of its pad away; what was not replaced since must be there.
      const sure = recorded.filter(old(KEPT_AFTER_MS)).map(({ lane }) => lane);
      const all = [...onDisk, ...kept.flatMap(({ pass }) => hitsIn([pass]))];
      if (mode === "replace") expectKept(where, [...new Set(sure)], all);
      else expectKept(where, sure, all);
      const remembered = found.lookback.flatMap(({ hits }) =>
        (JSON.parse(hits) as { pad: number; beatId: string }[])
          .filter((hit) => hit.beatId === beatId)
          .map(({ pad }) => pad),
      );
      expectKept(
        `${where}, echoes`,
        struck.filter(old(ECHO_AFTER_MS)).map(({ lane }) => lane),
        remembered,
      );
      if (kept.length > 0) {
        // What is offered comes back where it was played.
        await shelf.getByRole("button", { name: /Bring (it|them) back/ }).click();
        const missing = async () => {
          const { patterns } = (await readDisk(shelf)).beats.find(({ id }) => id === beatId)!.parts[0]!;
          return kept.filter(({ pass, place }) => {
            const home = patterns.find(({ id }) => id === place.patternId) ?? patterns.at(-1)!;
            return !home.passes.some(({ hits }) => hits.length === pass.hits.length);
          }).length;
        };
        await expect.poll(missing, { message: `${where}: passes that are not in their patterns` }).toBe(0);
      }
      await again.close();
    }
  });
}
