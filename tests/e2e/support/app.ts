import { readFile } from "node:fs/promises";
import { expect, type Page } from "@playwright/test";
import type { Beat } from "@/core/beat/beat";

/** Opens a beat from the shelf by its name and waits until it can sound. */
export async function openBeat(page: Page, name: string): Promise<void> {
  await page.goto("/");
  await page.getByRole("link", { name, exact: true }).click();
  await expect(page.getByRole("button", { name: "Play", exact: true })).toBeEnabled({ timeout: 30_000 });
  // The kit is rendered on the first visit; a pad sounds only after that.
  await expect(page.getByText("Sound is off")).toHaveCount(0);
}

/** Makes a beat of its own, two bars of 4/4 at 100 BPM, and waits until it can sound. */
export async function newBeat(page: Page): Promise<void> {
  await page.goto("/");
  await page.getByRole("button", { name: "New beat" }).click();
  await expect(page.getByRole("button", { name: "Play", exact: true })).toBeEnabled({ timeout: 30_000 });
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
  return JSON.parse((await exportAs(page, "Beat file")).toString("utf8")).beat;
}

/** All hits of a beat's first pattern with the pass they are in. */
export function hitsOf(beat: Beat) {
  return beat.parts[0].patterns[0].passes.flatMap((pass) => pass.hits.map((hit) => ({ ...hit, pass: pass.name })));
}
