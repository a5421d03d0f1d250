import { expect, type Page } from "@playwright/test";
import { addPart, exportBeat, newBeat, setNumber, untilReady } from "../support/app";
import { connectMidi, installFakeMidi, plug, send } from "../support/fake-midi";
import { playOn } from "../support/loudspeaker";
import { emptyTap, heardMs, installTap, readTap, waitForSound } from "../support/tap";
import { test } from "../support/test";
import { violations } from "../support/violations";

/** From here on the page knows how long a key was down, as its own clock has it. */
const watchKeys = (page: Page) =>
  page.evaluate(() => {
    const keys = { downMs: 0, upMs: 0 };
    window.addEventListener("keydown", ({ timeStamp }) => (keys.downMs ||= timeStamp), true);
    window.addEventListener("keyup", ({ timeStamp }) => (keys.upMs ||= timeStamp), true);
    Object.assign(window, { keys });
  });
const keyHeldMs = (page: Page) =>
  page.evaluate(() => {
    const { keys } = window as unknown as { keys: { downMs: number; upMs: number } };
    return keys.upMs - keys.downMs;
  });

test.use({ bypassCSP: true });

/** How often a sound swings a second, by autocorrelation around an expected pitch (ISO 16: A4 is 440 Hz). */
function pitchOf(samples: Float32Array, sampleRate: number, near: number): number {
  const alike = (lag: number) => {
    let sum = 0;
    for (let at = 0; at + lag < samples.length; at++) sum += samples[at]! * samples[at + lag]!;
    return sum;
  };
  const middle = Math.round((8 * sampleRate) / near);
  const lags = Array.from({ length: 81 }, (_, at) => middle - 40 + at);
  const sums = lags.map(alike);
  const best = sums.indexOf(Math.max(...sums));
  const [before, top, after] = [sums[best - 1]!, sums[best]!, sums[best + 1]!];
  return (8 * sampleRate) / (lags[best]! + (before - after) / (2 * (before - 2 * top + after)));
}

test.describe("as they sound", () => {
  test.use({ sounds: "made" });

  test("a bass is added to the loop: its keys sound their notes, as long as they are held, and come round as they were played", async ({
    page,
  }) => {
    await installTap(page);
    await newBeat(page);
    await setNumber(page, "Tempo", 120);
    await setNumber(page, "Loop length in bars", 1);
    await addPart(page, /^Winch/);
    await expect(page.getByRole("button", { name: "C2", exact: true })).toBeVisible();
    await emptyTap(page);
    await page.keyboard.down("KeyA");
    await waitForSound(page, 900);
    const upAfterMs = await heardMs(page);
    await page.keyboard.up("KeyA");
    const upBeforeMs = await heardMs(page);
    await waitForSound(page, 1500);
    const { left, sampleRate } = await readTap(page);
    const first = left.findIndex((sample) => Math.abs(sample) > 1e-4);
    const held = left.subarray(first + 0.3 * sampleRate, first + 0.7 * sampleRate);
    // The first key of the home row is the ninth note from C2 on: G sharp.
    const expected = 440 * 2 ** ((44 - 69) / 12);
    expect(Math.abs(1200 * Math.log2(pitchOf(held, sampleRate, expected) / expected))).toBeLessThan(3);
    // Soon after it was let go it is gone.
    const lastMs = (1000 * left.findLastIndex((sample) => Math.abs(sample) > 1e-5)) / sampleRate;
    expect(lastMs).toBeGreaterThan(upAfterMs - 100);
    expect(lastMs).toBeLessThan(upBeforeMs + 400);

    await page.getByRole("button", { name: "Click", exact: true }).click();
    await page.keyboard.press("Enter");
    await expect(page.getByText("Recording", { exact: true })).toBeVisible();
    await watchKeys(page);
    await page.keyboard.down("KeyZ");
    await playOn(page, 400);
    await page.keyboard.up("KeyZ");
    await expect(page.getByText("1 hit", { exact: true })).toBeVisible();
    const heldMs = await keyHeldMs(page);
    await page.keyboard.press("Enter");
    const beat = await exportBeat(page);
    const [hit] = beat.parts[1]!.patterns[0]!.passes[0]!.hits;
    expect(hit!.lane).toBe(36);
    // As long as the key was down, which on a slow machine is longer than asked: 1.92 ticks a ms, and readings of two clocks.
    expect(Math.abs(hit!.lengthTicks - 1.92 * heldMs)).toBeLessThan(60);
    await page.keyboard.press("Space");
    await page.reload();
    await untilReady(page);
    await page.keyboard.press("Alt+2");
    await expect(page.getByRole("button", { name: "Winch", exact: true })).toHaveAttribute("aria-current", "true");
    await expect(page.getByRole("img", { name: "1 hit in 1 bar" })).toBeVisible();
    await page.keyboard.press("Alt+ArrowUp");
    await expect(page.getByRole("button", { name: "C3", exact: true })).toBeVisible();
    expect(await violations(page)).toEqual([]);
  });

  test("what a pad holds ends when it is let go, though it has other notes by then, or the keyboard has gone elsewhere", async ({
    page,
  }) => {
    await installTap(page);
    await newBeat(page);
    await addPart(page, /^Fog/);
    const pad = page.getByRole("region", { name: "Pads" }).getByRole("button").first();
    const silentAtEnd = async () => {
      const { left, sampleRate } = await readTap(page);
      return left.length > sampleRate && left.subarray(-sampleRate / 2).every((sample) => Math.abs(sample) < 1e-5);
    };
    const holds = async () => {
      await emptyTap(page);
      await waitForSound(page, 900);
      expect(await silentAtEnd()).toBe(false);
    };
    await pad.hover();
    await page.mouse.down();
    await holds();
    await page.keyboard.press("Alt+ArrowUp");
    await expect(pad).toHaveAccessibleName("G♯5");
    expect(await silentAtEnd()).toBe(false);
    await page.mouse.up();
    await expect.poll(silentAtEnd).toBe(true);

    await pad.focus();
    await page.keyboard.down("Space");
    await holds();
    await page.keyboard.press("Tab");
    await page.keyboard.up("Space");
    await expect.poll(silentAtEnd).toBe(true);
  });
});

test("scale and chords are chosen while the loop runs; a controller plays a part of its own beside the pads", async ({
  page,
}) => {
  await installFakeMidi(page);
  await newBeat(page);
  await addPart(page, /^Cabin/);
  await page.keyboard.press("Space");
  await page.getByRole("button", { name: "More of Cabin" }).click();
  await page.getByLabel("Keys play").selectOption("minor");
  await page.getByLabel("From", { exact: true }).selectOption("9");
  await page.getByLabel("As", { exact: true }).selectOption("triads");
  await page.keyboard.press("Escape");
  await expect(page.getByRole("button", { name: "Am: A4 C5 E5", exact: true })).toBeVisible();
  await plug(page, "k", "Small keys");
  await connectMidi(page);
  await page.getByRole("button", { name: "Small keys" }).click();
  await page.getByLabel("Plays part").selectOption("Cabin");
  await page.getByRole("button", { name: "Lanes", exact: true }).click();
  await page.keyboard.press("Alt+1");
  await page.keyboard.press("Enter");
  await page.keyboard.press("KeyZ");
  await send(page, "k", [0x90, 61, 80], [0x80, 61, 0]);
  await expect(page.getByText("1 hit", { exact: true })).toBeVisible();
  await page.keyboard.press("Enter");
  const beat = await exportBeat(page);
  const lanes = beat.parts.map(({ patterns }) => patterns.flatMap(({ passes }) => passes.flatMap(({ hits }) => hits)));
  expect(lanes.map((hits) => hits.map(({ lane }) => lane))).toEqual([[0], [61]]);
  // Both are one step.
  await page.getByRole("button", { name: "Undo" }).click();
  const undone = await exportBeat(page);
  expect(undone.parts.flatMap(({ patterns }) => patterns.flatMap(({ passes }) => passes))).toEqual([]);
});

test("nothing scrolls sideways at 390 pixels, nor twice as large, and the pads are four by four", async ({ page }) => {
  await newBeat(page);
  for (const [width, height] of [
    [390, 844],
    [640, 400],
  ] as const) {
    await page.setViewportSize({ width, height });
    for (const view of ["Lanes", "Report", "Inputs"]) {
      await page.getByRole("button", { name: new RegExp(`^${view}`) }).click();
      const wide = () => page.evaluate(() => [document.documentElement.scrollWidth, innerWidth]);
      await expect.poll(async () => (await wide())[0]! <= (await wide())[1]!).toBe(true);
    }
  }
  await page.getByRole("button", { name: "Lanes", exact: true }).click();
  const [first, fifth] = await Promise.all(
    ["Closed hat", "Crash"].map((name) => page.getByRole("button", { name, exact: true }).boundingBox()),
  );
  expect(first!.height).toBeGreaterThanOrEqual(64);
  expect(fifth!.x).toBeCloseTo(first!.x, 0);
});
