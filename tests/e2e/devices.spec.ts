import { findLane } from "@/core/beat/lanes";
import { expect, type Page } from "@playwright/test";
import { readSmf } from "@/core/formats/midi/smf-read";
import { exportAs, exportBeat, hitsOf, newBeat, ONE_BAR_BPM, oneBar, setNumber, untilReady } from "./support/app";
import { connectMidi, installFakeMidi, plug, send, unplug } from "./support/fake-midi";
import { emptyTap, installTap, readTap, waitForSound } from "./support/tap";
import { playOn } from "./support/loudspeaker";
import { test } from "./support/test";

test.use({ bypassCSP: true });

const STEP_TICKS = 240;
/** One bar of 4/4. */
const LAP_MS = (4 * 60_000) / ONE_BAR_BPM;

/** Frames at which sound begins after silence or rises by far, at least `apartMs` apart. */
function strokes(samples: Float32Array, sampleRate: number, apartMs: number): number[] {
  const window = Math.round(sampleRate * 0.003);
  const found: number[] = [];
  let before = 0;
  for (let frame = 0; frame + window <= samples.length; frame += window) {
    let peak = 0;
    for (let index = frame; index < frame + window; index++) peak = Math.max(peak, Math.abs(samples[index]!));
    const apart = frame - (found.at(-1) ?? -Infinity) > (apartMs * sampleRate) / 1000;
    if (peak > 0.02 && peak > 3 * before && apart) found.push(frame);
    before = Math.max(peak, before * 0.93);
  }
  return found;
}

/** Lets the loop run into a lap; the count-in is as long as a lap. */
async function playToLap(page: Page, lap: number, lapsBefore: number): Promise<void> {
  await playOn(page, (lap - lapsBefore) * LAP_MS);
  await expect(page.getByText(`lap ${lap}`, { exact: true })).toBeVisible();
}

test("the stand-in drummer plays kick and snare, hats and claps over six laps: on their lines, played times kept, nothing doubled", async ({
  page,
}) => {
  await installTap(page);
  await oneBar(page);
  await page.getByRole("button", { name: /^Inputs/ }).click();
  await setNumber(page, "Spread", 12);
  await page.getByRole("button", { name: "Bring in" }).click();
  const plays = page.getByLabel("Plays", { exact: true });
  await emptyTap(page);
  await page.keyboard.press("Enter");
  // The parts change near the end of a lap; what is planned by then is played out.
  await playToLap(page, 2, 0);
  await plays.selectOption("hats");
  await playToLap(page, 4, 2);
  await plays.selectOption("claps");
  await playToLap(page, 7, 4);
  await page.keyboard.press("Enter");
  await page.getByRole("button", { name: "Send home" }).click();
  const live = await readTap(page);
  await emptyTap(page);
  await waitForSound(page, 2 * LAP_MS);
  const after = await readTap(page);
  await page.keyboard.press("Space");

  const beat = await exportBeat(page);
  const hits = hitsOf(beat);
  expect(new Set(hits.map(({ lane }) => findLane(beat.parts[0]!, lane)!.name))).toEqual(
    new Set(["Kick", "Snare", "Closed hat", "Clap"]),
  );
  expect(hits.length).toBeGreaterThan(24);
  // Played as a hand plays: off the lines, and kept so.
  const off = hits.map(({ played: { ticks } }) => Math.abs(ticks - Math.round(ticks / STEP_TICKS) * STEP_TICKS));
  expect(Math.max(...off)).toBeGreaterThan(8);
  expect(beat.parts[0]!.patterns[0]!.bars).toBe(1);
  // Heard on the lines, each pad and line once.
  const heard = readSmf(await exportAs(page, "MIDI, as heard")).notes;
  expect(heard.every(({ tick }) => tick % STEP_TICKS === 0)).toBe(true);
  expect(new Set(heard.map(({ tick, note }) => `${tick} ${note}`)).size).toBe(heard.length);

  // In the first lap the drummer alone is heard: four strokes, none of them a second time on its line.
  const firstLap = strokes(live.left, live.sampleRate, 60).filter(
    (frame, _, all) => frame < all[0]! + (0.9 * LAP_MS * live.sampleRate) / 1000,
  );
  expect(firstLap).toHaveLength(4);
  // Afterwards every lap has each line's strokes together, exactly on the line.
  const framesPerTick = (60 * after.sampleRate) / (ONE_BAR_BPM * 960);
  const lines = [...new Set(heard.map(({ tick }) => tick))];
  const sounded = strokes(after.left, after.sampleRate, 40);
  const wanted = lines.length * 2;
  expect(Math.abs(sounded.length - wanted)).toBeLessThanOrEqual(2);
  // The tap begins in the middle of a tail, so places are measured from where most strokes stand.
  const phases = sounded.map((frame) => (frame / framesPerTick) % STEP_TICKS);
  const usual = phases.toSorted((x, y) => x - y)[phases.length >> 1]!;
  const toLine = phases.map((phase) => Math.abs(((phase - usual + 1.5 * STEP_TICKS) % STEP_TICKS) - 0.5 * STEP_TICKS));
  expect(toLine.filter((distance) => distance > 12).length).toBeLessThanOrEqual(1);
});

test("a device is plugged in, taught, pulled out while a note repeats, and known again when it comes back", async ({
  page,
}) => {
  await installTap(page);
  await installFakeMidi(page);
  await oneBar(page);
  await connectMidi(page);
  await expect(page.getByText("Devices can be plugged in and out at any time.")).toBeVisible();
  await plug(page, "a", "Deck kit");
  await page.getByRole("button", { name: "Deck kit" }).click();
  await send(page, "a", [0x99, 38, 100], [0x89, 38, 0]);
  await expect(page.getByRole("cell", { name: "Snare" })).toBeVisible();

  // All pads in turn, a doubled one once; one is skipped, and the rest is left.
  await page.getByRole("button", { name: "All pads in turn" }).click();
  await expect(page.getByText("Hit what is to play Kick; 15 after it.")).toBeVisible();
  await send(page, "a", [0x99, 90, 100], [0x99, 90, 60], [0x89, 90, 0]);
  await expect(page.getByText("Hit what is to play Snare; 14 after it.")).toBeVisible();
  await page.getByRole("button", { name: "Skip it" }).click();
  await send(page, "a", [0x99, 91, 100], [0x89, 91, 0]);
  await page.keyboard.press("Escape");
  await expect(page.getByRole("listitem").filter({ hasText: "note 90" })).toContainText("→ Kick");
  await expect(page.getByRole("listitem").filter({ hasText: "note 91" })).toContainText("→ Side stick");
  // A note that no pad has gets one where it is listed.
  await send(page, "a", [0x99, 3, 100], [0x89, 3, 0]);
  await page.getByLabel("Pad for note 3").selectOption("play Cowbell");
  await expect(page.getByRole("listitem").filter({ hasText: "note 3" })).toContainText("→ Cowbell");

  // A pad, and a rate of note repeat on a button.
  await page.getByLabel("What to do").selectOption("Clap");
  await page.getByRole("button", { name: "Learn", exact: true }).click();
  await send(page, "a", [0x99, 11, 100], [0x89, 11, 0]);
  await page.getByLabel("What to do").selectOption("Note repeat 1/8");
  await page.getByRole("button", { name: "Learn", exact: true }).click();
  await send(page, "a", [0xb9, 22, 127], [0xb9, 22, 0]);
  await page.getByLabel("What to do").selectOption("In and out of record");
  await page.getByRole("button", { name: "Learn", exact: true }).click();
  await send(page, "a", [0x99, 1, 100], [0x89, 1, 0]);
  await expect(page.getByText("note 11", { exact: true })).toBeVisible();

  // Record, from the device; then the repeat button and the learnt pad are held, and the cable is pulled.
  await send(page, "a", [0x99, 1, 100], [0x89, 1, 0]);
  await expect(page.getByText("Recording", { exact: true })).toBeVisible();
  await send(page, "a", [0xb9, 22, 127], [0x99, 11, 100]);
  await playOn(page, LAP_MS);
  await unplug(page, "a");
  await expect(page.getByText("“Deck kit” is not plugged in any more.")).toBeVisible();
  await expect(page.getByRole("button", { name: "Note repeat 1/8", exact: true })).toHaveAttribute(
    "aria-pressed",
    "false",
  );
  await page.keyboard.press("Space");
  const hits = hitsOf(await exportBeat(page));
  expect(hits.length).toBeGreaterThanOrEqual(6);
  expect(hits.every(({ lane, played: { ticks } }) => lane === 3 && ticks % 480 === 0)).toBe(true);
  // No voice is stuck: after the last tail there is silence.
  await playOn(page, 2500);
  await emptyTap(page);
  await playOn(page, 600);
  expect((await readTap(page)).left.every((sample) => sample === 0)).toBe(true);

  await page.reload();
  await untilReady(page);
  await connectMidi(page);
  await plug(page, "b", "Deck kit");
  await page.getByRole("button", { name: "Deck kit" }).click();
  await send(page, "b", [0x99, 11, 100], [0x89, 11, 0]);
  await expect(page.getByRole("cell", { name: "Clap" })).toBeVisible();
  await page.getByRole("button", { name: "Forget note 11" }).click();
  await expect(page.getByRole("button", { name: "Forget note 11" })).toHaveCount(0);
});

test("no MIDI, and MIDI refused, are said plainly, and the keys work on", async ({ page, context }) => {
  await installFakeMidi(page, "refused");
  await newBeat(page);
  await connectMidi(page);
  await expect(page.getByText("The browser was told not to let MIDI in.")).toBeVisible();
  const other = await context.newPage();
  await installFakeMidi(other, "missing");
  await newBeat(other);
  await connectMidi(other);
  await expect(other.getByText("This browser has no MIDI.")).toBeVisible();
  await other.keyboard.press("Enter");
  await expect(other.getByText("Recording", { exact: true })).toBeVisible();
  await other.keyboard.press("z");
  await other.getByRole("button", { name: /^Inputs/ }).click();
  await expect(other.getByText("1 hit", { exact: true })).toBeVisible();
});

test("calibration finds how late a device arrives and takes it off", async ({ page }) => {
  await newBeat(page);
  await page.getByRole("button", { name: /^Inputs/ }).click();
  await setNumber(page, "Spread", 5);
  await setNumber(page, "Behind the beat", 35);
  await page.getByRole("button", { name: "Bring in" }).click();
  await page.getByRole("button", { name: "Stand-in drummer" }).click();
  await page.getByRole("button", { name: "Calibrate" }).click();
  await playOn(page, 21_000);
  await expect(page.getByText("taps counted")).toBeVisible();
  await page.getByRole("button", { name: "Apply" }).click();
  const delay = page.getByRole("spinbutton", { name: "Delay of Stand-in drummer" });
  await expect(delay).not.toHaveAttribute("aria-valuenow", "0");
  const foundMs = Number(await delay.getAttribute("aria-valuenow"));
  expect(Math.abs(foundMs - 35)).toBeLessThan(5);

  // What it plays is now taken for in time.
  await page.keyboard.press("Enter");
  await playOn(page, 9600);
  await page.keyboard.press("Space");
  const errorsMs = hitsOf(await exportBeat(page)).map(
    ({ played: { ticks } }) => ((((ticks + 480) % 960) - 480) * 60_000) / (100 * 960),
  );
  expect(errorsMs.length).toBeGreaterThan(6);
  const mean = errorsMs.reduce((sum, ms) => sum + ms, 0) / errorsMs.length;
  expect(Math.abs(mean)).toBeLessThan(6);
  await page.getByRole("button", { name: "Reset" }).click();
  await expect(delay).toHaveAttribute("aria-valuenow", "0");
});
