import { expect } from "@playwright/test";
import { addPart, exportAs, exportBeat, newBeat, setNumber, untilReady } from "./support/app";
import { playOn } from "./support/loudspeaker";
import { firstSoundSeconds, strikeWhereHeard } from "./support/player";
import { emptyTap, installTap, readTap, waitForSound } from "./support/tap";
import { test } from "./support/test";
import { fileOf, readWithMido } from "../reference/support/tools";

test.use({ bypassCSP: true });

// One bar at 120 BPM.
const BAR_MS = 2000;

test("a second kit loops along: recorded from part to part without a stop, muted alone, exported as two tracks, there again", async ({
  page,
}) => {
  await installTap(page);
  await newBeat(page);
  await setNumber(page, "Tempo", 120);
  await setNumber(page, "Loop length in bars", 1);
  await addPart(page, /^Kit/);
  const parts = page.getByRole("region", { name: "Parts" });
  await expect(parts.getByRole("button", { name: "Kit 2", exact: true })).toHaveAttribute("aria-current", "true");
  await emptyTap(page);
  await page.keyboard.press("Enter");
  await strikeWhereHeard(
    page,
    [
      { code: "KeyC", ms: BAR_MS },
      { code: "KeyC", ms: 2 * BAR_MS + 500 },
    ],
    await firstSoundSeconds(page),
  );
  // On in the first part, in the same record.
  await page.keyboard.press("Shift+Enter");
  await expect(parts.getByRole("button", { name: "Kit", exact: true })).toHaveAttribute("aria-current", "true");
  await expect(page.getByRole("banner").getByRole("status").filter({ hasText: "Recording" })).toBeVisible();
  await page.keyboard.press("v");
  await expect(page.getByText("1 hit", { exact: true })).toBeVisible();
  await page.keyboard.press("Enter");
  await page.getByRole("button", { name: "Click", exact: true }).click();
  const beat = await exportBeat(page);
  const lanes = beat.parts.map(({ patterns }) =>
    patterns.flatMap(({ passes }) => passes.flatMap(({ hits }) => hits.map(({ lane }) => lane))),
  );
  expect(lanes).toEqual([[3], [2, 2]]);

  // Three strokes a lap are heard, though one may fall into the tail of another; without the second kit one.
  const strokesInFourLaps = async () => {
    await playOn(page, BAR_MS);
    await emptyTap(page);
    await waitForSound(page, 4 * BAR_MS - 100);
    const { left, sampleRate } = await readTap(page);
    return left.filter(
      (sample, frame) =>
        sample !== 0 && left.subarray(Math.max(0, frame - 0.05 * sampleRate), frame).every((before) => before === 0),
    ).length;
  };
  expect(await strokesInFourLaps()).toBeGreaterThan(6);
  await parts.getByRole("button", { name: "Mute part Kit 2" }).click();
  const alone = await strokesInFourLaps();
  expect(alone).toBeGreaterThan(2);
  expect(alone).toBeLessThan(6);
  await parts.getByRole("button", { name: "Mute part Kit 2" }).click();
  await page.keyboard.press("Space");

  const midi = readWithMido([fileOf("parts.mid", await exportAs(page, "MIDI, as heard"))])[0]!;
  expect(midi.notes.map(([track, , , note]) => [track, note]).sort()).toEqual([
    [1, 39],
    [2, 37],
    [2, 37],
  ]);
  await page.reload();
  await untilReady(page);
  await expect(parts.getByRole("button", { name: /^Kit( 2)?$/ })).toHaveCount(2);
  await page.getByRole("button", { name: "More of Kit", exact: true }).click();
  await page.getByRole("button", { name: "Delete Kit", exact: true }).click();
  await expect(parts.getByRole("button", { name: "Kit 2", exact: true })).toHaveAttribute("aria-current", "true");
  await page.getByRole("button", { name: "Undo" }).click();
  await expect(parts.getByRole("button", { name: "Kit", exact: true })).toBeVisible();
});
