import { expect, type Page } from "@playwright/test";
import { openBeat, untilReady } from "./support/app";
import { playOn } from "./support/loudspeaker";
import { test } from "./support/test";

declare global {
  interface Window {
    picturesAsked: number;
  }
}

/** From here on counts how often the page asks to be called back soon: what is drawn again and again is drawn by that. */
async function countPictures(page: Page): Promise<void> {
  await page.evaluate(() => {
    const { requestAnimationFrame: ask, setTimeout: wait } = window;
    window.picturesAsked = 0;
    window.requestAnimationFrame = (draw) => {
      window.picturesAsked++;
      return ask(draw);
    };
    const counted = (run: TimerHandler, ms?: number, ...args: unknown[]) => {
      if ((ms ?? 0) <= 40) window.picturesAsked++;
      return wait(run, ms, ...args);
    };
    Object.assign(window, { setTimeout: counted });
  });
}

/** Pictures that the page asks for while so much is played, or not played. */
async function picturesIn(page: Page, ms: number): Promise<number> {
  const before = await page.evaluate(() => window.picturesAsked);
  await playOn(page, ms);
  return (await page.evaluate(() => window.picturesAsked)) - before;
}

/** True for each of hand, both halves of the trail and playhead are on the beat that the dial says, of a loop of two bars. */
function isWhereItSays(page: Page) {
  return page.evaluate(() => {
    const dial = document.querySelector("[data-turns=hand]")!.closest("div[aria-hidden]")!.textContent;
    const [, bar, beat] = /(\d)\.(\d)lap/.exec(dial) ?? [];
    const said = (Number(bar) - 1) * 4 + Number(beat) - 1;
    return document.getAnimations().map(({ currentTime, effect }) => {
      const durationMs = Number(effect!.getTiming().duration);
      const at = (8 * (Number(currentTime) % durationMs)) / durationMs;
      // It stands where it was put some 50 ms ago; a beat takes 789 ms.
      return (at - said + 8.15) % 8 < 1.3;
    });
  });
}

test("a page at rest draws nothing; while the loop plays hand, trail and playhead are on the beat that the dial says", async ({
  page,
}) => {
  await openBeat(page, "Slow Harbour");
  await untilReady(page);
  await countPictures(page);
  await expect.poll(() => picturesIn(page, 2000)).toBe(0);
  await page.keyboard.press("Space");
  await playOn(page, 1000);
  expect(await picturesIn(page, 2000)).toBeLessThanOrEqual(60);
  for (let look = 0; look < 6; look++) {
    await playOn(page, 530);
    await expect.poll(() => isWhereItSays(page)).toEqual([true, true, true, true]);
  }
  await page.keyboard.press("Space");
  await expect.poll(() => page.evaluate(() => document.getAnimations().length)).toBe(0);
  await expect.poll(() => picturesIn(page, 2000)).toBe(0);
});

test("a loop in which nothing sounds is seen to go round", async ({ page }) => {
  await openBeat(page, "Slow Harbour");
  await untilReady(page);
  await page.getByRole("button", { name: "Click", exact: true }).click();
  for (const part of ["Kit", "Keel", "Cabin"])
    await page.getByRole("button", { name: `Mute part ${part}`, exact: true }).click();
  await page.keyboard.press("Space");
  for (let look = 0; look < 3; look++) {
    await playOn(page, 900);
    await expect.poll(() => isWhereItSays(page)).toEqual([true, true, true, true]);
  }
});
