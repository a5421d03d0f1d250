import { expect, type Page } from "@playwright/test";
import { addPart, exportAs, exportBeat, newBeat, setNumber, untilReady } from "./support/app";
import { playOn } from "./support/loudspeaker";
import { firstSoundSeconds, strikeWhereHeard } from "./support/player";
import { emptyTap, heardMs, installTap, readTap, waitForSound } from "./support/tap";
import { test } from "./support/test";
import { fileOf, readWithMido } from "../reference/support/tools";

test.use({ bypassCSP: true });

// One bar at 120 BPM.
const BAR_MS = 2000;

/** Where strokes begin in each of the next three whole bars, in ms: what follows 50 ms of silence. */
async function heardInBars(page: Page, barSeconds: number): Promise<number[][]> {
  await playOn(page, BAR_MS);
  await emptyTap(page);
  await waitForSound(page, 5 * BAR_MS);
  const { left, startFrame, sampleRate } = await readTap(page);
  const msOf = (frame: number) => Math.round(((startFrame + frame) / sampleRate - barSeconds) * 1000);
  const begins: number[] = [];
  for (let frame = 0, quiet = 0; frame < left.length; frame++) {
    if (left[frame] !== 0 && quiet > 0.05 * sampleRate) begins.push(msOf(frame));
    quiet = left[frame] === 0 ? quiet + 1 : 0;
  }
  // Not the very first line: what is before it is not known.
  const first = Math.floor(msOf(0) / BAR_MS) + 2;
  return [first, first + 1, first + 2].map((bar) =>
    begins.filter((ms) => Math.floor(ms / BAR_MS) === bar).map((ms) => ms - bar * BAR_MS),
  );
}

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
  const countInSeconds = await firstSoundSeconds(page);
  await strikeWhereHeard(
    page,
    [
      { code: "KeyC", ms: BAR_MS },
      { code: "KeyC", ms: 2 * BAR_MS + 500 },
    ],
    countInSeconds,
  );
  // On in the first part, in the same record.
  await page.keyboard.press("Shift+Enter");
  await expect(parts.getByRole("button", { name: "Kit", exact: true })).toHaveAttribute("aria-current", "true");
  await expect(page.getByRole("banner").getByRole("status").filter({ hasText: "Recording" })).toBeVisible();
  const nextLapMs = Math.ceil((await heardMs(page)) / BAR_MS) * BAR_MS + BAR_MS;
  await strikeWhereHeard(page, [{ code: "KeyV", ms: nextLapMs + 1250 }], countInSeconds);
  await expect(page.getByText("1 hit", { exact: true })).toBeVisible();
  await page.keyboard.press("Enter");
  await page.getByRole("button", { name: "Click", exact: true }).click();
  const beat = await exportBeat(page);
  const lanes = beat.parts.map(({ patterns }) =>
    patterns.flatMap(({ passes }) => passes.flatMap(({ hits }) => hits.map(({ lane }) => lane))),
  );
  expect(lanes).toEqual([[3], [2, 2]]);

  expect(await heardInBars(page, countInSeconds)).toEqual(Array(3).fill([0, 500, 1250]));
  await parts.getByRole("button", { name: "Mute part Kit 2" }).click();
  expect(await heardInBars(page, countInSeconds)).toEqual(Array(3).fill([1250]));
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
