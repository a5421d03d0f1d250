import { expect, type Page } from "@playwright/test";
import { unzipSync } from "fflate";
import { exportAs, exportBeat, oneBar } from "../support/app";
import { playOn } from "../support/loudspeaker";
import { emptyTap, installTap, readTap, waitForSound } from "../support/tap";
import { test } from "../support/test";
import { violations } from "../support/violations";

test.use({ bypassCSP: true });

/** The highest amplitude of each side over a second of playback. */
async function peaks(page: Page): Promise<readonly [number, number]> {
  await playOn(page, 1700);
  await emptyTap(page);
  await waitForSound(page, 1700);
  const { left, right } = await readTap(page);
  const peakOf = (side: Float32Array) => side.reduce((most, sample) => Math.max(most, Math.abs(sample)), 0);
  return [peakOf(left), peakOf(right)];
}

/** Side sticks on the beats of a bar, written, so that all are alike. */
async function sticks(page: Page): Promise<void> {
  await oneBar(page);
  await page.keyboard.press("Insert");
  for (let beat = 0; beat < 4; beat++) {
    await page.keyboard.press("c");
    for (let rest = 0; rest < 3; rest++) await page.keyboard.press("ArrowRight");
  }
  await page.keyboard.press("Insert");
  await page.keyboard.press("Alt+BracketLeft");
  await expect(page.getByRole("region", { name: "Mix" })).toBeVisible();
}

test("levels and places are set by keys, typed and dragged while the loop runs, heard, and one step of undo each", async ({
  page,
}) => {
  await installTap(page);
  await sticks(page);
  await page.keyboard.press("Space");
  const [before] = await peaks(page);
  const level = page.getByRole("slider", { name: "Level of Side stick", exact: true });
  await level.focus();
  // Half a decibel a key.
  for (let key = 0; key < 24; key++) await page.keyboard.press("ArrowLeft");
  const [after] = await peaks(page);
  expect(20 * Math.log10(before / after)).toBeGreaterThan(10);
  expect(20 * Math.log10(before / after)).toBeLessThan(14);
  await expect(page.getByRole("spinbutton", { name: "Level of Side stick, typed" })).toHaveValue("-12.0");
  // The slider has the keyboard, and Space is still for the transport.
  await page.keyboard.press("Space");
  await expect(page.getByRole("button", { name: "Play", exact: true })).toBeVisible();
  await page.keyboard.press("Space");

  const place = page.getByRole("slider", { name: "Pan of Side stick", exact: true });
  const box = (await place.boundingBox())!;
  await page.mouse.click(box.x + box.width - 2, box.y + box.height / 2);
  await expect(place).toHaveAttribute("aria-valuetext", "100 R");
  const [left, right] = await peaks(page);
  expect(right / Math.max(left, 1e-6)).toBeGreaterThan(5);
  const zip = await exportAs(page, "Stems, a WAV a pad");
  expect(Object.keys(unzipSync(zip))).toEqual(["Kit Side stick.wav"]);
  // What was dragged has not kept the keyboard.
  await page.keyboard.press("Space");
  await expect(page.getByRole("button", { name: "Play", exact: true })).toBeVisible();
  await page.keyboard.press("Control+z");
  await page.keyboard.press("Control+z");
  const kit = (await exportBeat(page)).parts[0]!;
  expect(kit.kind === "kit" && kit.pads[2]!.mix).toMatchObject({ levelDb: 0, pan: 0 });
  await page.keyboard.press("Control+Shift+z");
  await level.dblclick();
  await expect(level).toHaveValue("0");
  // Nought seconds would be no sound at all: it says what it means.
  const decay = page.getByRole("spinbutton", { name: "Decay of Side stick", exact: true });
  await expect(decay).toHaveValue("full");
  await decay.fill("0.05");
  await decay.press("Enter");
  await expect(decay).toHaveValue("0.05");
  await decay.dblclick();
  await expect(decay).toHaveValue("full");
});

/** Names of the rows in whose bar a level is drawn, of a list in which all bars share one canvas. */
function litRows(page: Page, list: string): Promise<readonly string[]> {
  return page.getByRole("list", { name: list }).evaluate((rows) => {
    const canvas = rows.querySelector("canvas")!;
    const [first, over] = [canvas.getBoundingClientRect(), devicePixelRatio];
    const [width, height] = [Math.round(first.width * over), Math.round(first.height * over)];
    if (width * height === 0) return [];
    // The canvas itself is the compositor's.
    const copy = new OffscreenCanvas(width, height).getContext("2d")!;
    copy.drawImage(canvas, 0, 0, width, height);
    const lit = [...rows.querySelectorAll("li[aria-label]")].filter((row) => {
      const track = row.querySelector("[class*=meter]")!.getBoundingClientRect();
      const [x, y] = [track.left + 3 - first.left, track.top + track.height / 2 - first.top];
      return copy.getImageData(Math.floor(x * over), Math.floor(y * over), 1, 1).data[3]! > 0;
    });
    return lit.map((row) => row.getAttribute("aria-label")!);
  });
}

test("levels of pads and parts lie in their own bars, also after the page has another width, and fall", async ({
  page,
}) => {
  await sticks(page);
  await expect(page.locator("canvas")).toHaveCount(5);
  for (const width of [1280, 1000, 1440]) {
    await page.setViewportSize({ width, height: 800 });
    await page.keyboard.press("Space");
    await playOn(page, 700);
    await expect.poll(() => litRows(page, "Pads of Kit")).toEqual(["Side stick"]);
    await expect.poll(() => litRows(page, "Parts")).toEqual(["Kit"]);
    await page.keyboard.press("Space");
    await expect.poll(() => litRows(page, "Pads of Kit")).toEqual([]);
  }
});

test("what is too loud says which pad and where, and is cured by one button; loudness and peaks are shown", async ({
  page,
}) => {
  await sticks(page);
  for (const name of ["Level of Side stick, typed", "Level of Kit, typed"]) {
    const field = page.getByRole("spinbutton", { name });
    await field.fill("12");
    await field.press("Enter");
  }
  await page.keyboard.press("Space");
  const alert = page.getByRole("alert").filter({ hasText: "Too loud by" });
  await expect(alert).toContainText("Side stick was the loudest, at 1.");
  await expect(page.getByRole("button", { name: "Too loud" })).toBeVisible();
  await expect(page.getByLabel("Loudness in all, LUFS")).toHaveText(/^−\d+\.\d$/);
  expect(await violations(page)).toEqual([]);
  // It stays when playback begins anew.
  await page.keyboard.press("Space");
  await page.keyboard.press("Space");
  await expect(alert).toBeVisible();
  await playOn(page, 3200);
  await alert.getByRole("button", { name: /All levels down by \d+ dB/ }).click();
  await expect(alert).toHaveCount(0);
  await playOn(page, 3400);
  await expect(alert).toHaveCount(0);
  // By how much it was too loud depends on whether the stroke before rang on when playback began anew.
  const peak = page.getByLabel("Highest peak of all together, dBFS");
  await expect(peak).toHaveText(/^−\d\.\d$/);
  await expect(async () => {
    const left = Number((await peak.innerText()).slice(1));
    const said = await page.getByText(/^(Little room: \d dB|Clean: \d dB of room)\.$/).innerText({ timeout: 1000 });
    // Whole dB, of a peak that is shown to a tenth.
    expect(Math.abs(Number(/\d/.exec(said)![0]) + 0.5 - left)).toBeLessThanOrEqual(0.55);
    if (Math.abs(left - 6) > 0.05) expect(said.startsWith("Little room")).toBe(left < 6);
  }).toPass();
});
