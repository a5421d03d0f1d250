import { expect, type Page } from "@playwright/test";
import { newBeat, setNumber } from "./support/app";
import { test } from "./support/test";

// On the machine's own loudspeaker and clock: what a page holds grows with what it has drawn, too.
test.use({ loudspeaker: "machine", sounds: "made" });

const MINUTES = 10;
const WARM_UP_MINUTES = 2;
/** Twenty thousand strokes are remembered at most; a quarter of them is played here, some hundred bytes each. */
const MOST_GROWN_MB = 30;

/** What scripts of the page hold when all that nobody needs is cleared away. */
async function heldMegabytes(page: Page): Promise<number> {
  const client = await page.context().newCDPSession(page);
  await client.send("HeapProfiler.collectGarbage");
  const { usedSize } = await client.send("Runtime.getHeapUsage");
  await client.detach();
  return usedSize / 2 ** 20;
}

test("ten minutes of playing, recorded, undone and looked at: the page holds little more than before", async ({
  page,
}) => {
  test.setTimeout((MINUTES + 5) * 60_000);
  await newBeat(page);
  await setNumber(page, "Tempo", 120);
  await page.getByRole("button", { name: /^Inputs/ }).click();
  await page.getByRole("button", { name: "Bring in" }).click();
  await page.getByRole("button", { name: "Lanes", exact: true }).click();
  const playFor = async (minutes: number) => {
    for (const endMs = Date.now() + minutes * 60_000; Date.now() < endMs;) {
      await page.keyboard.press("Enter");
      await page.waitForTimeout(15_000);
      await page.keyboard.press("Space");
      for (const view of ["Alt+0", "Alt+BracketLeft", "Alt+9"]) await page.keyboard.press(view);
      for (let undone = 0; undone < 12; undone++) await page.keyboard.press("Control+z");
    }
  };
  await playFor(WARM_UP_MINUTES);
  const before = await heldMegabytes(page);
  await playFor(MINUTES - WARM_UP_MINUTES);
  const after = await heldMegabytes(page);
  console.log(`The page held ${before.toFixed(1)} MB after two minutes, ${after.toFixed(1)} MB after ten.`);
  expect(after - before).toBeLessThan(MOST_GROWN_MB);
});
