import { expect } from "@playwright/test";
import { addPart, exportBeat, hitsOf, newBeat, openBeat, untilReady } from "./support/app";
import { playOn } from "./support/loudspeaker";
import { test } from "./support/test";
import { violationsInBothThemes } from "./support/violations";

test("menus, the keys and an echo of one hit are axe clean in both themes, and Escape closes each", async ({
  page,
}) => {
  await newBeat(page);
  await page.keyboard.press("z");
  await addPart(page, /^Kit/);
  await addPart(page, /^Keel/);
  const menus = ["Keys", "Pattern actions", "Groove from…", "Click and start", "More of Keel", "Add a part"];
  for (const name of menus) {
    await page.getByRole("button", { name, exact: true }).click();
    const menu = page.locator(".dropdown-menu.show");
    await expect(menu).toBeVisible();
    expect([name, await violationsInBothThemes(page, ".dropdown-menu.show")]).toEqual([name, []]);
    const { height, y } = (await menu.boundingBox())!;
    expect([name, y >= 0 && y + height <= 800]).toEqual([name, true]);
    await page.keyboard.press("Escape");
    await expect(menu).toHaveCount(0);
  }
  await page.getByRole("tab", { name: /^Echoes/ }).click();
  await page.getByRole("button", { name: /1 hit, free/ }).click();
  await expect(page.getByRole("slider", { name: "First hit" })).toBeVisible();
  expect(await violationsInBothThemes(page)).toEqual([]);
});

test("a number takes figures only, Space takes it and goes on, Escape leaves every field as it was", async ({
  page,
}) => {
  await newBeat(page);
  const tempo = page.getByRole("spinbutton", { name: "Tempo" });
  await tempo.click();
  await page.keyboard.type("120 z");
  await expect(tempo).toHaveAttribute("aria-valuenow", "120");
  await expect(tempo).not.toBeFocused();
  // The letter after the space struck the kick, and no field.
  await page.getByRole("tab", { name: /^Echoes/ }).click();
  await expect(page.getByRole("button", { name: /1 hit, free/ })).toBeVisible();
  await tempo.click();
  await page.keyboard.type("1z4x");
  await expect(tempo).toHaveValue("14");
  await page.keyboard.press("Escape");
  await expect(tempo).not.toBeFocused();
  await expect(tempo).toHaveValue("120");
  const name = page.getByLabel("Name of the beat");
  await name.fill("Something else");
  await name.press("Escape");
  await expect(name).toHaveValue("New beat");
  await expect(name).not.toBeFocused();
  const grid = page.getByLabel("Level of repeated notes");
  await grid.focus();
  await page.keyboard.press("Escape");
  await expect(grid).not.toBeFocused();
});

test("what is said is seen with reduced motion, and seen again when it is said again; the tab tells what goes on", async ({
  page,
}) => {
  await page.emulateMedia({ reducedMotion: "reduce" });
  await newBeat(page);
  await expect(page).toHaveTitle("New beat – Echo Pocket");
  await expect(page.getByRole("button", { name: /^Inputs/ })).toContainText("Controller? Connect");
  const said = page.getByText("Place 4 is empty. 0 makes the next pattern.");
  for (let time = 0; time < 2; time++) {
    await page.keyboard.press("4");
    await expect(said).toBeVisible();
    await expect(said).toHaveCount(0);
  }
  await page.keyboard.press("Enter");
  await expect(page).toHaveTitle("● Recording: New beat – Echo Pocket");
  await page.keyboard.press("p");
  await expect(page).toHaveTitle("◐ Practice: New beat – Echo Pocket");
  await page.keyboard.press("Space");
  await page.getByRole("link", { name: /Shelf/ }).click();
  await expect(page).toHaveTitle("Echo Pocket");
});

test.describe("sounds that are made anew", () => {
  test.use({ sounds: "made" });

  test("while the kit is being made the page says how far it is, plays, and has the kick first", async ({ page }) => {
    let cymbals = () => {};
    const wait = new Promise<void>((go) => (cymbals = go));
    let workers = 0;
    // The first worker makes the first drums; the others wait for the end of the test.
    await page.route("**/engine/render-worker.js", async (route) => {
      if (workers++ > 0) await wait;
      await route.continue();
    });
    await page.goto("/");
    await page.getByRole("button", { name: "New beat", exact: true }).click();
    await expect(page.getByText(/^Making Deckhouse… \d+\/16$/)).toBeVisible();
    await expect(page.getByRole("button", { name: "Play", exact: true })).toBeEnabled();
    await page.keyboard.press("Space");
    await expect(page.getByText(/^Making Deckhouse… \d+ of 16 sounds are ready$/)).toBeVisible();
    await expect(page.getByText("Playing", { exact: true })).toBeVisible();
    cymbals();
    await page.keyboard.press("Space");
    await untilReady(page);
  });
});

test("a rate under one finger repeats the pad under another, ends with the finger, and a click alone keeps it on", async ({
  page,
}) => {
  await newBeat(page);
  await page.keyboard.press("Enter");
  await expect(page.getByText("Recording", { exact: true })).toBeVisible();
  const rate = page.getByRole("button", { name: "Note repeat 1/16", exact: true });
  const pad = page.getByRole("button", { name: "Closed hat", exact: true });
  const finger = (pointerId: number) => ({
    pointerId,
    pointerType: "touch",
    button: 0,
    buttons: 1,
    isPrimary: pointerId === 1,
  });
  await rate.dispatchEvent("pointerdown", finger(1));
  await pad.dispatchEvent("pointerdown", finger(2));
  await playOn(page, 1000);
  await pad.dispatchEvent("pointerup", finger(2));
  await rate.dispatchEvent("pointerup", finger(1));
  await rate.dispatchEvent("click");
  await expect(rate).toHaveAttribute("aria-pressed", "false");
  const hits = hitsOf(await exportBeat(page));
  expect(hits.length).toBeGreaterThan(4);
  expect(hits.every(({ quantize }) => quantize?.grid === "1/16")).toBe(true);
  await rate.click();
  await expect(rate).toHaveAttribute("aria-pressed", "true");
});

test("beside a soloed pad everything else is silent, and a sign says so until it is pressed", async ({ page }) => {
  await openBeat(page, "Lantern Room");
  await page.getByRole("button", { name: "Solo Kick", exact: true }).click();
  const sign = page.getByRole("button", { name: "Solo: Kick. Hear all" });
  await expect(sign).toBeVisible();
  await page.reload();
  await untilReady(page);
  await sign.click();
  await expect(sign).toHaveCount(0);
  await expect(page.getByRole("button", { name: "Solo Kick", exact: true })).toHaveAttribute("aria-pressed", "false");
});
