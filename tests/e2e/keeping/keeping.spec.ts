import { execFileSync } from "node:child_process";
import { mkdtempSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { expect } from "@playwright/test";
import { demoBeat } from "@/core/demo/demo-beats";
import { writeBeatFile } from "@/core/formats/beat-file";
import { putCopies } from "../../support/browser-store";
import { exportAs, exportBeat, hitsOf, newBeat, openBeat, openFile, untilReady } from "../support/app";
import { eighthsAndBass } from "../../support/eighths";
import { playOn } from "../support/loudspeaker";
import { test } from "../support/test";

test("a tab that is killed while recording loses no finished lap, and the pass is offered back", async ({
  page,
  context,
}) => {
  await newBeat(page);
  const url = page.url();
  await page.getByLabel("Tempo").fill("240");
  await page.getByLabel("Tempo").press("Enter");
  await page.keyboard.press("Enter");
  await expect(page.getByText("Recording", { exact: true })).toBeVisible();
  // Two bars at 240 BPM are two seconds; six hits in the first lap, then the lap in which the tab dies.
  for (let index = 0; index < 6; index++) {
    await page.keyboard.press("z");
    await playOn(page, 150);
  }
  await playOn(page, 2500);
  const client = await context.newCDPSession(page);
  const crashed = page.waitForEvent("crash");
  void client.send("Page.crash").catch(() => undefined);
  await crashed;

  const again = await context.newPage();
  await again.goto(url);
  await expect(again.getByText("A pass was being recorded when the page went away: 6 hits.")).toBeVisible();
  await expect(again.getByText("Nothing recorded yet")).toBeVisible();
  await again.getByRole("button", { name: "Bring it back" }).click();
  await expect(again.getByText("6 hits", { exact: true })).toBeVisible();
  expect(hitsOf(await exportBeat(again))).toHaveLength(6);
  await expect(again.getByText("Saved in this browser")).toBeVisible();
  await again.reload();
  await expect(again.getByText("6 hits", { exact: true })).toBeVisible();
  await expect(again.getByText("A pass was being recorded")).toHaveCount(0);
});

test("a second tab may listen but not edit, until the first one is closed or hands the beat over", async ({
  page,
  context,
}) => {
  await openBeat(page, "Tide Table");
  const second = await context.newPage();
  await second.goto(page.url());
  await expect(second.getByText("This beat is open in another tab.")).toBeVisible();
  await expect(second.getByRole("button", { name: "Record" })).toBeDisabled();
  await expect(second.getByRole("button", { name: "Play", exact: true })).toBeEnabled();
  await page.getByLabel("Name of the beat").fill("Flood Table");
  await page.keyboard.press("Enter");
  await second.getByRole("button", { name: "Go on here" }).click();
  await expect(second.getByRole("button", { name: "Record" })).toBeEnabled();
  await expect(second.getByLabel("Name of the beat")).toHaveValue("Flood Table");
  await expect(page.getByRole("button", { name: "Record" })).toBeDisabled();
  await second.close();
  await expect(page.getByRole("button", { name: "Record" })).toBeEnabled();
});

test("a beat that is opened while the browser’s store gives no answer opens by itself once it does", async ({
  page,
}) => {
  await newBeat(page);
  await page.keyboard.press("z");
  await expect(page.getByText("Saved in this browser")).toBeVisible();
  // What Chromium says for a moment after it was killed.
  await page.addInitScript(() => {
    const { open } = IDBFactory.prototype;
    Object.assign(window, { storeMended: () => (IDBFactory.prototype.open = open) });
    IDBFactory.prototype.open = () => {
      throw new DOMException("Internal error opening backing store for indexedDB.open.", "UnknownError");
    };
  });
  await page.reload();
  await expect(page.getByRole("heading", { name: "The browser’s store does not answer." })).toBeVisible();
  await page.evaluate(() => (window as unknown as { storeMended(): void }).storeMended());
  await expect(page.getByLabel("Name of the beat")).toHaveValue("New beat");
  await expect(page.getByRole("button", { name: "Record" })).toBeEnabled();
  await expect(page.getByText("Saved in this browser")).toBeVisible();
});

test("who goes to the shelf in the middle of a pass, renames and copies there, loses no hit", async ({ page }) => {
  await newBeat(page);
  await page.keyboard.press("Enter");
  await expect(page.getByText("Recording", { exact: true })).toBeVisible();
  for (let hit = 0; hit < 8; hit++) {
    await page.keyboard.press("z");
    await playOn(page, 120);
  }
  await page.getByRole("link", { name: /Shelf/ }).click();
  await page.getByRole("button", { name: "More for New beat" }).click();
  await page.getByRole("button", { name: "Rename" }).click();
  await page.getByLabel("New name for New beat").fill("Ebb");
  await page.keyboard.press("Enter");
  await page.getByRole("button", { name: "More for Ebb" }).click();
  await page.getByRole("button", { name: "Duplicate" }).click();
  for (const name of ["Ebb copy", "Ebb"]) {
    await page.getByRole("link", { name, exact: true }).click();
    await expect(page.getByText("8 hits", { exact: true })).toBeVisible();
    await page.getByRole("link", { name: /Shelf/ }).click();
  }
});

test("without a store the beat lives in memory, the page says so, and export works", async ({ page }) => {
  await page.addInitScript(() => Object.defineProperty(window, "indexedDB", { value: undefined }));
  await page.goto("/");
  await expect(page.getByText("This browser keeps nothing here.")).toBeVisible();
  await page.getByRole("link", { name: "Lantern Room", exact: true }).click();
  await expect(page.getByRole("button", { name: "Record" })).toBeEnabled();
  await page.getByRole("spinbutton", { name: "Loop length in bars" }).fill("4");
  await page.keyboard.press("Enter");
  await expect(page.getByText("Not saved: in memory only")).toBeVisible();
  expect((await exportBeat(page)).parts[0]!.patterns[0]!.bars).toBe(4);
});

test("the shelf makes, renames, duplicates, deletes and brings back", async ({ page }) => {
  await page.goto("/");
  const card = (name: string) =>
    page.getByRole("listitem").filter({ has: page.getByRole("heading", { name, exact: true }) });
  for (const name of ["Slow Harbour", "Gangway Shuffle", "Tide Table", "Lantern Room"])
    await expect(card(name)).toBeVisible();
  await page.getByRole("button", { name: "More for Tide Table" }).click();
  await page.getByRole("button", { name: "Duplicate" }).click();
  await expect(card("Tide Table copy")).toBeVisible();
  await page.getByRole("button", { name: "More for Tide Table copy" }).click();
  await page.getByRole("button", { name: "Rename" }).click();
  await page.getByLabel("New name for Tide Table copy").fill("Ebb");
  await page.keyboard.press("Enter");
  await expect(card("Ebb")).toBeVisible();
  await page.getByRole("button", { name: "More for Ebb" }).click();
  await page.getByRole("button", { name: "Delete" }).click();
  await expect(card("Ebb")).toHaveCount(0);
  await page.getByRole("button", { name: "Undo" }).click();
  await expect(card("Ebb")).toBeVisible();
  await page.reload();
  await expect(card("Ebb")).toBeVisible();
});

test("files come in by button; bad ones are refused with what and where, and nothing is harmed", async ({ page }) => {
  const folder = mkdtempSync(join(tmpdir(), "pocket-"));
  const files = {
    "good.json": writeBeatFile({ ...demoBeat("Lantern Room"), id: "from-file", name: "From a file" }),
    "cut.json": writeBeatFile(demoBeat("Lantern Room")).slice(0, 500),
    "hard.json": writeBeatFile(demoBeat("Lantern Room")).replace(/"velocity":\d+/, '"velocity":300'),
    "noise.mid": "MThd but no more",
  };
  for (const [name, text] of Object.entries(files)) writeFileSync(join(folder, name), text);
  await page.goto("/");
  await page
    .getByLabel("Import beat or MIDI files")
    .setInputFiles(Object.keys(files).map((name) => join(folder, name)));
  await expect(page.getByRole("alert").getByText("Imported “From a file”.")).toBeVisible();
  await expect(page.getByText(/cut\.json: This is no beat file/)).toBeVisible();
  await expect(page.getByText(/hard\.json: .*hits\/0\/played\/velocity: must be <= 127, got 300/)).toBeVisible();
  await expect(page.getByText(/noise\.mid: This MIDI file can't be read/)).toBeVisible();
  await expect(page.getByRole("link", { name: "Lantern Room", exact: true })).toBeVisible();
});

test("what is exported is what the command line writes, and the server renders the same bytes", async ({
  page,
  request,
}) => {
  await openFile(page, eighthsAndBass());
  const beatFile = await exportAs(page, "Beat file");
  const midi = await exportAs(page, "MIDI, as heard");
  const wav = await exportAs(page, "WAV, exact loop");
  const folder = mkdtempSync(join(tmpdir(), "pocket-"));
  const file = (name: string) => join(folder, name);
  const pocket = (...args: string[]) => execFileSync("node_modules/.bin/tsx", ["cli/pocket.ts", ...args]);
  writeFileSync(file("beat.json"), beatFile);
  pocket("midi", file("beat.json"), file("beat.mid"));
  const { readFileSync } = await import("node:fs");
  expect(midi.equals(readFileSync(file("beat.mid")))).toBe(true);

  // On a slow machine it may be told to come again.
  const render = () =>
    request.post("/api/render?bits=24&rate=48000", {
      data: beatFile,
      headers: { "Content-Type": "application/json" },
    });
  let rendered = await render();
  while (rendered.headers()["retry-after"]) rendered = await render();
  expect(rendered.status()).toBe(200);
  expect((await rendered.body()).equals(wav)).toBe(true);
  pocket("render", file("beat.json"), file("beat.wav"));
  expect(wav.equals(readFileSync(file("beat.wav")))).toBe(true);
});

test("the server refuses bad files with their problems and large ones by their size", async ({ request }) => {
  const bad = await request.post("/api/render", {
    data: writeBeatFile(demoBeat("Lantern Room")).replace('"bpm":104', '"bpm":4'),
  });
  expect(bad.status()).toBe(400);
  expect((await bad.json()).problems).toEqual(["/beat/bpm: must be >= 20, got 4"]);
  const large = await request.post("/api/render", { data: Buffer.alloc(10 * 1024 * 1024 + 1, " ") });
  expect(large.status()).toBe(413);
  const rate = await request.post("/api/render?rate=1", { data: "{}" });
  expect(rate.status()).toBe(400);
});

test("of a long shelf only the beginning is built, and the rest before one gets there, by wheel and by Tab", async ({
  page,
}) => {
  await page.goto("/");
  await expect(page.getByRole("link", { name: "Gangway Shuffle", exact: true })).toBeVisible();
  await putCopies(page, 200);
  await page.reload();
  const beats = page.getByRole("list", { name: "Beats" }).getByRole("listitem");
  await expect(page.getByRole("link", { name: "Crossing 0", exact: true })).toBeVisible();
  expect(await beats.count()).toBeLessThan(70);
  await page.getByRole("link", { name: "Crossing 28", exact: true }).focus();
  await expect.poll(() => beats.count()).toBeGreaterThan(60);
  const oldest = page.getByRole("link", { name: "Lantern Room", exact: true });
  await expect(async () => {
    await page.mouse.wheel(0, 20_000);
    await expect(oldest).toBeInViewport({ timeout: 200 });
  }).toPass();
  await expect(beats).toHaveCount(204);
  await oldest.click();
  await untilReady(page);
});
