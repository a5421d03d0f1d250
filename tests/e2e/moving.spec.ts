import { expect, type Page } from "@playwright/test";
import { openBeat, untilReady } from "./support/app";
import { playOn } from "./support/loudspeaker";
import { test } from "./support/test";

declare global {
  interface Window {
    picturesAsked: number;
  }
}

/** From here on counts the pictures that the page asks for. */
async function countPictures(page: Page): Promise<void> {
  await page.evaluate(() => {
    const ask = window.requestAnimationFrame;
    window.picturesAsked = 0;
    window.requestAnimationFrame = (draw) => {
      window.picturesAsked++;
      return ask(draw);
    };
  });
}

/** How many pictures the page asks for while so much is played, or not played. */
async function picturesIn(page: Page, ms: number): Promise<number> {
  const before = await page.evaluate(() => window.picturesAsked);
  await playOn(page, ms);
  return (await page.evaluate(() => window.picturesAsked)) - before;
}

/** What the dial says, and where what moves is: shares of a lap of two bars, in beats. */
function whereItIs(page: Page) {
  return page.evaluate(async () => {
    // The machine's pictures are fewer than the hurried clock's: of what was played on none may be there yet.
    for (let pictures = 0; pictures < 3; pictures++) await new Promise(requestAnimationFrame);
    const says = /(\d)\.(\d)lap/.exec(
      document.querySelector("[data-turns=hand]")!.closest("div[aria-hidden]")!.textContent,
    );
    const beats = document.getAnimations().map(({ currentTime, effect }) => {
      const durationMs = Number(effect!.getTiming().duration);
      return (8 * (Number(currentTime) % durationMs)) / durationMs;
    });
    return { said: says && (Number(says[1]) - 1) * 4 + Number(says[2]) - 1, beats };
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
    const { said, beats } = await whereItIs(page);
    // Hand, two halves of the trail, playhead; each stands where it was put some 50 ms ago, a beat takes 789 ms.
    expect(beats).toHaveLength(4);
    for (const beat of beats) expect((beat - said! + 8.15) % 8).toBeLessThan(1.3);
    expect(Math.max(...beats) - Math.min(...beats)).toBeLessThan(0.1);
  }
  await page.keyboard.press("Space");
  await expect.poll(() => page.evaluate(() => document.getAnimations().length)).toBe(0);
  await expect.poll(() => picturesIn(page, 2000)).toBe(0);
});
