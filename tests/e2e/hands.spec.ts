import { expect } from "@playwright/test";
import { exportBeat, grooveOf, newBeat, openFile } from "./support/app";
import { eighths } from "../support/eighths";
import { emptyTap, installTap, readTap, waitForSound } from "./support/tap";
import { playAlone, playOn } from "./support/loudspeaker";
import { test } from "./support/test";

test.use({ bypassCSP: true });

test("with keys alone and the loop running: record, practise, repeat notes, next pattern, takes, erase, undo", async ({
  page,
}) => {
  await newBeat(page);
  const tempo = page.getByRole("spinbutton", { name: "Tempo" });
  await tempo.fill("160");
  await tempo.press("Enter");
  await page.getByRole("spinbutton", { name: "Loop length in bars" }).fill("1");
  await page.keyboard.press("Enter");
  const state = page.getByRole("banner").getByRole("status");
  const patterns = page.getByRole("region", { name: "Patterns" });

  // Warm up in practice: heard, not written; then in.
  await page.keyboard.press("p");
  await expect(state.filter({ hasText: "Practice" })).toBeVisible();
  await page.keyboard.press("z");
  await playOn(page, 300);
  await expect(page.getByText("Nothing recorded yet")).toBeVisible();
  await page.keyboard.press("p");
  await expect(state.filter({ hasText: "Recording" })).toBeVisible();
  await page.keyboard.press("z");
  await expect(page.getByText("1 hit", { exact: true })).toBeVisible();

  // Hats by note repeat, at sixteenths, for about a bar.
  await page.keyboard.down("r");
  await page.keyboard.down("a");
  await expect(page.getByRole("button", { name: "Note repeat 1/16", exact: true })).toHaveAttribute(
    "aria-pressed",
    "true",
  );
  await playOn(page, 1300);
  await page.keyboard.up("a");
  await page.keyboard.up("r");

  // The next pattern, without leaving record; there, takes.
  await page.keyboard.press("0");
  await expect(patterns.getByRole("button", { name: "Pattern 2" })).toHaveAttribute("aria-current", "true");
  await page.keyboard.press("o");
  await page.keyboard.press("o");
  await expect(page.getByRole("button", { name: "Takes", exact: true })).toHaveAttribute("aria-pressed", "true");
  for (let take = 0; take < 3; take++) {
    await page.keyboard.press("x");
    await playOn(page, 1500);
  }
  await page.keyboard.press("Enter");
  await expect(state.filter({ hasText: "Playing" })).toBeVisible();
  await expect(page.getByRole("list").getByText("Take 3")).toBeVisible();
  await page.keyboard.press("[");
  await expect(page.getByRole("list").getByText("Take 2")).toBeVisible();
  await page.getByRole("button", { name: "Use take", exact: true }).click();

  // Back to the first pattern; the hats go while erase is held, and come back.
  await page.keyboard.press("1");
  await expect(patterns.getByRole("button", { name: "Pattern 1" })).toHaveAttribute("aria-current", "true");
  const hits = page.getByRole("img", { name: /hits? in 1 bar/ });
  const before = await hits.getAttribute("aria-label");
  await page.keyboard.down("Backspace");
  await page.keyboard.down("a");
  await expect(state.filter({ hasText: "Erasing" })).toBeVisible();
  await playOn(page, 1700);
  await page.keyboard.up("a");
  await page.keyboard.up("Backspace");
  await expect(hits).toHaveAttribute("aria-label", "1 hit in 1 bar");
  await page.keyboard.press("Control+z");
  await expect(hits).toHaveAttribute("aria-label", before!);
  await page.keyboard.press("Space");

  const [first, second] = (await exportBeat(page)).parts[0]!.patterns;
  const repeated = first!.passes.flatMap((pass) => pass.hits).filter(({ lane }) => lane === 8);
  expect(repeated.length).toBeGreaterThanOrEqual(8);
  expect(repeated.every(({ played: { ticks }, quantize }) => ticks % 240 === 0 && quantize?.grid === "1/16")).toBe(
    true,
  );
  expect([first!.bars, second!.bars]).toEqual([1, 1]);
  expect(second!.passes.map(({ muted, take }) => [muted, take === undefined])).toEqual([
    [true, false],
    [false, true],
    [true, false],
  ]);
});

test("what is painted over the lanes stroke by stroke, erased and muted is to the pixel what a new picture has", async ({
  page,
}) => {
  await newBeat(page);
  const picture = page.getByRole("region", { name: "Lanes" }).getByRole("img", { name: /hits? in/ });
  /** What is painted is kept in the page; says in how many pixels it differs from an earlier one. */
  const differs = (from: string, keptAs: string) =>
    picture.evaluate(
      async (canvas: HTMLCanvasElement, [from, keptAs]) => {
        // What a change of the page draws is there two pictures later.
        for (let frame = 0; frame < 3; frame++) await new Promise(requestAnimationFrame);
        const { data } = canvas.getContext("2d")!.getImageData(0, 0, canvas.width, canvas.height);
        const kept = ((globalThis as { pictures?: Record<string, Uint8ClampedArray> }).pictures ??= {});
        const other = kept[from!];
        kept[keptAs!] = data;
        if (other?.length !== data.length) return Infinity;
        // A browser that hands a canvas from its graphics card to its processor rounds some edges to the next of 255 levels.
        return data.filter((level, index) => Math.abs(level - other[index]!) > 2).length;
      },
      [from, keptAs],
    );
  const anew = async (name: string) => {
    await differs("", name);
    await page.keyboard.press("Alt+0");
    await page.keyboard.press("Alt+9");
    await expect(picture).toBeVisible();
    expect(await differs(name, "anew")).toBe(0);
  };
  await anew("empty");
  await page.keyboard.press("Enter");
  await expect(page.getByRole("banner").getByRole("status").filter({ hasText: "Recording" })).toBeVisible();
  // Many on one pad, so that some cover others, and some on its neighbours, over two laps.
  for (const key of "zzxzzczxazzszzxvzz") {
    await page.keyboard.press(key, { delay: 40 });
    await playOn(page, 190);
  }
  await page.keyboard.press("Space");
  await expect(picture).toHaveAccessibleName(/^18 hits/);
  await anew("struck");
  await page.keyboard.press("Control+z");
  await expect(picture).not.toHaveAccessibleName(/^18 hits/);
  await anew("undone");
  await page.keyboard.press("Control+Shift+z");
  await expect(picture).toHaveAccessibleName(/^18 hits/);
  await anew("redone");
  expect(await differs("struck", "redone")).toBe(0);
  await page.getByRole("button", { name: "Mute Kick" }).click();
  await expect.poll(() => differs("struck", "muted")).not.toBe(0);
  await anew("muted");
  expect(await differs("empty", "muted")).not.toBe(0);
});

test("a lane shows how loud it is, and no other lane does; the bar is gone when the sound is", async ({ page }) => {
  await newBeat(page);
  const levels = page.getByRole("region", { name: "Lanes" }).locator("canvas[aria-hidden]").first();
  /** From the top, the rows in which something is drawn. */
  const rows = () =>
    levels.evaluate((canvas: HTMLCanvasElement) => {
      // The canvas itself is the compositor's.
      const { clientWidth: width, clientHeight: height } = canvas;
      const copy = new OffscreenCanvas(width, height).getContext("2d")!;
      copy.drawImage(canvas, 0, 0, width, height);
      const { data } = copy.getImageData(0, 0, width, height);
      const rowPx = height / 16;
      const drawn = [...data].flatMap((value, at) =>
        value > 0 ? [Math.floor(Math.floor(at / 4 / width) / rowPx)] : [],
      );
      return [...new Set(drawn)];
    });
  expect(await rows()).toEqual([]);
  // The kick lies at the bottom, the snare above it. While the kit is still being made a stroke may have no sound yet.
  const soundsIn = (key: string, row: number) =>
    expect(async () => {
      await page.keyboard.press(key);
      await expect.poll(rows, { timeout: 1000 }).toEqual([row]);
    }).toPass();
  await soundsIn("z", 15);
  await expect.poll(rows).toEqual([]);
  await soundsIn("x", 14);
  await expect.poll(rows).toEqual([]);
});

test("a region by pointer and by key, meters with their groups, and a pad struck high and low", async ({ page }) => {
  await newBeat(page);
  const ruler = (await page.getByLabel("Loop region").boundingBox())!;
  await page.mouse.move(ruler.x + ruler.width * 0.55, ruler.y + 10);
  await page.mouse.down();
  await page.mouse.move(ruler.x + ruler.width * 0.9, ruler.y + 10, { steps: 4 });
  await page.mouse.up();
  const start = page.getByRole("slider", { name: "Loop start" });
  await expect(start).toHaveAttribute("aria-valuetext", "2.1.000");
  await start.focus();
  await page.keyboard.press("Shift+ArrowRight");
  await expect(start).toHaveAttribute("aria-valuetext", "2.2.000");
  await page.getByRole("button", { name: "Loop the whole pattern" }).click();
  await expect(start).toHaveAttribute("aria-valuetext", "1.1.000");

  await page.getByLabel("Meter").selectOption("7/8");
  await page.getByLabel("Grouping").selectOption("3+2+2");
  await page.getByRole("button", { name: "Undo" }).click();
  await expect(page.getByLabel("Grouping")).toHaveValue("2+2+3");

  await page.getByLabel("Count-in").selectOption("on the first hit");
  await page.keyboard.press("Enter");
  await expect(page.getByText("First hit starts")).toBeVisible();
  const pad = (await page.getByRole("button", { name: "Crash", exact: true }).boundingBox())!;
  for (const share of [0.1, 0.9]) {
    await page.mouse.move(pad.x + pad.width / 2, pad.y + pad.height * share);
    await page.mouse.down();
    await playOn(page, 60);
    await page.mouse.up();
    await playOn(page, 300);
  }
  await page.keyboard.press("Space");
  const beat = await exportBeat(page);
  const [loud, soft] = beat.parts[0]!.patterns[0]!.passes[0]!.hits;
  expect(loud!.played.ticks).toBe(0);
  expect(loud!.played.velocity).toBeGreaterThan(105);
  expect(soft!.played.velocity).toBeLessThan(55);
});

test("note repeat goes on over two seconds of a blocked page: every eighth is there, to the sample", async ({
  page,
}) => {
  await installTap(page);
  await newBeat(page);
  await page.getByRole("button", { name: "Click", exact: true }).click();
  await page.keyboard.press("Space");
  await page.keyboard.down("w");
  await page.keyboard.down("j");
  await playOn(page, 700);
  await emptyTap(page);
  await playOn(page, 700);
  await playAlone(page, 2000);
  await playOn(page, 900);
  await page.keyboard.up("j");
  await page.keyboard.up("w");
  const { left, sampleRate } = await readTap(page);
  const starts: number[] = [];
  let lastSound = 0;
  left.forEach((sample, frame) => {
    if (sample === 0) return;
    if (frame - lastSound > 0.03 * sampleRate) starts.push(frame);
    lastSound = frame;
  });
  // An eighth at 100 BPM is 300 ms.
  const eighth = 0.3 * sampleRate;
  expect(starts.length).toBeGreaterThanOrEqual(9);
  const steps = starts.slice(1).map((frame, index) => (frame - starts[index]!) / eighth);
  expect(steps.filter((step) => Math.abs(step - 1) > 2 / eighth)).toEqual([]);
});

/** Where sound begins after silence, in ms of the audio clock. */
function onsetsMs(samples: Float32Array, sampleRate: number): number[] {
  const found: number[] = [];
  const window = Math.round(sampleRate * 0.002);
  let before = 0;
  for (let frame = 0; frame + window <= samples.length; frame += window) {
    const peak = samples.subarray(frame, frame + window).reduce((max, sample) => Math.max(max, Math.abs(sample)), 0);
    const apart = ((frame - (found.at(-1) ?? -Infinity)) * 1000) / sampleRate > 80;
    if (peak > 0.02 && peak > 3 * before && apart) found.push(frame);
    before = Math.max(peak, before * 0.9);
  }
  return found.map((frame) => (frame * 1000) / sampleRate);
}

test("arrow keys step through grooves while the loop runs: heard from the next hit on, none lost, each one undo", async ({
  page,
}) => {
  await installTap(page);
  await openFile(page, eighths());
  await page.getByRole("button", { name: "Click", exact: true }).click();
  await page.keyboard.press("Space");
  await waitForSound(page, 200);
  await emptyTap(page);
  await waitForSound(page, 2500);
  // Four steps down: "Rolling", a full shuffle.
  for (let step = 0; step < 4; step++) await page.keyboard.press("ArrowDown");
  await expect(grooveOf(page)).toHaveValue("Rolling");
  await waitForSound(page, 7500);
  const { left, sampleRate } = await readTap(page);
  await page.keyboard.press("Space");
  const onsets = onsetsMs(left, sampleRate);
  const gaps = onsets.slice(1).map((ms, index) => ms - onsets[index]!);
  // Eighths of 250 ms, then 250 + 78 and 250 - 78; at the change one gap of its own. None missing, none twice.
  const straight = gaps.filter((gap) => Math.abs(gap - 250) < 12);
  const long = gaps.filter((gap) => Math.abs(gap - 328) < 12);
  const short = gaps.filter((gap) => Math.abs(gap - 172) < 12);
  expect(straight.length).toBeGreaterThan(5);
  expect(long.length).toBeGreaterThan(5);
  expect(Math.abs(long.length - short.length)).toBeLessThanOrEqual(2);
  expect(gaps.length - straight.length - long.length - short.length).toBeLessThanOrEqual(2);
  for (const name of ["Cross Sea", "Ripple", "Flat Calm", ""]) {
    await page.getByRole("button", { name: "Undo" }).click();
    await expect(grooveOf(page)).toHaveValue(name);
  }
});
