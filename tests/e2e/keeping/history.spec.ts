import { expect, type Page } from "@playwright/test";
import { exportBeat, hitsOf, newBeat, openBeat, setNumber, untilReady } from "../support/app";
import { playOn } from "../support/loudspeaker";
import { test } from "../support/test";

const stepsOf = (page: Page) => page.getByRole("region", { name: "History", exact: true }).getByRole("button");

async function openHistory(page: Page): Promise<void> {
  await page.getByRole("tab", { name: "History" }).click();
  await expect(page.getByText("Before all that")).toBeVisible();
}

test("what was recorded and edited is undone after a reload that came at once, and done again, step by step or by a click", async ({
  page,
}) => {
  await newBeat(page);
  await page.keyboard.press("Enter");
  await expect(page.getByText("Recording", { exact: true })).toBeVisible();
  for (const key of ["z", "x", "z"]) {
    await page.keyboard.press(key);
    await playOn(page, 300);
  }
  await page.keyboard.press("Enter");
  await setNumber(page, "Tempo", 90);
  await page.keyboard.press("Space");
  await page.keyboard.press("Shift+Backquote");
  await page.getByRole("button", { name: "Fill the last beat" }).click();
  await expect(page.getByText(/added/)).toBeVisible();
  const before = await exportBeat(page);
  // No time for autosave.
  await setNumber(page, "Tempo", 91);
  await page.reload();
  await untilReady(page);
  await openHistory(page);
  const names = ["Tempo", "Fill", "Make an alternate", "Tempo", /lap 1, 3 hits/];
  await expect(stepsOf(page)).toContainText([...names, "Before all that"]);
  await expect(stepsOf(page).first()).toHaveAttribute("aria-current", "step");

  await page.keyboard.press("Control+z");
  expect(await exportBeat(page)).toMatchObject({ bpm: 90, parts: before.parts });
  await stepsOf(page).last().click();
  const start = await exportBeat(page);
  expect([start.bpm, hitsOf(start), start.parts[0]!.patterns.length]).toEqual([100, [], 1]);
  await page.getByRole("button", { name: "Redo", exact: true }).click();
  expect(hitsOf(await exportBeat(page))).toHaveLength(3);
  // Along the list by keys: from the lap up to the fill.
  await stepsOf(page).nth(4).focus();
  for (let key = 0; key < 3; key++) await page.keyboard.press("ArrowUp");
  await page.keyboard.press("Enter");
  await expect(stepsOf(page).nth(1)).toHaveAttribute("aria-current", "step");
  expect((await exportBeat(page)).parts).toEqual(before.parts);
  // Groove and grid are as they were: arrow keys in the list are the list's.
  await page.reload();
  await untilReady(page);
  await openHistory(page);
  await expect(stepsOf(page)).toContainText([...names, "Before all that"]);
  await expect(stepsOf(page).nth(1)).toHaveAttribute("aria-current", "step");
});

test("a state is kept under a name and gone back to after a reload; a copy goes to the shelf; deleted, it comes back", async ({
  page,
}) => {
  await openBeat(page, "Tide Table");
  await page.getByRole("tab", { name: "History" }).click();
  await expect(page.getByText("Nothing was changed yet.")).toBeVisible();
  const name = page.getByLabel("Name of the state or copy");
  await name.fill("Before the bridge");
  await name.press("Enter");
  await expect(page.getByText("Saved as “Before the bridge”.")).toBeVisible();
  const kept = await exportBeat(page);
  await setNumber(page, "Tempo", 99);
  await name.fill("Neap Table");
  await page.getByRole("button", { name: "Save a copy", exact: true }).click();
  await expect(page.getByText("“Neap Table” is on the shelf; this one stays open.")).toBeVisible();
  await page.reload();
  await untilReady(page);
  await page.getByRole("tab", { name: "History" }).click();
  await page.getByRole("button", { name: "Go back to Before the bridge" }).click();
  await expect(page.getByRole("spinbutton", { name: "Tempo", exact: true })).toHaveValue("142");
  expect((await exportBeat(page)).parts).toEqual(kept.parts);
  await page.keyboard.press("Control+z");
  await expect(page.getByRole("spinbutton", { name: "Tempo", exact: true })).toHaveValue("99");
  await page.getByRole("button", { name: "Delete Before the bridge" }).click();
  await page.getByRole("button", { name: "Bring it back" }).click();
  await expect(page.getByRole("button", { name: "Go back to Before the bridge" })).toBeVisible();
  await page.getByRole("link", { name: /Shelf/ }).click();
  await page.getByRole("link", { name: "Neap Table", exact: true }).click();
  await untilReady(page);
  await expect(page.getByRole("spinbutton", { name: "Tempo", exact: true })).toHaveValue("99");
});
