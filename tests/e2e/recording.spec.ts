import { expect, type Page } from "@playwright/test";
import { exportBeat, hitsOf, newBeat, setNumber } from "./support/app";
import { firstSoundSeconds, strikeWhereHeard } from "./support/player";
import { emptyTap, installTap, readTap, waitForSound } from "./support/tap";
import { playOn } from "./support/loudspeaker";
import { test } from "./support/test";

test.use({ bypassCSP: true });

const BPM = 100;
const MS_PER_TICK = 60_000 / (BPM * 960);

/**
 * Records, and strikes pads on given transport positions as they are heard. The first click of the count-in tells where
 * the transport began.
 */
async function playOnTheHeardBeat(
  page: Page,
  strokes: readonly { readonly code: string; readonly ticks: number }[],
): Promise<void> {
  await page.keyboard.press("Enter");
  const barTicks = 3840;
  await strikeWhereHeard(
    page,
    strokes.map(({ code, ticks }) => ({ code, ms: (barTicks + ticks) * MS_PER_TICK })),
    await firstSoundSeconds(page),
  );
}

test("hits on the heard beat are recorded within 5 ms of the line, sound once in their lap and on the line from the next", async ({
  page,
}) => {
  await installTap(page);
  await newBeat(page);
  await emptyTap(page);
  const kicks = [0, 1920, 3840, 5760].map((ticks) => ({ code: "KeyZ", ticks }));
  const hats = [7680, 8640, 9600, 10560].map((ticks) => ({ code: "KeyA", ticks: ticks + 960 }));
  await playOnTheHeardBeat(page, [...kicks, ...hats]);
  await page.keyboard.press("Space");
  const beat = await exportBeat(page);
  const hits = hitsOf(beat);
  expect(hits.map(({ lane }) => lane)).toEqual([0, 0, 0, 0, 8, 8, 8, 8]);
  const errorsMs = hits.map(({ played: { ticks } }, index) => {
    const line = [...kicks, ...hats][index]!.ticks % 7680;
    const distance = ticks - line;
    return (distance > 3840 ? distance - 7680 : distance) * MS_PER_TICK;
  });
  expect(Math.max(...errorsMs.map(Math.abs))).toBeLessThan(0.1);
  expect(new Set(hits.map(({ pass }) => pass)).size).toBe(1);
});

test("an early hit at the end of the count-in is the downbeat and does not sound twice", async ({ page }) => {
  await installTap(page);
  await newBeat(page);
  await page.getByRole("button", { name: "Click", exact: true }).click();
  // 120 ms ahead of the first downbeat, nearer to a sixteenth before it, then nothing for two laps.
  await emptyTap(page);
  await playOnTheHeardBeat(page, [{ code: "KeyC", ticks: -192 }]);
  const lapMs = 7680 * MS_PER_TICK;
  await waitForSound(page, 4 * 960 * MS_PER_TICK + 2 * lapMs + 400);
  await page.keyboard.press("Space");
  const sound = await readTap(page);
  const [hit] = hitsOf(await exportBeat(page));
  expect(hit!.played.ticks * MS_PER_TICK).toBeCloseTo(-120, 1);

  // Sounds after the four clicks of the count-in: the stroke itself, then the downbeats of lap 2 and lap 3.
  const starts = soundStarts(sound.left, sound.sampleRate);
  const beatFrames = 960 * MS_PER_TICK * (sound.sampleRate / 1000);
  const downbeat = starts[0]! + 4 * beatFrames;
  const strokes = starts.filter((frame) => frame > starts[0]! + 3.5 * beatFrames);
  const lapFrames = 8 * beatFrames;
  expect(strokes.map((frame) => Math.round(((frame - downbeat) / lapFrames) * 100) / 100)).toEqual([
    expect.closeTo(0, 1),
    1,
    2,
  ]);
  expect(strokes[0]).toBeLessThan(downbeat + 0.03 * sound.sampleRate);
});

/** Frames where sound begins after at least 50 ms of silence. */
function soundStarts(samples: Float32Array, sampleRate: number): number[] {
  const starts: number[] = [];
  let lastSound = -Infinity;
  samples.forEach((sample, frame) => {
    if (sample === 0) return;
    if (frame - lastSound > 0.05 * sampleRate) starts.push(frame);
    lastSound = frame;
  });
  return starts;
}

test("from an empty page to a kept loop", async ({ page }) => {
  await newBeat(page);
  // So long that on no machine what is played below goes over its end.
  await setNumber(page, "Loop length in bars", 16);
  const status = page
    .getByRole("banner")
    .getByRole("status")
    .filter({ hasText: /Stopped|Count-in|Playing|Recording/ });
  await expect(status).toHaveText("Stopped");
  await page.keyboard.press("Enter");
  await expect(status).toHaveText("Count-in");
  await expect(status).toHaveText("Recording");
  // All of it within one lap, which is one step of undo.
  for (const key of ["z", "x", "z", "x"]) {
    await page.keyboard.press(key);
    await playOn(page, 200);
  }
  await expect(page.getByText("4 hits", { exact: true })).toBeVisible();
  // Out, and in again while the loop runs: the hats are a pass of their own.
  await page.keyboard.press("Enter");
  await expect(status).toHaveText("Playing");
  await page.keyboard.press("Enter");
  for (let index = 0; index < 5; index++) {
    await page.keyboard.press("a");
    await playOn(page, 130);
  }
  await expect(page.getByRole("list").getByText("Pass 2", { exact: true })).toBeVisible();
  await page.keyboard.press("Space");
  await expect(status).toHaveText("Stopped");

  const both = await exportBeat(page);
  expect(both.parts[0]!.patterns[0]!.passes.map(({ name, hits }) => [name, hits.length])).toEqual([
    ["Pass 1", 4],
    ["Pass 2", 5],
  ]);
  expect(both.parts[0]!.patterns[0]!.bars).toBe(16);

  await page.keyboard.press("Control+z");
  await expect(page.getByRole("list").getByText("Pass 2", { exact: true })).toHaveCount(0);
  await page.keyboard.press("Control+Shift+z");
  await expect(page.getByRole("list").getByText("Pass 2", { exact: true })).toBeVisible();
  await page.getByRole("button", { name: "Undo" }).click();
  await expect(page.getByRole("list").getByText("Pass 2", { exact: true })).toHaveCount(0);
  await expect(page.getByText("Saved in this browser")).toBeVisible();

  await page.reload();
  await expect(page.getByRole("list").getByText("Pass 1", { exact: true })).toBeVisible();
  await expect(page.getByText("4 hits", { exact: true })).toBeVisible();
  expect(hitsOf(await exportBeat(page))).toEqual(hitsOf(both).filter(({ pass }) => pass === "Pass 1"));
});

test("letters typed into a field do not drum, and a lap without hits leaves nothing", async ({ page }) => {
  await newBeat(page);
  await page.keyboard.press("Enter");
  await page.getByLabel("Name of the beat").fill("zxcv asdf");
  await playOn(page, 4000);
  await page.keyboard.press("Escape");
  await page.getByRole("button", { name: "Stop" }).click();
  await expect(page.getByText("Nothing recorded yet")).toBeVisible();
});
