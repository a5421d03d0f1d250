import { expect, test, type Page } from "@playwright/test";
import AxeBuilder from "@axe-core/playwright";
import { readSmf } from "@/core/formats/smf-read";
import { exportAs, exportBeat, hitsOf, newBeat } from "./support/app";

/** Plays keys at these times exactly: when they are over, strokes arrive with the stamps that they would have had. */
async function playKeys(page: Page, strokes: readonly (readonly [ms: number, code: string])[]): Promise<void> {
  await page.evaluate(async (all) => {
    const start = performance.now();
    const press = (type: string, code: string, timeStamp: number) => {
      const event = new KeyboardEvent(type, { code, bubbles: true });
      Object.defineProperty(event, "timeStamp", { value: timeStamp });
      window.dispatchEvent(event);
    };
    await new Promise((done) => setTimeout(done, all[all.length - 1][0] + 50));
    for (const [ms, code] of all) {
      press("keydown", code, start + ms);
      press("keyup", code, start + ms + 1);
    }
  }, strokes);
}

/** Kick, snare and eighths on the hat at 110 BPM, two bars. */
const FREE = Array.from({ length: 16 }, (_, eighth) => [
  ...(eighth % 4 === 0 ? [[(eighth * 30_000) / 110, "KeyZ"] as const] : []),
  ...(eighth % 4 === 2 ? [[(eighth * 30_000) / 110, "KeyX"] as const] : []),
  [(eighth * 30_000) / 110, "KeyA"] as const,
]).flat();

test("with the transport stopped and record off: one key brings the phrase back at its tempo, also after a reload", async ({
  page,
}) => {
  await newBeat(page);
  await playKeys(page, FREE);
  await page.waitForTimeout(2200);
  expect(hitsOf(await exportBeat(page))).toEqual([]);
  await page.reload();
  await expect(page.getByRole("button", { name: "Play", exact: true })).toBeEnabled({ timeout: 30_000 });
  await page.getByRole("tab", { name: "Echoes 1" }).click();
  await page.getByRole("button", { name: /24 hits, free/ }).click();
  await expect(page.getByLabel("Reading")).toContainText(/110\.\d BPM, 2 bars|109\.\d BPM, 2 bars/);
  const { violations } = await new AxeBuilder({ page }).withTags(["wcag2a", "wcag2aa", "wcag22aa"]).analyze();
  expect(violations.map(({ id, nodes }) => `${id} ${nodes[0].html.slice(0, 160)}`)).toEqual([]);
  await page.mouse.click(5, 700);
  await page.keyboard.press("End");
  const beat = await exportBeat(page);
  expect(Math.abs(beat.bpm - 110)).toBeLessThan(1.5);
  expect(hitsOf(beat)).toHaveLength(24);
  const { notes } = readSmf(await exportAs(page, "MIDI, as heard"));
  const misses = notes.map(({ tick }) => Math.abs(tick - Math.round(tick / 480) * 480));
  // 20 ms at this tempo are 35 ticks.
  expect(misses.sort((a, b) => a - b)[20]).toBeLessThan(35);
  await page.getByRole("button", { name: "Undo" }).click();
  expect(hitsOf(await exportBeat(page))).toEqual([]);
  await page.getByRole("button", { name: "Forget all" }).click();
  await page.getByRole("button", { name: "Forget", exact: true }).click();
  await expect(page.getByText("Nothing played yet.")).toBeVisible();
});

test("played over the running loop with record off: it comes back where it was played, merged, as takes and unrolled", async ({
  page,
}) => {
  await newBeat(page);
  await page.getByRole("spinbutton", { name: "Loop length in bars", exact: true }).fill("1");
  await page.keyboard.press("Enter");
  await page.getByRole("spinbutton", { name: "Loop length in bars", exact: true }).blur();
  await page.keyboard.press("Space");
  await expect(page.getByText("lap 1", { exact: true })).toBeVisible();
  // A bar lasts 2.4 s: a snare well inside it, three times round.
  await playKeys(page, [
    [600, "KeyX"],
    [3000, "KeyX"],
    [5400, "KeyX"],
  ]);
  await page.keyboard.press("Space");
  await page.getByRole("tab", { name: /Echoes/ }).click();
  await page.getByRole("spinbutton", { name: "Pause that parts, times usual" }).fill("3");
  await page.keyboard.press("Enter");
  await page.getByRole("button", { name: "3 hits, with Pattern 1, 3 laps" }).click();
  const back = page.getByRole("button", { name: "Bring back" });
  await back.click();
  const [merged] = hitsOf(await exportBeat(page));
  expect(hitsOf(await exportBeat(page))).toHaveLength(1);
  await page.getByRole("button", { name: "Undo" }).click();
  await page.getByLabel("Laps").selectOption("takes");
  await back.click();
  const takes = (await exportBeat(page)).parts[0].patterns[0].passes;
  expect(takes.map(({ muted }) => muted)).toEqual([true, true, false]);
  for (const { hits } of takes) expect(Math.abs(hits[0].playedTicks - merged.playedTicks)).toBeLessThan(60);
  await page.getByRole("button", { name: "Undo" }).click();
  await page.getByLabel("Laps").selectOption("unrolled");
  await back.click();
  const [, unrolled] = (await exportBeat(page)).parts[0].patterns;
  expect(unrolled.bars).toBeGreaterThanOrEqual(3);
  expect(unrolled.passes[0].hits).toHaveLength(3);
});
