import { readFile } from "node:fs/promises";
import { expect, type Page } from "@playwright/test";
import { KIT_IDS, KITS, type KitId } from "@/core/instruments";
import { seededRandom } from "@/core/random";
import { readBeatArchive } from "@/core/formats/beat-archive";
import { writeSampleWav } from "@/core/formats/wav/sample-wav";
import { layerFor, layerGain, type Sound } from "@/core/sound/signal/sound";
import { drumSound } from "@/core/sound/kits/sound-sets";
import { exportAs, exportBeat, newBeat, oneBar, openBeat, untilReady } from "../support/app";
import { playOn } from "../support/loudspeaker";
import { standInSound } from "../support/stand-in-sound";
import { emptyTap, installTap, readTap, waitForSound, type TappedSound } from "../support/tap";
import { test } from "../support/test";
import { violations } from "../support/violations";

test.use({ bypassCSP: true });

/** At the level of a stroke that is written: 100. */
const VELOCITY = 100;
/** An eighth at 150 BPM. */
const STROKE_SECONDS = 0.2;

async function openSounds(page: Page): Promise<void> {
  await page.keyboard.press("Alt+BracketRight");
  await expect(page.getByRole("region", { name: "Sounds" })).toBeVisible();
  await expect(page.getByRole("group", { name: "Kit", exact: true })).toHaveAttribute("aria-busy", "false");
}

/** Side sticks on the eighths of a bar, written, so that all are alike. */
async function sticks(page: Page): Promise<void> {
  await oneBar(page);
  await page.keyboard.press("Insert");
  for (let eighth = 0; eighth < 8; eighth++) {
    await page.keyboard.press("c");
    await page.keyboard.press("ArrowRight");
  }
  await page.keyboard.press("Insert");
}

interface Found {
  readonly kit: KitId;
  readonly frame: number;
}

/** What a stroke sounds like: its samples, as loud as they are heard on the left. */
function voices(drum: Sound): readonly Float32Array[] {
  const layer = layerFor(drum.velocities, VELOCITY);
  const gain = layerGain(drum.velocities[layer]!, VELOCITY) * drum.gainLeft;
  return drum.layers[layer]!.map((samples) => samples.map((sample) => sample * gain));
}

/** Takes stroke after stroke out of what was heard. @returns the strokes, and the most that is left over */
function takeOut({ left, sampleRate }: TappedSound): { found: readonly Found[]; rest: number } {
  const rest = left.slice();
  const kits = KIT_IDS.map((kit) => ({ kit, variants: voices(standInSound(drumSound(kit, "sideStick"), sampleRate)) }));
  // The next stroke may begin before one is over.
  const aloneFrames = (STROKE_SECONDS * sampleRate) / 2;
  const misfit = (voice: Float32Array, frame: number) => {
    let most = 0;
    for (let index = 0; index < Math.min(voice.length, aloneFrames, rest.length - frame); index++)
      most = Math.max(most, Math.abs(rest[frame + index]! - voice[index]!));
    return most;
  };
  // A stroke's first sample is silent, so sound shows one frame after its line.
  const first = left.findIndex((sample) => sample !== 0) - 1;
  const found: Found[] = [];
  for (let at = 0; first + Math.round(at * STROKE_SECONDS * sampleRate) < rest.length; at++) {
    const frame = first + Math.round(at * STROKE_SECONDS * sampleRate);
    const fits = kits.flatMap(({ kit, variants }) =>
      variants.flatMap((voice) =>
        [-1, 0, 1].map((off) => ({ kit, voice, frame: frame + off, by: misfit(voice, frame + off) })),
      ),
    );
    const best = fits.reduce((one, other) => (other.by < one.by ? other : one));
    best.voice.forEach((sample, index) => {
      if (best.frame + index < rest.length) rest[best.frame + index]! -= sample;
    });
    found.push(best);
  }
  return { found, rest: rest.reduce((most, sample) => Math.max(most, Math.abs(sample)), 0) };
}

test("forty changes of kit and sound in a running loop: each is heard from the next stroke on, none is lost or doubled, nothing clicks", async ({
  page,
}) => {
  await installTap(page);
  await sticks(page);
  await openSounds(page);
  await page.getByRole("button", { name: /^Side stick: / }).click();
  const kitOf = (kit: KitId) => page.getByRole("radio", { name: `${KITS[kit].name}, ${KITS[kit].description}` });
  const after = (kit: KitId, by: number) => KIT_IDS[(KIT_IDS.indexOf(kit) + by + 3) % 3]!;
  await playOn(page, 1500);
  await emptyTap(page);
  await page.keyboard.press("Space");
  await waitForSound(page, 900);
  const expected: KitId[] = ["deckhouse"];
  let kit: KitId = "deckhouse";
  for (let change = 0; change < 40; change++) {
    // Sound is ahead of the picture here; a hand goes by the picture.
    await expect(kitOf(kit)).toBeChecked();
    if (change % 4 === 3) {
      await expect(page.getByRole("radio", { name: KITS[kit].name, exact: true })).toBeChecked();
      // The sound of the pad alone, with the pointer.
      await page
        .getByRole("radio", { name: KITS[after(kit, -1)].name, exact: true })
        .locator("xpath=..")
        .click();
      expected.push(after(kit, -1));
    } else {
      await kitOf(kit).focus();
      await page.keyboard.press("ArrowDown");
      kit = after(kit, 1);
      expected.push(kit);
    }
    await playOn(page, 500);
  }
  await playOn(page, 600);
  const sound = await readTap(page);
  // A kit that is chosen has the keyboard, and Space is still for the transport.
  await kitOf(kit).focus();
  await page.keyboard.press("Space");
  await expect(page.getByRole("button", { name: "Play", exact: true })).toBeVisible();
  const { found, rest } = takeOut(sound);
  expect(found.map((one) => one.kit).filter((one, at, all) => one !== all[at - 1])).toEqual(expected);
  // Every stroke of the loop is one of these, and nothing else was heard: the last one may be cut off.
  expect(rest).toBeLessThan(1e-4);
  expect(found.length).toBeGreaterThan(100);
  // All of it was one browsing: Esc goes back to what was there before.
  await page.keyboard.press("Escape");
  await expect(kitOf("deckhouse")).toBeChecked();
  const part = (await exportBeat(page)).parts[0]!;
  expect(part.kind === "kit" && part.pads[2]!.layers).toEqual([{ source: { kind: "drum", drum: "sideStick" } }]);
});

/** A tone as a WAV file. */
function tone(seconds: number, hertz = 500): Buffer {
  const samples = Float32Array.from(
    { length: seconds * 48_000 },
    (_, frame) => 0.4 * Math.sin((2 * Math.PI * hertz * frame) / 48_000),
  );
  return Buffer.from(writeSampleWav({ sampleRate: 48_000, channels: [samples] }));
}

/** For how long something sounds after a stroke of the kick. */
async function strokeSeconds(page: Page): Promise<number> {
  await playOn(page, 1500);
  await emptyTap(page);
  await page.keyboard.press("z");
  await playOn(page, 1500);
  const { left, sampleRate } = await readTap(page);
  const loud = (sample: number) => Math.abs(sample) > 0.002;
  return (left.findLastIndex(loud) - left.findIndex(loud)) / sampleRate;
}

test("a sample of one's own: brought in, cut by keys and pointer, kept over a reload, taken along; what is no sound is refused", async ({
  page,
  browser,
}) => {
  await installTap(page);
  await newBeat(page);
  await openSounds(page);
  await page.getByRole("button", { name: /^Kick: / }).click();
  const files = page.getByLabel(/^Audio files for/);
  await files.setInputFiles({ name: "horn.wav", mimeType: "audio/wav", buffer: tone(0.8) });
  await expect(page.getByRole("button", { name: "horn: own sample" })).toBeVisible();
  await expect.poll(() => strokeSeconds(page)).toBeCloseTo(0.79, 1);

  // Dropped on the pads of another view: the one that it falls on, and the one behind it.
  await page.keyboard.press("Alt+9");
  await page.evaluate(
    (bytes) => {
      const dataTransfer = new DataTransfer();
      for (const name of ["drop.wav", "more.wav"]) dataTransfer.items.add(new File([Uint8Array.from(bytes)], name));
      const snare = document.querySelector('button[aria-label="Snare"]')!;
      snare.dispatchEvent(new DragEvent("drop", { bubbles: true, cancelable: true, dataTransfer }));
    },
    [...tone(0.1)],
  );
  await expect(page.getByRole("button", { name: "drop: own sample" })).toBeVisible();
  await expect(page.getByRole("button", { name: "more: own sample" })).toBeVisible();
  await page.keyboard.press("Control+z");
  await expect(page.getByRole("button", { name: "Snare: Deckhouse" })).toBeVisible();
  await page.getByRole("button", { name: "horn: own sample" }).click();

  // Random bytes, and a file that says it is one and is cut: the pad keeps its sound.
  const random = seededRandom(4);
  const noise = Buffer.from(Array.from({ length: 5000 }, () => Math.floor(256 * random())));
  for (const [name, buffer] of [
    ["noise.mp3", noise],
    ["cut.wav", tone(0.5).subarray(0, 30)],
    ["empty.ogg", Buffer.alloc(0)],
  ] as const) {
    await files.setInputFiles({ name, mimeType: "audio/mpeg", buffer });
    await expect(page.getByText(`${name}: The browser can’t read it as sound. horn keeps its sound.`)).toBeVisible();
  }
  await expect(page.getByRole("button", { name: "horn: own sample" })).toBeVisible();

  // Its end to the front: with the pointer to the middle, then with keys 50 ms further.
  const wave = page.getByRole("group", { name: "Wave of horn" });
  const end = page.getByRole("slider", { name: "End" });
  const endFrame = async () => Number(await end.getAttribute("aria-valuenow"));
  await wave.click({ position: { x: (await wave.boundingBox())!.width * 0.55, y: 40 } });
  await expect.poll(async () => (await endFrame()) / 48_000).toBeCloseTo(0.44, 1);
  const before = await endFrame();
  await end.focus();
  await page.keyboard.press("Shift+ArrowLeft");
  await expect(end).toHaveAttribute("aria-valuenow", String(before - 2400));
  await expect.poll(() => strokeSeconds(page)).toBeCloseTo(before / 48_000 - 0.055, 1);
  await page.keyboard.press("Control+z");
  await expect(end).toHaveAttribute("aria-valuenow", String(before));
  await page.keyboard.press("Control+z");
  await expect(end).toHaveAttribute("aria-valuenow", String(0.8 * 48_000));

  await expect(page.getByText("Saved in this browser")).toBeVisible();
  await page.reload();
  await untilReady(page);
  await expect.poll(() => strokeSeconds(page)).toBeCloseTo(0.79, 1);

  // As a file into a browser that has nothing of it.
  const zip = await exportAs(page, "Beat file");
  expect(Object.keys(readBeatArchive(zip).samples)).toHaveLength(1);
  const elsewhere = await browser.newContext({ bypassCSP: true, serviceWorkers: "block" });
  await elsewhere.addCookies(await page.context().cookies());
  const other = await elsewhere.newPage();
  await installTap(other);
  await other.goto(new URL("/", page.url()).href);
  await other
    .getByLabel("Import beat or MIDI files")
    .setInputFiles({ name: "beat.zip", mimeType: "application/zip", buffer: zip });
  await expect(other.getByText(/^Imported/)).toBeVisible();
  await other.getByRole("link", { name: "New beat", exact: true }).click();
  await untilReady(other);
  await openSounds(other);
  await expect(other.getByRole("button", { name: "horn: own sample" })).toBeVisible();
  // Its own samples are in the sound of its own loudspeaker.
  await exportAs(other, "WAV, with its tail");
  await other.context().close();
});

test.describe("by touch", () => {
  test.use({ hasTouch: true });

  test("kits and the sample editor are axe clean in both themes, and go by touch and keys alone", async ({ page }) => {
    await openBeat(page, "Slow Harbour");
    await openSounds(page);
    expect(await violations(page)).toEqual([]);
    await page.getByRole("button", { name: "Conga: Hull" }).tap();
    await expect(page.getByRole("group", { name: "Wave of Hull" })).toBeVisible();
    expect(await violations(page)).toEqual([]);
    // A kit of one's own: kept by keys, changed by touch, gone back to.
    await page.getByLabel("Name of your kit").fill("Quay");
    await page.keyboard.press("Enter");
    await page.getByText("Rope and Crate", { exact: true }).tap();
    await expect(page.getByRole("button", { name: "Conga: Rope and Crate" })).toBeVisible();
    await page.getByText("Quay", { exact: true }).tap();
    await expect(page.getByRole("button", { name: "Conga: Hull" })).toBeVisible();
    // Space is the transport's, also right after an arrow key, while the kit before is still the chosen one.
    const next = page.getByRole("radio", { name: /^Deckhouse, a small/ });
    await next.focus();
    await page.keyboard.press("Space");
    await expect(page.getByRole("button", { name: "Stop", exact: true })).toBeVisible();
    await page.keyboard.press("Space");
    await expect(page.getByRole("button", { name: "Play", exact: true })).toBeVisible();
    await expect(next).not.toBeChecked();
    await page.getByRole("button", { name: "Backwards" }).tap();
    await page.getByRole("button", { name: "Add a layer" }).tap();
    await expect(page.getByRole("button", { name: "Conga: Hull + Deckhouse" })).toBeVisible();
    const file = await Promise.all([
      page.waitForEvent("download"),
      page.getByRole("button", { name: "Export", exact: true }).last().tap(),
    ]);
    expect((await readFile(await file[0].path())).subarray(0, 2).toString()).toBe("PK");
    await page.getByRole("button", { name: /theme/i }).tap();
    await expect(page.locator("html")).toHaveAttribute("data-bs-theme", "dark");
    expect(await violations(page)).toEqual([]);
    await page.getByRole("button", { name: /^2: Deckhouse/ }).tap();
    expect(await violations(page)).toEqual([]);
  });
});
