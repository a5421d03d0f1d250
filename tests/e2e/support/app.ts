import { readFile } from "node:fs/promises";
import { strFromU8, unzipSync } from "fflate";
import { expect, type Locator, type Page } from "@playwright/test";
import type { Beat } from "@/core/beat/beat";
import { isArchive } from "@/core/formats/archive";
import { writeBeatFile } from "@/core/formats/beat-file";

/** Waits until it can sound: the kit is rendered on the first visit, drum by drum. */
export async function untilReady(page: Page): Promise<void> {
  await expect(page.getByRole("button", { name: "Play", exact: true })).toBeEnabled();
  await untilSounds(page);
}

/** The sounds that are needed first of all parts are there. */
async function untilSounds(page: Page): Promise<void> {
  const parts = page.getByRole("region", { name: "Parts" });
  await expect(parts.locator('[aria-busy="false"]').first()).toBeVisible();
  await expect(parts.locator('[aria-busy="true"]')).toHaveCount(0);
}

/** Opens a beat from the shelf by its name and waits until it can sound. */
export async function openBeat(page: Page, name: string): Promise<void> {
  await page.goto("/");
  await openFromShelf(page, name);
}

/** Brings a beat in as a file, and opens it. */
export async function openFile(page: Page, beat: Beat): Promise<void> {
  await page.goto("/");
  await page
    .getByLabel("Import beat or MIDI files")
    .setInputFiles({ name: "beat.json", mimeType: "application/json", buffer: Buffer.from(writeBeatFile(beat)) });
  await openFromShelf(page, beat.name);
}

async function openFromShelf(page: Page, name: string): Promise<void> {
  await page.getByRole("link", { name, exact: true }).click();
  await untilReady(page);
  await expect(page.getByText("Sound is off")).toHaveCount(0);
  await unfoldTiming(page);
}

/** Another instrument, which is open then. @param name of a kit or a voice in the menu */
export async function addPart(page: Page, name: string | RegExp): Promise<void> {
  const parts = page.getByRole("region", { name: "Parts" }).locator("[aria-busy]");
  const before = await parts.count();
  await page.getByRole("button", { name: "Add a part" }).click();
  await page.getByRole("button", { name }).and(page.locator(".dropdown-item")).click();
  await expect(parts).toHaveCount(before + 1);
  await untilSounds(page);
}

/** All fields of the timing, not only the line that says what is set; it stays so, over reloads too. */
async function unfoldTiming(page: Page): Promise<void> {
  const fold = page.getByRole("button", { name: "Timing fields" });
  if ((await fold.count()) > 0 && (await fold.getAttribute("aria-expanded")) === "false") await fold.click();
}

/** Makes a beat of its own, two bars of 4/4 at 100 BPM, and waits until it can sound. */
export async function newBeat(page: Page): Promise<void> {
  await page.goto("/");
  await page.getByRole("button", { name: "New beat", exact: true }).click();
  await untilReady(page);
  await unfoldTiming(page);
}

/** Takes something from the export menu. */
export async function exportAs(page: Page, item: string): Promise<Buffer> {
  await page.getByRole("button", { name: "Export" }).click();
  const [download] = await Promise.all([
    page.waitForEvent("download"),
    page.getByRole("button", { name: item }).click(),
  ]);
  return readFile(await download.path());
}

export async function exportBeat(page: Page): Promise<Beat> {
  const file = await exportAs(page, "Beat file");
  // One with samples is a ZIP file.
  const text = isArchive(file) ? strFromU8(unzipSync(file)["beat.json"]!) : file.toString("utf8");
  return JSON.parse(text).beat;
}

/** All hits of a beat's first pattern with the pass they are in. */
export function hitsOf(beat: Beat) {
  return beat.parts[0]!.patterns[0]!.passes.flatMap((pass) => pass.hits.map((hit) => ({ ...hit, pass: pass.name })));
}

/** The choice of the groove. */
export function grooveOf(page: Page): Locator {
  return page.getByLabel("Groove", { exact: true });
}

/** Types a number into a field of that name. */
export async function setNumber(page: Page, name: string, value: number): Promise<void> {
  const field = page.getByRole("spinbutton", { name, exact: true });
  await field.fill(String(value));
  await field.press("Enter");
}

export const ONE_BAR_BPM = 150;

/** Makes a beat of one bar, with no click: what is heard is what is played. */
export async function oneBar(page: Page): Promise<void> {
  await newBeat(page);
  await setNumber(page, "Tempo", ONE_BAR_BPM);
  await setNumber(page, "Loop length in bars", 1);
  await page.getByRole("button", { name: "Click", exact: true }).click();
}
