import { expect } from "@playwright/test";
import { median } from "simple-statistics";
import { readSmf } from "@/core/formats/midi/smf-read";
import { readWithMido, fileOf } from "../reference/support/tools";
import { exportAs, exportBeat, hitsOf, newBeat, openBeat, untilReady } from "./support/app";
import { firstSoundSeconds, strike, strikeWhereHeard } from "./support/player";
import { emptyTap, installTap, readTap } from "./support/tap";
import { playOn } from "./support/loudspeaker";
import { test } from "./support/test";
import { violations } from "./support/violations";

test.use({ bypassCSP: true });

/** Echoes that come with the demo. */
const DEMO = 3;

/** Kick, snare and eighths on the hat at 110 BPM, two bars. */
const FREE = Array.from({ length: 16 }, (_, eighth) => {
  const ms = (eighth * 30_000) / 110;
  return [
    ...(eighth % 4 === 0 ? [{ ms, code: "KeyZ" }] : []),
    ...(eighth % 4 === 2 ? [{ ms, code: "KeyX" }] : []),
    { ms, code: "KeyA" },
  ];
}).flat();

test("with the transport stopped and record off: one key brings the phrase back at its tempo, also after a reload", async ({
  page,
}) => {
  await newBeat(page);
  await strike(page, FREE);
  // At once: also what is not on disk yet is there afterwards.
  await page.reload();
  await untilReady(page);
  await page.getByRole("tab", { name: `Echoes ${DEMO + 1}` }).click();
  await page.getByRole("button", { name: /24 hits, free/ }).click();
  await expect(page.getByRole("radio").first()).toBeChecked();
  await expect(page.getByRole("radio", { name: /^(110|109)\.\d BPM, 2 bars of 4\/4/ })).toBeChecked();
  expect(await violations(page)).toEqual([]);
  await page.mouse.click(5, 700);
  await page.keyboard.press("End");
  const beat = await exportBeat(page);
  expect(Math.abs(beat.bpm - 110)).toBeLessThan(1.5);
  expect(hitsOf(beat)).toHaveLength(24);
  const { notes } = readSmf(await exportAs(page, "MIDI, as heard"));
  const misses = notes.map(({ tick }) => Math.abs(tick - Math.round(tick / 480) * 480));
  // 20 ms at this tempo are 35 ticks.
  expect(misses.sort((a, b) => a - b)[20]).toBeLessThan(35);
  await page.getByRole("button", { name: "Undo" }).click();
  expect(hitsOf(await exportBeat(page))).toEqual([]);
  // The first page's clock ran ahead, as its sound was played as fast as the machine can: this one goes on after its phrase.
  await playOn(page, 15_000);
  // A shorter pause parts what was one: the slider splits anew at once.
  await strike(page, [
    { ms: 0, code: "KeyZ" },
    { ms: 250, code: "KeyX" },
    { ms: 500, code: "KeyZ" },
    { ms: 1600, code: "KeyX" },
    { ms: 1850, code: "KeyZ" },
  ]);
  await expect(page.getByRole("tab", { name: `Echoes ${DEMO + 2}` })).toBeVisible();
  const slider = page.getByRole("slider", { name: "Pause between echoes" });
  await slider.fill("0.6");
  await expect(page.getByRole("tab", { name: `Echoes ${DEMO + 3}` })).toBeVisible();
  // Slowly: the list is parted anew between the clicks, and the slider stays where it is.
  await slider.dblclick({ delay: 150 });
  await expect(page.getByRole("tab", { name: `Echoes ${DEMO + 2}` })).toBeVisible();
  await page.getByRole("button", { name: "Forget all" }).click();
  await page.getByRole("button", { name: "Forget", exact: true }).click();
  await expect(page.getByText("Nothing played yet.")).toBeVisible();
  await page.reload();
  await page.getByRole("tab", { name: "Echoes", exact: true }).click();
  await expect(page.getByText("Nothing played yet.")).toBeVisible();
});

/** Two bars at 180 BPM, in ms and ticks, and what a millisecond is there. */
const LAP_MS = 8000 / 3;
const LAP_TICKS = 7680;
const TICKS_PER_MS = 2.88;

test("record off, four laps over a two-bar loop: each of the five ways back, as another reader of MIDI files has it", async ({
  page,
}) => {
  await installTap(page);
  await newBeat(page);
  const tempo = page.getByRole("spinbutton", { name: "Tempo", exact: true });
  await tempo.fill("180");
  await tempo.press("Enter");
  await tempo.blur();
  // The click tells where the laps begin.
  await page.getByRole("button", { name: "Click and start" }).click();
  await page.getByLabel("Click sounds").selectOption("always");
  await page.keyboard.press("Escape");
  await emptyTap(page);
  await page.keyboard.press("Space");
  // Kick and snare in every lap, evenly and each time a little earlier or later, and a hat in the third alone.
  const off = [0, 12, -9, 5];
  const strokes = off.flatMap((ms, lap) => [
    { ms: 700 + lap * LAP_MS + ms, code: "KeyZ" },
    ...(lap === 2 ? [{ ms: 1400 + lap * LAP_MS, code: "KeyA" }] : []),
    { ms: 2033 + lap * LAP_MS - ms, code: "KeyX" },
  ]);
  await strikeWhereHeard(page, strokes, await firstSoundSeconds(page));
  await page.keyboard.press("Space");
  expect(hitsOf(await exportBeat(page))).toEqual([]);
  await page.getByRole("tab", { name: /Echoes/ }).click();
  await page.getByRole("button", { name: "9 hits, with Pattern 1, 4 laps" }).click();

  const wayBack = async (way: string, pattern = 1) => {
    await page.getByLabel("Laps", { exact: true }).selectOption({ label: way });
    await page.getByRole("button", { name: "Bring back", exact: true }).click();
    await expect(page.getByText("The echo is back")).toBeVisible();
    const bytes = await exportAs(page, "MIDI, as heard");
    const { notes, ends } = readWithMido([fileOf(`${way}.mid`, bytes)])[0]!;
    expect(ends.at(-1)).toEqual(["end_of_track", LAP_TICKS * pattern]);
    await page.getByRole("button", { name: "Undo" }).click();
    return notes.map(([, tick, , note, velocity]) => ({ tick, note, velocity }));
  };
  const unrolled = await wayBack("one after the other", 4);
  expect(unrolled.map(({ note }) => note)).toEqual([36, 38, 36, 38, 36, 42, 38, 36, 38]);
  // Where they were played, to the tick: files have whole ones.
  unrolled.forEach(({ tick }, index) => expect(Math.abs(tick - strokes[index]!.ms * TICKS_PER_MS)).toBeLessThan(1));
  const lapOf = (lap: number) => unrolled.filter(({ tick }) => Math.floor(tick / LAP_TICKS) === lap);
  const inLap = (lap: number) => lapOf(lap).map((note) => ({ ...note, tick: note.tick - lap * LAP_TICKS }));

  expect(await wayBack("the last full one")).toEqual(inLap(3));
  expect(await wayBack("each a take")).toEqual(inLap(3));
  await page.getByLabel("Laps", { exact: true }).selectOption({ label: "one of them" });
  await page.getByLabel("Which lap").selectOption({ label: "lap 3" });
  expect(await wayBack("one of them")).toEqual(inLap(2));
  const merged = await wayBack("all, merged");
  // Strokes of different laps that are less than half a sixteenth apart are one, in the middle of them.
  const groups: { note: number; ticks: number[] }[] = [];
  for (const { note, tick } of [0, 1, 2, 3].flatMap(inLap).sort((a, b) => a.note - b.note || a.tick - b.tick)) {
    const group = groups.at(-1);
    if (group?.note === note && tick - group.ticks[0]! < 120) group.ticks.push(tick);
    else groups.push({ note, ticks: [tick] });
  }
  expect(groups).toHaveLength(3);
  const wanted = groups
    .map(({ note, ticks }) => ({ note, tick: median(ticks) }))
    .sort((a, b) => a.tick - b.tick || a.note - b.note);
  expect(merged.map(({ note }) => note)).toEqual(wanted.map(({ note }) => note));
  merged.forEach(({ tick }, index) => expect(Math.abs(tick - wanted[index]!.tick)).toBeLessThanOrEqual(1));

  // And as a file, without being put anywhere.
  const [download] = await Promise.all([
    page.waitForEvent("download"),
    page.getByRole("button", { name: "MIDI" }).click(),
  ]);
  const [saved] = readWithMido([await download.path()]);
  expect(saved!.notes.map(([, tick, , note]) => [tick, note])).toEqual(unrolled.map(({ tick, note }) => [tick, note]));
  expect(hitsOf(await exportBeat(page))).toEqual([]);
  // All was taken back, so nothing is there; what is there says so, after a reload, too.
  const there = page.getByRole("button", { name: /in the beat/ });
  await expect(there).toHaveCount(0);
  await page.getByRole("button", { name: "Bring back", exact: true }).click();
  await expect(there).toBeVisible();
  await expect(page.getByText("Saved in this browser")).toBeVisible();
  await page.reload();
  await page.getByRole("tab", { name: /Echoes/ }).click();
  await expect(there).toBeVisible();
});

test("by keys alone: to the newest echo, through its readings, heard without touching the beat, turned over, brought back", async ({
  page,
}) => {
  await installTap(page);
  await newBeat(page);
  await page.getByRole("button", { name: "Click", exact: true }).click();
  await strike(page, FREE);
  await playOn(page, 1200);
  await page.keyboard.press("PageDown");
  const radios = page.getByRole("radio");
  await expect(radios.first()).toBeChecked();
  await page.keyboard.press("Shift+PageDown");
  await expect(radios.nth(1)).toBeChecked();
  await page.keyboard.press("Shift+PageUp");
  await emptyTap(page);
  await page.keyboard.press("Shift+Space");
  await expect(page.getByRole("status").filter({ hasText: "Echo" })).toBeVisible();
  await playOn(page, 1500);
  const { left, sampleRate } = await readTap(page);
  // Seven eighths at 110 BPM and more go by in two seconds; each is a rise after a fall.
  expect(left.some((sample) => Math.abs(sample) > 0.1)).toBe(true);
  expect(left.length / sampleRate).toBeGreaterThan(1);
  expect(hitsOf(await exportBeat(page))).toEqual([]);
  await expect(page.getByRole("button", { name: "Undo" })).toBeDisabled();

  // Half as fast and back, a bar more, the downbeat a step later, and all of it taken back.
  const chosen = page.getByRole("radio", { checked: true });
  const words = () => chosen.locator("xpath=..").innerText();
  await page.getByRole("button", { name: "Half as fast" }).click();
  await expect(chosen.locator("xpath=..")).toContainText(/5[45]\.\d BPM, 1 bar /);
  await page.getByRole("button", { name: "Twice as fast" }).click();
  await expect(chosen.locator("xpath=..")).toContainText(/1(09|10)\.\d BPM, 2 bars /);
  await page.getByRole("button", { name: "A bar more" }).click();
  await expect(chosen.locator("xpath=..")).toContainText("3 bars");
  const downbeat = page.getByRole("slider", { name: "Downbeat" });
  const before = Number(await downbeat.getAttribute("aria-valuenow"));
  await downbeat.focus();
  await page.keyboard.press("ArrowRight");
  // A step is a sixteenth: 136 ms at 110 BPM.
  await expect
    .poll(async () => Math.abs(Number(await downbeat.getAttribute("aria-valuenow")) - before - 136))
    .toBeLessThan(10);
  await page.getByLabel("Meter of the playing").selectOption("3/4");
  await expect(page.getByRole("radio", { name: /BPM, \d+ bars? of 3\/4/, checked: true })).toBeVisible();
  await page.getByRole("button", { name: "As it was found" }).click();
  await expect(chosen.locator("xpath=..")).toContainText("2 bars");
  expect(await words()).toMatch(/1(09|10)\.\d BPM/);

  // The downbeat by pointer, to the second kick, and the first two hits left out.
  const box = (await downbeat.boundingBox())!;
  const last = (await page.getByRole("slider", { name: "Last hit" }).boundingBox())!;
  const first = page.getByRole("slider", { name: "First hit" });
  // The handles stand on both sides of the hits they are for.
  const { x, width } = (await first.boundingBox())!;
  const perMs = (last.x - x - width) / ((15 * 30_000) / 110);
  await page.mouse.move(box.x + box.width / 2, box.y + 4);
  await page.mouse.down();
  await page.mouse.move(box.x + box.width / 2 + (4 * 30_000 * perMs) / 110, box.y + 8, { steps: 4 });
  await page.mouse.up();
  await expect
    .poll(async () => Math.abs(Number(await downbeat.getAttribute("aria-valuenow")) - (4 * 30_000) / 110))
    .toBeLessThan(40);
  await first.focus();
  await page.keyboard.press("ArrowRight");
  await page.keyboard.press("ArrowRight");
  await expect(first).toHaveAttribute("aria-valuetext", "hit 3 of 24");
  await first.blur();

  await page.keyboard.press("End");
  const back = await exportBeat(page);
  expect(hitsOf(back)).toHaveLength(22);
  await expect(page.getByText("Playing", { exact: true })).toBeVisible();
  await page.keyboard.press("Space");
  await page.keyboard.press("Control+z");
  expect(hitsOf(await exportBeat(page))).toEqual([]);
  await page.keyboard.press("Escape");
  await expect(radios).toHaveCount(0);
});

test("a tab that dies while somebody plays loses nothing older than two seconds", async ({ page, context }) => {
  await openBeat(page, "Slow Harbour");
  const url = page.url();
  // Those of the demo are read after the beat.
  const tab = page.getByRole("tab", { name: /^Echoes \d+$/ });
  const before = Number((await tab.innerText()).replace(/\D/g, ""));
  // Ten strokes a second; the page's clock tells how many there were two seconds before the end.
  await page.evaluate(() => {
    const strokes: number[] = [];
    Object.assign(window, { strokes });
    setInterval(() => {
      for (const type of ["keydown", "keyup"]) window.dispatchEvent(new KeyboardEvent(type, { code: "KeyZ" }));
      strokes.push(performance.now());
    }, 100);
  });
  const strokesSoFar = () => page.evaluate(() => (window as unknown as { strokes: number[] }).strokes);
  await expect.poll(async () => (await strokesSoFar()).length).toBeGreaterThan(50);
  const strokes = await strokesSoFar();
  const client = await context.newCDPSession(page);
  const crashed = page.waitForEvent("crash");
  void client.send("Page.crash").catch(() => undefined);
  await crashed;
  const again = await context.newPage();
  await again.goto(url);
  await again.getByRole("tab", { name: `Echoes ${before + 1}` }).click();
  const text = await again
    .getByRole("button", { name: /hits, free/ })
    .first()
    .innerText();
  const kept = Number(/(\d+) hits/.exec(text)![1]);
  expect(kept).toBeGreaterThanOrEqual(strokes.filter((timeMs) => timeMs < strokes.at(-1)! - 2000).length);
  expect(kept).toBeGreaterThan(20);
});
