import type { Page } from "@playwright/test";
import type { Beat } from "../src/core/beat/beat";
import { waitUntilReady, type ServedBrowser } from "../scripts/server/served-browser";
import { manyEchoes, store } from "../tests/support/browser-store";
import type { Row } from "./row";

/** Work that follows an edit, saving included, has ended after this. */
const SETTLED_MS = 4000;

/** Cost of an action to the page: processor time of the main thread, and bytes handed to the database. */
interface Cost {
  readonly mainMs: number;
  readonly kilobytes: number;
}

/** Counts what is put into the database, as the text that it would be. */
function countWrites(): void {
  const counted = { bytes: 0 };
  Object.assign(window, { counted });
  for (const name of ["put", "add"] as const) {
    const plain = IDBObjectStore.prototype[name];
    IDBObjectStore.prototype[name] = function (value: unknown, ...key: []) {
      counted.bytes += JSON.stringify(value)?.length ?? 0;
      return plain.call(this, value, ...key);
    };
  }
}

/** Costs of edits beside very many hits, and of the report of a long pattern. */
export async function largeDocumentRows(
  served: ServedBrowser,
  long: Beat,
  large: Beat,
  huge: Beat,
): Promise<readonly Row[]> {
  const page = await served.openShelf("light", async (fresh) => void (await fresh.addInitScript(countWrites)));
  await store(page, [long, large, huge], manyEchoes());
  // On its first visit a page writes the kits that it made to the disk, for some seconds.
  await opened(page, `${served.url}/beat/${long.id}`);
  await page.waitForTimeout(12_000);
  const rows = [await reportRow(page, `${served.url}/beat/${long.id}`)];
  for (const [beat, undoMs] of [
    [large, 40],
    [huge, 80],
  ] as const)
    rows.push(...(await editRows(page, `${served.url}/beat/${beat.id}`, hitsOf(beat), undoMs)));
  await page.close();
  return rows;
}

function hitsOf(beat: Beat): number {
  return beat.parts[0]!.patterns[0]!.passes.reduce((sum, { hits }) => sum + hits.length, 0);
}

/** A page with a beat, and what its main thread costs while nobody touches it. */
interface Opened {
  readonly page: Page;
  readonly spentMs: () => Promise<number>;
  readonly restMs: number;
}

async function opened(page: Page, address: string): Promise<Opened> {
  await page.goto(address);
  await waitUntilReady(page);
  await page.waitForTimeout(8000);
  const session = await page.context().newCDPSession(page);
  await session.send("Performance.enable", { timeDomain: "threadTicks" });
  const spentMs = async () => {
    const { metrics } = await session.send("Performance.getMetrics");
    return metrics.find(({ name }) => name === "TaskDuration")!.value * 1000;
  };
  const from = await spentMs();
  await page.waitForTimeout(SETTLED_MS);
  return { page, spentMs, restMs: (await spentMs()) - from };
}

/** Cost of an action beyond that of the page at rest. */
async function costOf({ page, spentMs, restMs }: Opened, action: () => Promise<unknown>): Promise<Cost> {
  const bytes = () => page.evaluate(() => (window as unknown as { counted: { bytes: number } }).counted.bytes);
  await page.waitForTimeout(SETTLED_MS);
  const [from, fromBytes] = [await spentMs(), await bytes()];
  await action();
  await page.waitForTimeout(SETTLED_MS);
  return { mainMs: (await spentMs()) - from - restMs, kilobytes: ((await bytes()) - fromBytes) / 1000 };
}

async function reportRow(page: Page, address: string): Promise<Row> {
  const open = await opened(page, address);
  const view = (name: string) =>
    page.getByRole("navigation", { name: "View" }).getByRole("button", { name, exact: true }).click();
  // The first time fetches the view.
  await view("Report");
  await page.waitForTimeout(1000);
  await view("Lanes");
  const { mainMs } = await costOf(open, () => view("Report"));
  return {
    what: "report of 2,000 hits in 64 bars: main thread",
    budget: "< 300 ms",
    measured: `${mainMs.toFixed(0)} ms`,
    kept: mainMs < 300,
  };
}

async function editRows(page: Page, address: string, hits: number, undoBudgetMs: number): Promise<readonly Row[]> {
  const open = await opened(page, address);
  const mute = page.getByRole("button", { name: "Mute Kick", exact: true });
  await mute.click();
  const muted = await costOf(open, () => mute.click());
  const undone = await costOf(open, () => page.keyboard.press("Control+z"));
  await page.keyboard.press("Control+a");
  await page.keyboard.press("ArrowRight");
  const moved = await costOf(open, () => page.keyboard.press("ArrowRight"));
  const movedUndone = await costOf(open, () => page.keyboard.press("Control+z"));
  const name = `${hits.toLocaleString("en")} hits`;
  const line = ({ mainMs, kilobytes }: Cost) => `${mainMs.toFixed(0)} ms, ${kilobytes.toFixed(1)} kB`;
  return [
    {
      what: `${name}: a mute, saved: main thread, written`,
      budget: "< 80 ms, < 20 kB",
      measured: line(muted),
      kept: muted.mainMs < 80 && muted.kilobytes < 20,
    },
    {
      what: `${name}: the mute undone`,
      budget: `< ${undoBudgetMs} ms, < 20 kB`,
      measured: line(undone),
      kept: undone.mainMs < undoBudgetMs && undone.kilobytes < 20,
    },
    {
      what: `${name}: all of them moved`,
      budget: "< 300 ms, < 1000 kB",
      measured: line(moved),
      kept: moved.mainMs < 300 && moved.kilobytes < 1000,
    },
    {
      what: `${name}: all of them moved back by undo`,
      budget: "< 300 ms, < 1000 kB",
      measured: line(movedUndone),
      kept: movedUndone.mainMs < 300 && movedUndone.kilobytes < 1000,
    },
  ];
}
