import { expect, type Page } from "@playwright/test";
import type { Beat } from "@/core/beat/beat";
import { addHits, addPass } from "@/core/beat/edit";
import { firstPlace, newBeat as makeBeat } from "@/core/beat/new-beat";
import type { Ticks } from "@/core/time/ticks";
import { fileOf, findOnsets, monoOf, readWithMido, sndfileInfo, soxSamples } from "../reference/support/tools";
import { exportAs, exportBeat, hitsOf, newBeat, openFile } from "./support/app";
import { emptyTap, installTap, readOnsets } from "./support/tap";
import { playOn } from "./support/loudspeaker";
import { strike } from "./support/player";
import { test } from "./support/test";
import { violations } from "./support/violations";

test.use({ bypassCSP: true });

const KICK = 0;
const SNARE = 1;
const HAT = 8;
const CRASH = 12;
/** At 120 BPM a tick is 0.52 ms. */
const MS_PER_TICK = 500 / 960;
/** Where 7680 ticks lie on the screen. */
const EDGE_PX = 14;

/** Two bars; in the first a kick that went to the wrong line, a double hat, a weak snare, a hat too few, a loud crash. */
function badTake(): Beat {
  const empty = makeBeat({ id: "bad", name: "Bad take", bpm: 120 });
  const patternRef = firstPlace(empty);
  const record = (
    to: Beat,
    name: string,
    grid: "1/16" | "off",
    hits: readonly (readonly [number, number, number])[],
  ) => {
    const added = addPass(to, patternRef, { name, muted: false, quantize: { grid, strength: 1, reach: 1 } });
    const strokes = hits.map(([lane, ticks, velocity]) => ({
      lane,
      played: { ticks: ticks as Ticks, velocity },
      lengthTicks: 60 as Ticks,
    }));
    return addHits(added.beat, patternRef, added.passId, strokes);
  };
  const hats = [0, 480, 502, 960, 1440, 1920, 2880, 3360].map((ticks) => [HAT, ticks, 90] as const);
  const kit = record(empty, "Kick and snare", "1/16", [
    [KICK, 4, 100],
    [SNARE, 955, 105],
    [KICK, 1790, 100],
    [SNARE, 2890, 30],
    [CRASH, 0, 127],
  ]);
  return record(kit, "Hats", "off", hats);
}

const REPAIRED = [
  [0, 36, 100],
  [0, 42, 90],
  [480, 42, 90],
  [960, 38, 105],
  [960, 42, 90],
  [1440, 42, 90],
  [1920, 36, 100],
  [1920, 42, 90],
  [2400, 42, 100],
  [2880, 38, 100],
  [2880, 42, 90],
  [3360, 42, 90],
];

/** What an independent reader of MIDI, one of WAV, and one that finds onsets say of what was exported. */
async function expectRepaired(page: Page): Promise<void> {
  const midi = fileOf("repaired.mid", await exportAs(page, "MIDI, as heard"));
  const [{ notes, ppq }] = readWithMido([midi]) as [ReturnType<typeof readWithMido>[number]];
  expect(ppq).toBe(960);
  const found = notes.map(([, tick, , note, velocity]) => [tick, note, velocity]);
  const crash = found.filter(([, note]) => note === 49);
  expect(crash).toHaveLength(1);
  expect(crash[0]![0]).toBe(0);
  expect(crash[0]![2]).toBeGreaterThanOrEqual(60);
  expect(crash[0]![2]).toBeLessThanOrEqual(64);
  expect(found.filter(([, note]) => note !== 49).toSorted((a, b) => a[0]! - b[0]! || a[1]! - b[1]!)).toEqual(REPAIRED);

  const wav = fileOf("repaired.wav", await exportAs(page, "WAV, exact loop"));
  expect(sndfileInfo(wav)).toContain("Channels    : 2");
  const onsets = await findOnsets(monoOf(soxSamples(wav, 32)), 48_000);
  for (const ticks of [960, 1920, 2400, 2880]) {
    const near = onsets.find((ms) => Math.abs(ms - ticks * MS_PER_TICK) < 8);
    expect([ticks, near]).toEqual([ticks, expect.any(Number)]);
  }
}

/** Where a hit is drawn. */
async function spotOf(page: Page, lane: string, ticks: number) {
  const field = (await page.getByRole("application").boundingBox())!;
  const row = (await page.getByRole("button", { name: `Mute ${lane}`, exact: true }).boundingBox())!;
  return { x: field.x + EDGE_PX + (ticks / 7680) * (field.width - 2 * EDGE_PX), y: row.y + row.height / 2 };
}

async function drag(page: Page, from: { x: number; y: number }, dx: number, dy: number) {
  await page.mouse.move(from.x, from.y);
  await page.mouse.down();
  await page.mouse.move(from.x + dx / 2, from.y + dy / 2);
  await page.mouse.move(from.x + dx, from.y + dy, { steps: 4 });
  await page.mouse.up();
}

test("a badly played bar is repaired with the pointer alone, while the loop runs", async ({ page }) => {
  await openFile(page, badTake());
  await page.getByRole("button", { name: "Click", exact: true }).click();
  await page.getByRole("button", { name: "Play", exact: true }).click();
  // The kick goes to the line it was meant for, pulled there.
  const kick = await spotOf(page, "Kick", 1680);
  const beat3 = await spotOf(page, "Kick", 1920);
  await drag(page, kick, beat3.x - kick.x - 5, 2);
  await expect(page.getByRole("textbox", { name: "Place", exact: true })).toHaveValue("1.3.000");
  // The snare is pulled up by 70, the crash down by 65.
  await drag(page, await spotOf(page, "Snare", 2880), 1, -70);
  await expect(page.getByRole("textbox", { name: "Velocity of hits" })).toHaveValue("100");
  await drag(page, await spotOf(page, "Crash", 0), 0, 65);
  await expect(page.getByRole("textbox", { name: "Velocity of hits" })).toHaveValue("62");
  // A hat is written where it is missing.
  const missing = await spotOf(page, "Closed hat", 2400);
  await page.mouse.dblclick(missing.x + 2, missing.y);
  await expect(page.getByRole("textbox", { name: "Place", exact: true })).toHaveValue("1.3.480");
  // The second of the double strokes is found and deleted.
  const double = await spotOf(page, "Closed hat", 491);
  await page.mouse.click(double.x + 3, double.y);
  await expect(page.getByRole("textbox", { name: "Place", exact: true })).toHaveValue("1.1.502");
  await page.getByRole("button", { name: "Delete hits" }).click();
  await expect(page.getByText("None chosen")).toBeVisible();
  await page.getByRole("button", { name: "Stop", exact: true }).click();
  await expectRepaired(page);

  // Nothing of it is lost: five steps back it is as it was played.
  for (let step = 0; step < 5; step++) await page.keyboard.press("Control+z");
  expect((await exportBeat(page)).parts).toEqual(badTake().parts);
});

test("the same with keys alone, and typed", async ({ page }) => {
  await openFile(page, badTake());
  const focus = async () => {
    await page.getByRole("application").focus();
    await page.keyboard.press("Escape");
    await page.getByRole("application").focus();
  };
  const place = page.getByRole("textbox", { name: "Place", exact: true });
  const velocity = page.getByRole("textbox", { name: "Velocity of hits" });
  const chosen = async (at: string) => expect(place).toHaveValue(at);
  // The first key chooses the first hit in time, the next ones go along its lane.
  await focus();
  await page.keyboard.press("ArrowDown");
  await chosen("1.1.000");
  await page.keyboard.press("ArrowDown");
  await page.keyboard.press("ArrowDown");
  await page.keyboard.press("ArrowDown");
  await page.keyboard.press("ArrowRight");
  await chosen("1.2.720");
  await page.keyboard.press("Control+ArrowRight");
  await chosen("1.3.000");
  // The snare is the next soft hit; its velocity is typed.
  await page.keyboard.press("Alt+Shift+Digit3");
  await chosen("1.4.000");
  await velocity.fill("loud");
  await velocity.press("Enter");
  await expect(page.getByRole("alert").filter({ hasText: "is no velocity" })).toBeVisible();
  await velocity.fill("100");
  await velocity.press("Enter");
  await expect(velocity).toHaveValue("100");
  // In the table: the crash by its name, the double stroke by its place.
  await page.keyboard.press("Alt+Digit0");
  const grid = page.getByRole("grid", { name: "Hits" });
  const filter = page.getByRole("textbox", { name: "Filter by pad, pass or state" });
  await filter.fill("crash");
  await grid.getByRole("gridcell", { name: "127" }).focus();
  await page.keyboard.press("Enter");
  await page.keyboard.type("-65");
  await page.keyboard.press("Enter");
  await expect(grid.getByRole("gridcell", { name: "62" })).toBeVisible();
  await filter.fill("hat");
  await grid.getByRole("gridcell", { name: "1.1.502" }).click();
  await page.keyboard.press("Delete");
  await expect(grid.getByRole("row")).toHaveCount(8);
  expect(await violations(page)).toEqual([]);
  // A hat in the middle of the bar: one is copied, and its copy typed to where it is missing.
  await grid.getByRole("gridcell", { name: "1.3.000" }).click();
  await page.keyboard.press("Control+c");
  await page.keyboard.press("Control+v");
  await expect(grid.getByRole("row")).toHaveCount(9);
  await place.fill("1.3.480");
  await place.press("Enter");
  await velocity.fill("100");
  await velocity.press("Enter");
  await expectRepaired(page);
});

test("a bar is written step by step, each step heard at once; taken back, pushed on, and kept over a reload", async ({
  page,
}) => {
  await installTap(page);
  await newBeat(page);
  await page.keyboard.press("Insert");
  await expect(page.getByText("Step at 1.1.000")).toBeVisible();
  await emptyTap(page);
  for (const key of ["z", "ArrowRight", "a", "a"]) await page.keyboard.press(key);
  await playOn(page, 700);
  expect((await readOnsets(page)).onsets.length).toBeGreaterThanOrEqual(1);
  await expect(page.getByText("Step at 1.2.000")).toBeVisible();
  // Two keys at once are one step.
  await strike(page, [
    { code: "KeyZ", ms: 50 },
    { code: "KeyX", ms: 60 },
  ]);
  await expect(page.getByText("Step at 1.2.240")).toBeVisible();
  await page.keyboard.press("Backspace");
  await expect(page.getByText("Step at 1.2.000")).toBeVisible();
  await page.keyboard.press("x");
  // What was struck is pushed on.
  await page.getByLabel("A step", { exact: true }).selectOption("lane");
  for (let step = 0; step < 3; step++) await page.keyboard.press("ArrowLeft");
  await page.keyboard.press("a");
  const beat = await exportBeat(page);
  const written = beat.parts[0]!.patterns[0]!.passes[0]!.hits.map(({ lane, start }) => [lane, start!.ticks]);
  expect(written.toSorted((a, b) => a[1]! - b[1]! || a[0]! - b[0]!)).toEqual([
    [KICK, 0],
    [HAT, 480],
    [HAT, 720],
    [SNARE, 960],
    [HAT, 960],
  ]);
  expect(await violations(page)).toEqual([]);
  await page.keyboard.press("Escape");
  await page.reload();
  await expect(page.getByRole("img", { name: "5 hits in 2 bars" })).toBeVisible();
});

test("hits are chosen with a box, copied by dragging, repeated, returned; velocities are drawn; a menu at the hit moves it", async ({
  page,
}) => {
  await openFile(page, badTake());
  const count = (hits: number) =>
    expect(page.getByText(hits === 1 ? "1 hit" : `${hits} hits`, { exact: true })).toBeVisible();
  // A box around the kicks and snares of the first bar.
  const corner = await spotOf(page, "Snare", -80);
  const opposite = await spotOf(page, "Kick", 3700);
  await drag(page, { x: corner.x, y: corner.y - 8 }, opposite.x - corner.x, opposite.y - corner.y + 14);
  await count(4);
  // Control copies a bar further; the copies are chosen then.
  const first = await spotOf(page, "Kick", 0);
  const bar2 = await spotOf(page, "Kick", 3840);
  await page.keyboard.down("Control");
  await drag(page, first, bar2.x - first.x, 0);
  await page.keyboard.up("Control");
  await count(4);
  await expect(page.getByRole("textbox", { name: "Place", exact: true })).toHaveValue("2.1.000");
  await expect(page.getByRole("img", { name: "17 hits in 2 bars" })).toBeVisible();
  // The velocities of those are drawn to one height.
  await page.getByRole("button", { name: "Velocity", exact: true }).click();
  const strip = (await page.getByRole("img", { name: /^Velocities/ }).boundingBox())!;
  await drag(page, { x: strip.x + strip.width / 2 - 8, y: strip.y + 33 }, strip.width / 2, 0);
  await expect(page.getByRole("textbox", { name: "Velocity of hits" })).toHaveValue(/^6\d$/);
  await page.keyboard.press("Shift+Delete");
  await expect(page.getByRole("textbox", { name: "Velocity of hits" })).toHaveValue("30–105");
  await page.keyboard.press("Control+a");
  await count(17);
  await page.keyboard.press("Delete");
  await expect(page.getByRole("img", { name: "0 hits in 2 bars" })).toBeVisible();
  await page.keyboard.press("Control+z");
  await expect(page.getByRole("img", { name: "17 hits in 2 bars" })).toBeVisible();

  const kick = await spotOf(page, "Kick", 1680);
  await page.mouse.click(kick.x, kick.y, { button: "right" });
  await expect(page.getByRole("button", { name: /Line before, 1\.2\.480/ })).toBeFocused();
  await expect(page.getByRole("button", { name: /Line after, 1\.3\.000/ })).toBeVisible();
  expect(await violations(page, ".dropdown-menu.show")).toEqual([]);
  await page.keyboard.press("ArrowRight");
  await expect(page.getByRole("textbox", { name: "Place", exact: true })).toHaveValue("1.3.000");
  await page.keyboard.press("Control+d");
  await expect(page.getByRole("img", { name: "20 hits in 2 bars" })).toBeVisible();

  // With nothing chosen, a stroke of the pen over all is about the lane of the bar that it begins at.
  await page.keyboard.press("Escape");
  await expect(page.getByText("None chosen")).toBeVisible();
  const levels = async () =>
    hitsOf(await exportBeat(page)).map(({ id, lane, start, played }) => ({
      id,
      lane,
      velocity: start?.velocity ?? played.velocity,
    }));
  const before = await levels();
  // Just above the top of the first kick, which is as high as it is loud.
  const kicks = before.filter(({ lane }) => lane === KICK);
  const top = strip.y + strip.height * (1 - kicks[0]!.velocity / 127);
  await drag(page, { x: first.x, y: top }, strip.x + strip.width - first.x - 2, 8);
  const after = await levels();
  const drawn = after.filter(({ id, velocity }) => before.some((one) => one.id === id && one.velocity !== velocity));
  expect(drawn.length).toBeGreaterThan(1);
  expect(new Set(drawn.map(({ lane }) => lane))).toEqual(new Set([KICK]));
});

test("a finger that stays on a hit opens its menu, one that goes on drags it, one that taps chooses it", async ({
  page,
}) => {
  await openFile(page, badTake());
  const devTools = await page.context().newCDPSession(page);
  const touch = (type: "touchStart" | "touchMove" | "touchEnd", at?: { x: number; y: number }) =>
    devTools.send("Input.dispatchTouchEvent", { type, touchPoints: at ? [at] : [] });
  const place = page.getByRole("textbox", { name: "Place", exact: true });
  const kick = await spotOf(page, "Kick", 1680);
  // Beside the hit, but within the 44 pixels that a finger has.
  await touch("touchStart", { x: kick.x + 14, y: kick.y });
  await playOn(page, 900);
  const menu = page.locator(".dropdown-menu.show");
  await expect(menu.getByRole("button", { name: /Line after, 1\.3\.000/ })).toBeVisible();
  await touch("touchEnd");
  await menu.getByRole("button", { name: /Line after/ }).click();
  await expect(menu).toHaveCount(0);
  await expect(place).toHaveValue("1.3.000");

  const snare = await spotOf(page, "Snare", 960);
  const line = await spotOf(page, "Snare", 1200);
  await touch("touchStart", snare);
  await touch("touchMove", { x: (snare.x + line.x) / 2, y: snare.y });
  await touch("touchMove", line);
  await touch("touchEnd");
  await expect(place).toHaveValue("1.2.240");
  const crash = await spotOf(page, "Crash", 0);
  await touch("touchStart", crash);
  await touch("touchEnd");
  await expect(place).toHaveValue("1.1.000");
  await expect(page.getByText("1 hit", { exact: true })).toBeVisible();
});
