import { expect, type Page } from "@playwright/test";
import type { Beat } from "@/core/beat/beat";
import { addHits, addPass, findPattern, setFeel } from "@/core/beat/edit";
import { firstPlace, newBeat as emptyBeat } from "@/core/beat/new-beat";
import { addAlternate } from "@/core/beat/edits/alternate";
import { clearPattern } from "@/core/beat/edits/pass-edit";
import { addPattern } from "@/core/beat/edits/pattern-edit";
import { DRUM_IDS } from "@/core/drums";
import { seededRandom } from "@/core/random";
import { STROKE_LENGTH_TICKS } from "@/core/record/record-stroke";
import type { GridName } from "@/core/time/grid";
import type { Ticks } from "@/core/time/ticks";
import { exportBeat, openFile } from "../support/app";
import { playOn } from "../support/loudspeaker";
import { firstSoundSeconds, strikeWhereHeard } from "../support/player";
import { emptyTap, installTap, readTap, waitForSound, type TappedSound } from "../support/tap";
import { test } from "../support/test";

test.use({ bypassCSP: true });

// One bar at 120 BPM: two seconds.
const BAR_MS = 2000;
const SIDE_STICK = DRUM_IDS.indexOf("sideStick");

/** Two patterns of a bar, the first one open. */
function twoPatterns(): { beat: Beat; one: ReturnType<typeof firstPlace>; two: ReturnType<typeof firstPlace> } {
  const empty = emptyBeat({ id: "heard", name: "Heard", bpm: 120, bars: 1 });
  const one = firstPlace(empty);
  const { beat, patternRef } = addPattern(empty, one);
  return { beat, one, two: patternRef };
}

function withSticks(
  beat: Beat,
  patternRef: ReturnType<typeof firstPlace>,
  grid: GridName,
  ticks: readonly number[],
): Beat {
  const added = addPass(beat, patternRef, { name: "Sticks", muted: false, quantize: { grid, strength: 1, reach: 1 } });
  const hits = ticks.map((playedTicks) => ({
    lane: SIDE_STICK,
    played: { ticks: playedTicks as Ticks, velocity: 100 },
    lengthTicks: STROKE_LENGTH_TICKS,
  }));
  return addHits(added.beat, patternRef, added.passId, hits);
}

async function withoutClick(page: Page, beat: Beat): Promise<void> {
  await installTap(page);
  await openFile(page, beat);
  await page.getByRole("button", { name: "Click", exact: true }).click();
  await emptyTap(page);
}

/** When short sounds begin, in ms of the tap: the level rises well above what rang before. */
function strokesMs({ left, sampleRate }: TappedSound): number[] {
  const window = Math.round(sampleRate / 1000);
  const levels = Array.from({ length: Math.floor(left.length / window) }, (_, at) =>
    Math.max(...left.subarray(at * window, (at + 1) * window).map(Math.abs)),
  );
  const strokes: number[] = [];
  levels.forEach((level, ms) => {
    const before = Math.max(0, ...levels.slice(Math.max(0, ms - 8), ms));
    if (level > 0.01 && level > 3 * before && ms - (strokes.at(-1) ?? -100) > 40) strokes.push(ms);
  });
  return strokes;
}

test("a pushed downbeat comes with its pattern, before the change, and goes with it; none is an orphan", async ({
  page,
}) => {
  const { beat, one, two } = twoPatterns();
  const lines = Array.from({ length: 8 }, (_, line) => ({ offsetTicks: line === 0 ? -116 : 0, velocity: 1 }));
  const groove = {
    name: "Push",
    description: "",
    grid: "1/8" as const,
    bars: 1 as const,
    barTicks: 3840 as Ticks,
    lines,
  };
  const pushed = setFeel(beat, two, { groove: { groove, timing: 1, velocity: 0 } });
  await withoutClick(page, withSticks(withSticks(pushed, one, "1/4", [960, 1920, 2880]), two, "1/4", [0, 1920]));
  await page.keyboard.press("Space");
  // In the middle of bars, whatever the machine takes for a key: the first stroke is a quarter of a bar behind the first line.
  const changes = [
    { code: "Digit2", ms: 1.25 * BAR_MS },
    { code: "Digit1", ms: 4.25 * BAR_MS },
  ];
  await strikeWhereHeard(page, changes, await firstSoundSeconds(page));
  await waitForSound(page, 7.5 * BAR_MS);
  await page.keyboard.press("Space");
  const strokes = strokesMs(await readTap(page));
  // Within 6 ms, as no two strokes of a drum rise alike. 60 ms ahead of the bar: 440 ms after the last quarter, 1060 before the middle; the push of a lap that is not played
  // would come 940 ms after the last middle.
  const names = { a: 500, b: 1000, c: 440, d: 1060, e: 940, f: 1500 };
  const gaps = strokes.slice(1).map((ms, index) => {
    const gap = ms - strokes[index]!;
    return Object.entries(names).find(([, wanted]) => Math.abs(gap - wanted) <= 6)?.[0] ?? `(${gap})`;
  });
  expect(gaps.join("")).toMatch(/^aab(aab)*aacd(ed)*faab?(aab)*a?a?$/);
});

test("three strokes just before a pattern takes over are one pass, and are its downbeat", async ({ page }) => {
  const { beat, two, one } = twoPatterns();
  await installTap(page);
  await openFile(page, beat);
  await emptyTap(page);
  await page.keyboard.press("Enter");
  await strikeWhereHeard(
    page,
    [
      { code: "Digit2", ms: BAR_MS + 900 },
      { code: "KeyC", ms: 2 * BAR_MS - 55 },
      { code: "KeyA", ms: 2 * BAR_MS - 40 },
      { code: "KeyK", ms: 2 * BAR_MS - 20 },
      { code: "KeyC", ms: 2 * BAR_MS + 1000 },
    ],
    await firstSoundSeconds(page),
  );
  await playOn(page, BAR_MS);
  await page.keyboard.press("Space");
  const made = await exportBeat(page);
  expect(findPattern(made, one).passes).toEqual([]);
  const { passes } = findPattern(made, two);
  expect(passes.map(({ hits }) => hits.map(({ played: { ticks } }) => Math.round(ticks / 1.92)))).toEqual([
    [-55, -40, -20, 1000],
  ]);
});

test("what is recorded beside a soloed pad is heard in its next lap, and silent with it when record ends", async ({
  page,
}) => {
  const { beat } = twoPatterns();
  await withoutClick(page, beat);
  await page.getByRole("button", { name: "Solo Kick", exact: true }).click();
  await page.getByLabel("Count-in").selectOption("on the first hit");
  await page.keyboard.press("Enter");
  await page.keyboard.press("c");
  await waitForSound(page, 2 * BAR_MS + 500);
  await page.keyboard.press("Enter");
  await expect(page.getByRole("banner").getByRole("status").filter({ hasText: "Playing" })).toBeVisible();
  await waitForSound(page, 5 * BAR_MS);
  await page.keyboard.press("Space");
  const strokes = strokesMs(await readTap(page));
  const laps = strokes.map((ms) => (ms - strokes[0]!) / BAR_MS);
  expect(laps.map((lap) => Number(lap.toFixed(1)))).toEqual([0, 1, 2]);
});

test("what is erased is what is heard there: as played, a hit goes from where it was played", async ({ page }) => {
  const { beat, one } = twoPatterns();
  // A quarter late: corrected it would be in the middle of the bar.
  await withoutClick(page, withSticks(beat, one, "1/2", [1300]));
  await page.keyboard.press(";");
  await page.keyboard.press("Space");
  const first = await firstSoundSeconds(page);
  const eraseAt = async (ms: number) => {
    await page.keyboard.down("Backspace");
    await strikeWhereHeard(page, [{ code: "KeyC", ms: ms - 15 }], first);
    await page.keyboard.up("Backspace");
  };
  const hits = page.getByText("1 hit", { exact: true });
  await eraseAt(BAR_MS + (1920 - 1300) / 1.92);
  await expect(hits).toBeVisible();
  await eraseAt(3 * BAR_MS);
  await expect(hits).toHaveCount(0);
  await playOn(page, 2 * BAR_MS);
  await page.keyboard.press("Space");
  // In the lap of the erasing it was on its way to the loudspeaker; no later lap has it.
  const strokes = strokesMs(await readTap(page));
  expect(strokes.map((ms) => Math.round((ms - strokes[0]!) / BAR_MS))).toEqual([0, 1, 2, 3]);
});

test("an alternate is swapped with its original by one key while the loop runs: in step, no stroke lost or doubled, and one is kept", async ({
  page,
}) => {
  const { beat, one } = twoPatterns();
  const onBeats = withSticks(beat, one, "1/4", [0, 960, 1920, 2880]);
  const { beat: pair, patternRef: alternate } = addAlternate(onBeats, one);
  await withoutClick(page, withSticks(clearPattern(pair, alternate), alternate, "1/8", [480, 1440, 2400, 3360]));
  await page.keyboard.press("Space");
  // A quarter of a beat after a stroke of either, and before the next one.
  for (const halfBeats of [5, 10, 17]) {
    await waitForSound(page, halfBeats * 250 + 125);
    await page.keyboard.press("Shift+Backquote");
  }
  await waitForSound(page, 24 * 250);
  await page.keyboard.press("Space");
  const strokes = strokesMs(await readTap(page));
  // In halves of a beat: always two, but for the three changes, which are one or three.
  const gaps = strokes.slice(1).map((ms, index) => (ms - strokes[index]!) / 250);
  expect(gaps.every((gap) => Math.abs(gap - Math.round(gap)) < 0.03)).toBe(true);
  const halves = gaps.map((gap) => Math.round(gap));
  expect(halves.filter((gap) => gap !== 2).every((gap) => gap === 1 || gap === 3)).toBe(true);
  expect(halves.filter((gap) => gap !== 2)).toHaveLength(3);
  expect(halves.length).toBeGreaterThan(9);

  const vary = page.getByRole("group", { name: "Vary the pattern" });
  await expect(vary.getByText("4 moved")).toBeVisible();
  await expect(vary.getByRole("button", { name: "Alternate" })).toHaveAttribute("aria-pressed", "true");
  await vary.getByRole("button", { name: "Fill the last half bar" }).click();
  await expect(vary.getByText(/added/)).toBeVisible();
  await page.getByRole("button", { name: "Side stick silent in this pattern" }).click();
  await expect(vary.getByText(/1 lane silent/)).toBeVisible();
  await vary.getByRole("button", { name: "Use this one" }).click();
  await expect(vary.getByRole("button", { name: "Make an alternate" })).toBeVisible();
  const kept = (await exportBeat(page)).parts[0]!.patterns;
  expect(kept.map(({ name, silentLanes }) => [name, silentLanes])).toEqual([
    ["Pattern 1", [SIDE_STICK]],
    ["Pattern 2", undefined],
  ]);
  await page.keyboard.press("Control+z");
  await expect(vary.getByRole("button", { name: "Original" })).toBeVisible();
});

test("two hundred edits by keys while the loop runs: every stroke sounds once, where it is", async ({ page }) => {
  const { beat, one } = twoPatterns();
  const halves = Array.from({ length: 8 }, (_, half) => half * 480);
  await withoutClick(page, withSticks(beat, one, "1/8", halves));
  await page.keyboard.press("Control+a");
  await page.keyboard.press("Space");
  const random = seededRandom(7);
  for (let edit = 0; edit < 200; edit++) {
    // By a tick of half a millisecond to and fro, taken back, and done again.
    const key = ["Control+Period", "Control+Comma", "Control+z", "Control+Shift+z"][Math.floor(4 * random())]!;
    await page.keyboard.press(key);
    if (edit % 10 === 9) await playOn(page, 700);
  }
  await page.keyboard.press("Space");
  const sound = await readTap(page);
  const strokes = strokesMs(sound);
  expect(strokes.length).toBeGreaterThan(40);
  const gaps = strokes.slice(1).map((ms, index) => ms - strokes[index]!);
  expect(gaps.filter((gap) => Math.abs(gap - 250) > 25)).toEqual([]);
  // Two on top of each other would be twice as high.
  const window = Math.round(sound.sampleRate / 1000);
  const peaks = strokes.map((ms) => Math.max(...sound.left.subarray(ms * window, (ms + 30) * window).map(Math.abs)));
  const middle = peaks.toSorted((a, b) => a - b)[peaks.length >> 1]!;
  expect(Math.max(...peaks) / middle).toBeLessThan(1.6);
  await expect(page.getByRole("button", { name: "Undo" })).toBeEnabled();
});
