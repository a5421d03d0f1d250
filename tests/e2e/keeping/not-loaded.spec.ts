import { expect, type Page } from "@playwright/test";
import { exportAs, untilReady } from "../support/app";
import { test } from "../support/test";

/** Parts of the app that come later than the page itself can't be had as long as `gone`. */
async function withLaterParts(page: Page) {
  const state = { gone: false };
  const first = await (await page.request.get("/")).text();
  await page.route("**/_next/static/chunks/**", (route) => {
    const [name] = route.request().url().split("/").slice(-1);
    return state.gone && !first.includes(name!) ? route.abort() : route.continue();
  });
  return state;
}

test("what checks beats can't be had: nothing is called damaged, and all is there as soon as it comes", async ({
  page,
}) => {
  const later = await withLaterParts(page);
  later.gone = true;
  await page.goto("/");
  await expect(page.getByText("A part of the app could not be loaded")).toBeVisible();
  await expect(page.getByRole("button", { name: "Delete for good" })).toHaveCount(0);
  await expect(page.getByRole("link", { name: "Slow Harbour", exact: true })).toHaveCount(0);
  later.gone = false;
  await expect(page.getByRole("link", { name: "Slow Harbour", exact: true })).toBeVisible();
  await expect(page.getByText("A part of the app could not be loaded")).toHaveCount(0);
});

test("a part that can't be had costs its view only, and what needs it says so; both are there when asked for again", async ({
  page,
}) => {
  const later = await withLaterParts(page);
  await page.goto("/");
  await page.getByRole("link", { name: "Slow Harbour", exact: true }).click();
  await untilReady(page);
  later.gone = true;
  await page.getByRole("button", { name: "Report" }).click();
  const main = page.getByRole("main");
  await expect(main.getByRole("alert")).toContainText("could not be loaded");
  await page.keyboard.press("Space");
  await expect(page.getByRole("status").filter({ hasText: "Playing" })).toBeVisible();
  await page.keyboard.press("Space");
  later.gone = false;
  await main.getByRole("button", { name: "Try again" }).click();
  await expect(main.getByRole("region", { name: "Timing report" })).toBeVisible();

  await page.getByRole("button", { name: "Lanes" }).click();
  await page.getByRole("button", { name: "Export", exact: true }).click();
  await expect(page.getByRole("button", { name: "MIDI, as heard" })).toBeVisible();
  later.gone = true;
  await page.getByRole("button", { name: "MIDI, as heard" }).click();
  await expect(page.getByText("That part of the app could not be loaded")).toBeVisible();
  later.gone = false;
  expect((await exportAs(page, "MIDI, as heard")).subarray(0, 4).toString()).toBe("MThd");
});

test("a view that fails while it is drawn leaves the beat, the pads and the transport; it is drawn again when asked for", async ({
  page,
}) => {
  await page.goto("/");
  await page.getByRole("link", { name: "Slow Harbour", exact: true }).click();
  await untilReady(page);
  await page.evaluate(() => {
    const { toFixed } = Number.prototype;
    Object.assign(window, { mend: () => (Number.prototype.toFixed = toFixed) });
    // Levels below 0 dB are written in this view only.
    Number.prototype.toFixed = function (this: number, digits) {
      if (this < 0) throw new Error("It can't be drawn.");
      return toFixed.call(this, digits);
    };
  });
  await page.getByRole("button", { name: "Mix", exact: true }).click();
  const main = page.getByRole("main");
  await expect(main.getByRole("alert")).toContainText("could not be drawn");
  await expect(page.getByRole("button", { name: "Kick", exact: true })).toBeVisible();
  await page.evaluate(() => (window as unknown as { mend(): void }).mend());
  await main.getByRole("button", { name: "Try again" }).click();
  await expect(main.getByRole("slider", { name: "Level of Kick", exact: true })).toBeVisible();
});
