import type { CDPSession, Page } from "@playwright/test";
import type { Beat } from "../src/core/beat/beat";
import { waitUntilReady, type ServedBrowser } from "../scripts/server/served-browser";
import { manyEchoes, store } from "../tests/support/browser-store";
import type { Row } from "./row";

/** So long each state is looked at, of which the first second is not counted. */
const LOOKED_AT_MS = 6000;

/** Processor time of a page that nobody touches, in per cent of a core. */
interface Cost {
  readonly main: number;
  /** All of the page's process: main thread, compositor, painting, sound. */
  readonly renderer: number;
  readonly gpu: number;
}

/** The page at rest and while it plays, in the views where most moves. */
export async function pageCostRows(served: ServedBrowser, beats: readonly Beat[]): Promise<readonly Row[]> {
  const page = await served.openShelf();
  await store(page, beats, manyEchoes());
  const rows: Row[] = [];
  for (const beat of beats) {
    await page.goto(`${served.url}/beat/${beat.id}`);
    await waitUntilReady(page);
    // On its first visit a page writes the kits that it made to the disk, for some seconds.
    await page.waitForTimeout(15_000);
    const hits = beat.parts.flatMap(({ patterns }) =>
      patterns.flatMap(({ passes }) => passes.flatMap(({ hits }) => hits)),
    );
    const name = `${hits.length} hits in ${beat.parts.length} parts`;
    rows.push(row(`stopped, ${name}`, "renderer < 2 %", await costOf(page), ({ renderer }) => renderer < 2));
    await page.keyboard.press("Space");
    for (const view of ["Lanes", "Mix"]) {
      await page.getByRole("navigation", { name: "View" }).getByRole("button", { name: view, exact: true }).click();
      const cost = await costOf(page);
      rows.push(row(`playing, ${view.toLowerCase()}, ${name}`, "main < 8 %, renderer < 25 %", cost, isLight));
    }
    await page.keyboard.press("Space");
  }
  await page.close();
  return rows;
}

const isLight = ({ main, renderer }: Cost) => main < 8 && renderer < 25;

function row(what: string, budget: string, cost: Cost, isKept: (cost: Cost) => boolean): Row {
  const percent = (value: number) => value.toFixed(1);
  const measured = `main ${percent(cost.main)} %, renderer ${percent(cost.renderer)} %, GPU ${percent(cost.gpu)} %`;
  return { what, budget, measured, kept: isKept(cost) };
}

async function costOf(page: Page): Promise<Cost> {
  const ofPage = await page.context().newCDPSession(page);
  const ofBrowser = await page.context().browser()!.newBrowserCDPSession();
  await ofPage.send("Performance.enable", { timeDomain: "threadTicks" });
  await page.waitForTimeout(1000);
  const from = await spent(ofPage, ofBrowser);
  await page.waitForTimeout(LOOKED_AT_MS - 1000);
  const to = await spent(ofPage, ofBrowser);
  await ofPage.detach();
  await ofBrowser.detach();
  const share = (key: keyof Cost) => (100_000 * (to[key] - from[key])) / (LOOKED_AT_MS - 1000);
  return { main: share("main"), renderer: share("renderer"), gpu: share("gpu") };
}

/** Seconds of the processor since each began; of renderers all, as the page's is the only one that works. */
async function spent(ofPage: CDPSession, ofBrowser: CDPSession): Promise<Cost> {
  const { metrics } = await ofPage.send("Performance.getMetrics");
  const { processInfo } = await ofBrowser.send("SystemInfo.getProcessInfo");
  const sum = (type: string) =>
    processInfo.filter((one) => one.type === type).reduce((total, { cpuTime }) => total + cpuTime, 0);
  return {
    main: metrics.find(({ name }) => name === "TaskDuration")!.value,
    renderer: sum("renderer"),
    gpu: sum("GPU"),
  };
}
