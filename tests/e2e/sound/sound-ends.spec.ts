import { expect, type Page } from "@playwright/test";
import { exportBeat, hitsOf, newBeat } from "../support/app";
import { test } from "../support/test";

// The browser's own audio is what fails here.
test.use({ loudspeaker: "machine" });

/** What the page made of the browser's audio, the newest last. */
interface Made {
  readonly contexts: AudioContext[];
  readonly worklets: AudioWorkletNode[];
}

async function openWatched(page: Page): Promise<void> {
  await page.addInitScript(() => {
    const made: Made = { contexts: [], worklets: [] };
    const { AudioContext: Context, AudioWorkletNode: Worklet } = window;
    window.AudioContext = class extends Context {
      constructor(options?: AudioContextOptions) {
        super(options);
        made.contexts.push(this);
      }
    };
    window.AudioWorkletNode = class extends Worklet {
      constructor(...[context, name, options]: ConstructorParameters<typeof Worklet>) {
        super(context, name, options);
        made.worklets.push(this);
      }
    };
    Object.assign(window, { made });
  });
  await newBeat(page);
}

const evaluate = <T>(page: Page, work: (made: Made) => T) =>
  page.evaluate(`(${work.toString()})(window.made)`) as Promise<T>;

/** From here on no two readings of the audio's clock agree, as where the machine has no time for it. */
const loseClock = ({ contexts }: Made) => {
  let reading = 0;
  const context = contexts.at(-1)!;
  context.getOutputTimestamp = () => ({
    contextTime: context.currentTime + (++reading % 97),
    performanceTime: performance.now(),
  });
};

async function recordTwoHits(page: Page): Promise<void> {
  await page.keyboard.press("Enter");
  await expect(page.getByText("Recording", { exact: true })).toBeVisible();
  // A device that drops out sounds later than the page thought: only what is well behind the downbeat is surely behind it.
  await page.waitForTimeout(1200);
  for (const key of ["z", "x"]) {
    await page.keyboard.press(key);
    await page.waitForTimeout(300);
  }
}

test("an audio thread that fails ends record, loses no hit, and one press starts another", async ({ page }) => {
  await openWatched(page);
  await recordTwoHits(page);
  await evaluate(page, loseClock);
  // Where this one belongs is not known yet when the thread fails.
  await page.keyboard.press("c");
  await evaluate(page, ({ worklets }) => worklets.at(-1)!.dispatchEvent(new Event("processorerror")));
  await expect(page.getByText("There is no sound.")).toBeVisible();
  await expect(page.getByText("Recording", { exact: true })).toHaveCount(0);
  expect(hitsOf(await exportBeat(page))).toHaveLength(3);
  await expect.poll(() => evaluate(page, ({ contexts }) => contexts.map(({ state }) => state))).toEqual(["closed"]);
  await page.getByRole("button", { name: "Start it again" }).click();
  await expect(page.getByRole("button", { name: "Record" })).toBeEnabled();
  await page.keyboard.press("Space");
  await expect(page.getByText("Playing", { exact: true })).toBeVisible();
});

test("a context that the browser closes is no record that goes on; one that it suspends goes on by itself", async ({
  page,
}) => {
  await openWatched(page);
  await recordTwoHits(page);
  await evaluate(page, ({ contexts }) => contexts.at(-1)!.suspend());
  await expect.poll(() => evaluate(page, ({ contexts }) => contexts.at(-1)!.state)).toBe("running");
  await expect(page.getByText("Recording", { exact: true })).toBeVisible();
  await evaluate(page, ({ contexts }) => contexts.at(-1)!.close());
  await expect(page.getByText("There is no sound.")).toBeVisible();
  await expect(page.getByText("Recording", { exact: true })).toHaveCount(0);
  await page.getByRole("button", { name: "Start it again" }).click();
  await expect(page.getByRole("button", { name: "Record" })).toBeEnabled();
});
