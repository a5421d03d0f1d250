import { readFile } from "node:fs/promises";
import { expect, type Page } from "@playwright/test";
import { readSmf } from "@/core/formats/midi/smf-read";
import { exportAs, exportBeat, grooveOf, hitsOf, openBeat, openFile, setNumber, untilReady } from "./support/app";
import { eighths } from "../support/eighths";
import { test } from "./support/test";
import { violationsInBothThemes } from "./support/violations";

const notesOf = async (page: Page) =>
  readSmf(await exportAs(page, "MIDI, as heard")).notes.map(({ tick, note, velocity }) => [tick, note, velocity]);
const patternOf = async (page: Page) => (await exportBeat(page)).parts[0]!.patterns[0]!;
const hits = (page: Page) => page.getByRole("application");

test("a shuffle in the exported MIDI is where it is computed; grids by arrow keys leave recorded passes alone", async ({
  page,
}) => {
  await openFile(page, eighths());
  expect((await notesOf(page)).map(([tick]) => tick)).toEqual([0, 480, 960, 1440, 1920, 2400, 2880, 3360]);
  await page.getByLabel("Swing on").selectOption("1/8");
  await setNumber(page, "Swing", 66.667);
  expect((await notesOf(page)).map(([tick]) => tick)).toEqual([0, 640, 960, 1600, 1920, 2560, 2880, 3520]);
  await page.getByRole("spinbutton", { name: "Swing" }).blur();
  await page.keyboard.press("ArrowRight");
  await expect(page.getByLabel("Input grid")).toHaveValue("1/32");
  expect((await patternOf(page)).passes[0]!.quantize.grid).toBe("1/16");
  // The same keys for the pass that is there.
  await page.getByLabel("Timing of", { exact: true }).selectOption("Pass 1");
  await page.getByLabel("Grid", { exact: true }).selectOption("1/2");
  expect((await notesOf(page)).map(([tick]) => tick)).toEqual([0, 1920]);
  expect((await exportBeat(page)).inputQuantize.grid).toBe("1/32");
});

test("played, corrected and grooved on three keys; keep timing, go too far, reload, return", async ({ page }) => {
  await openBeat(page, "Slow Harbour");
  await grooveOf(page).selectOption("Breakers");
  await setNumber(page, "Loose", 8);
  await page.getByRole("spinbutton", { name: "Loose", exact: true }).blur();
  for (const [key, name] of [
    [";", "Played"],
    ["'", "Corrected"],
    ["\\", "Grooved"],
  ] as const) {
    await page.keyboard.press(key);
    await expect(page.getByRole("button", { name, exact: true })).toHaveAttribute("aria-pressed", "true");
  }
  await page.keyboard.press("`");
  await expect(page.getByRole("button", { name: "Played", exact: true })).toHaveAttribute("aria-pressed", "true");
  await page.keyboard.press("`");
  const good = await notesOf(page);
  const played = hitsOf(await exportBeat(page)).map(({ id, played: { ticks } }) => [id, ticks]);
  await page.getByRole("button", { name: "Keep timing" }).click();
  await expect(grooveOf(page)).toHaveValue("");
  expect(await notesOf(page)).toEqual(good);
  await grooveOf(page).selectOption("Confused Sea");
  await page.getByLabel("Timing of", { exact: true }).selectOption("all");
  await page.getByLabel("Grid", { exact: true }).selectOption("1/4");
  expect(await notesOf(page)).not.toEqual(good);
  await expect(page.getByText("Saved in this browser")).toBeVisible();
  await page.reload();
  await untilReady(page);
  await page.getByRole("button", { name: "Return…" }).click();
  await page.getByRole("button", { name: "to Kept 1" }).click();
  expect(await notesOf(page)).toEqual(good);
  await page.getByRole("button", { name: "Return…" }).click();
  await page.getByRole("button", { name: "to what was played" }).click();
  expect(hitsOf(await exportBeat(page)).map(({ id, played: { ticks } }) => [id, ticks])).toEqual(played);
  const bare = await patternOf(page);
  expect(
    bare.passes.every(({ quantize, hits: own }) => quantize.grid === "off" && own.every(({ start: kept }) => !kept)),
  ).toBe(true);
});

test("hits are pointed at, stepped through by keys and corrected alone; the advice is taken with a key", async ({
  page,
}) => {
  await openBeat(page, "Slow Harbour");
  const readout = page.getByText(/· .*(ms (early|late)|on the line) · velocity/).first();
  await hits(page).focus();
  await page.keyboard.press("ArrowRight");
  await expect(readout).toBeVisible();
  const first = await readout.textContent();
  await page.keyboard.press("ArrowRight");
  await expect(readout).not.toHaveText(first!);
  await expect(page.getByLabel("Timing of", { exact: true })).toHaveValue("selected");
  await page.getByLabel("Grid", { exact: true }).selectOption("1/8Q");
  const own = hitsOf(await exportBeat(page)).filter(({ quantize }) => quantize);
  expect(own.map(({ quantize }) => quantize!.grid)).toEqual(["1/8Q"]);
  await hits(page).focus();
  await page.keyboard.press("Escape");
  await expect(page.getByLabel("Timing of", { exact: true })).toHaveValue("next");
  // Nothing is on eighth triplets here: the advice says so and is one key away, for the hits that it speaks of.
  await page.getByLabel("Timing of", { exact: true }).selectOption("all");
  await page.getByLabel("Grid", { exact: true }).selectOption("1/8T");
  await page.mouse.click(5, 700);
  await expect(page.getByText(/^Played in sixteenths, swung 59 %; 1\/8T moves \d+ hits by \d+ ms/)).toBeVisible();
  await page.keyboard.press("Shift+Quote");
  await expect(page.getByLabel("Grid", { exact: true })).toHaveValue("1/16");
  await expect(page.getByText(/^Played in sixteenths, swung 59 %; 1\/16 fits/)).toBeVisible();
});

test("the lanes zoom to a beat by keys and wheel, go along with playback, and show all again", async ({ page }) => {
  await openBeat(page, "Slow Harbour");
  const shown = page.getByRole("img", { name: /hits? in 2 bars/ });
  await expect(shown).toHaveAccessibleName(/^65 hits/);
  for (let step = 0; step < 4; step++) await page.keyboard.press("Shift+ArrowUp");
  await expect(shown).toHaveAccessibleName(/^[1-9] hits|^1\d hits/);
  await page.keyboard.press("Home");
  await page.keyboard.press("Space");
  await expect(
    page
      .getByText("2.1", { exact: true })
      .or(page.getByText("2.2", { exact: true }))
      .first(),
  ).toBeVisible();
  await page.keyboard.press("Space");
  await hits(page).hover();
  await page.keyboard.down("Control");
  for (let turn = 0; turn < 8; turn++) await page.mouse.wheel(0, 400);
  await page.keyboard.up("Control");
  await expect(shown).toHaveAccessibleName(/^65 hits/);
  await page.mouse.wheel(300, 0);
  await expect(shown).toHaveAccessibleName(/^65 hits/);
});

test("a groove of one's own: made of a pass, there after a reload, renamed, taken away and brought back as a file", async ({
  page,
}, testInfo) => {
  await openBeat(page, "Slow Harbour");
  const menu = page.getByRole("button", { name: "Groove from…" });
  await menu.click();
  await page.getByRole("button", { name: "Hats", exact: true }).click();
  // Made, and not put on what it was made of.
  await expect(page.getByText("“Hats” is among your grooves.")).toBeVisible();
  await expect(grooveOf(page)).not.toHaveValue("Hats");
  await grooveOf(page).selectOption("Hats");
  const name = page.getByLabel("Name", { exact: true });
  await name.fill("Rail hats");
  await name.press("Enter");
  await expect(grooveOf(page)).toHaveValue("Rail hats");
  const [file] = await Promise.all([
    page.waitForEvent("download"),
    page.getByRole("button", { name: "Export Rail hats" }).click(),
  ]);
  const path = testInfo.outputPath("rail.groove.json");
  await file.saveAs(path);
  const written = JSON.parse(await readFile(path, "utf8")).groove;
  expect(written.lines).toHaveLength(16);
  expect(written.lines.some(({ offsetTicks }: { offsetTicks: number }) => offsetTicks > 20)).toBe(true);
  await page.keyboard.press("Escape");
  await expect(page.getByText("Saved in this browser")).toBeVisible();
  await page.reload();
  await untilReady(page);
  await menu.click();
  // Said by its name, taken back, and done again.
  await page.getByRole("button", { name: "Delete your groove “Rail hats”" }).click();
  await page.getByRole("button", { name: "Bring back your groove “Rail hats”" }).click();
  await page.getByRole("button", { name: "Delete your groove “Rail hats”" }).click();
  await page.getByLabel("MIDI or groove file").setInputFiles(path);
  await expect(page.getByText("“Rail hats” is among your grooves.")).toBeVisible();
  await grooveOf(page).selectOption("Rail hats");
  await page.getByLabel("MIDI or groove file").setInputFiles({
    name: "bad.json",
    mimeType: "application/json",
    buffer: Buffer.from('{"format":"echo-pocket-groove","version":1,"groove":{"name":""}}'),
  });
  await expect(page.getByRole("alert").filter({ hasText: "can't be read" })).toBeVisible();
  await expect(grooveOf(page)).toHaveValue("Rail hats");
});

test("the timing report measures, compares two passes, is read out and exported", async ({ page }) => {
  await openBeat(page, "Slow Harbour");
  await page.getByRole("button", { name: "Report" }).click();
  const report = page.getByRole("region", { name: "Timing report" });
  await expect(report.getByText(/^65 hits, .* spread \d+ ms:/)).toBeVisible();
  await expect(report.getByRole("row", { name: /^Hats 24/ })).toBeVisible();
  await report.getByLabel("Beside").selectOption("Hats");
  await expect(report.getByText(/^24 hits, /)).toBeVisible();
  await expect(report.locator("figure svg").first()).toBeVisible();
  expect(await violationsInBothThemes(page)).toEqual([]);
  const [file] = await Promise.all([
    page.waitForEvent("download"),
    report.getByRole("button", { name: "Export CSV" }).click(),
  ]);
  const lines = (await readFile(await file.path(), "utf8")).trim().split("\r\n");
  expect(lines[0]).toBe("hit,pass,pad,lap,beat,line (ticks),late (ms),velocity");
  expect(lines).toHaveLength(66);
  await page.getByRole("button", { name: "Lanes", exact: true }).click();
  await expect(hits(page)).toBeVisible();
});
