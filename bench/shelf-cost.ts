import type { ServedBrowser } from "../scripts/server/served-browser";
import { putCopies } from "../tests/support/browser-store";
import type { Row } from "./row";

const SETTLED_MS = 8000;

/** Shelves of many beats, each opened in a page that knows the app. */
export async function shelfRows(served: ServedBrowser): Promise<readonly Row[]> {
  const page = await served.openShelf();
  const session = await page.context().newCDPSession(page);
  const rows: Row[] = [];
  for (const [count, budgetMs] of [
    [1000, 400],
    [5000, 600],
  ] as const) {
    await putCopies(page, count);
    const open = async () => {
      await page.goto(`${served.url}/`);
      await page.getByRole("link", { name: "Crossing 0", exact: true }).waitFor();
      await page.waitForTimeout(SETTLED_MS);
    };
    // The browser keeps what it compiled with the second visit.
    for (let visit = 0; visit < 2; visit++) await open();
    await page.goto("about:blank");
    await session.send("Performance.enable", { timeDomain: "threadTicks" });
    await open();
    const { metrics } = await session.send("Performance.getMetrics");
    const valueOf = (name: string) => metrics.find((one) => one.name === name)!.value;
    const ms = valueOf("TaskDuration") * 1000;
    rows.push({
      what: `shelf of ${count.toLocaleString("en")} beats: main thread until it rests`,
      budget: `< ${budgetMs} ms`,
      measured: `${ms.toFixed(0)} ms, ${valueOf("Nodes")} nodes`,
      kept: ms < budgetMs,
    });
  }
  await page.close();
  return rows;
}
