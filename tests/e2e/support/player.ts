import type { Page } from "@playwright/test";
import type { WithLoudspeaker } from "./loudspeaker";
import type { Tap } from "./tap";

/** How long a key is held down. */
const KEY_MS = 40;

export interface Stroke {
  readonly code: string;
  /** From a moment on that the player has in mind. */
  readonly ms: number;
}

/** Strikes keys as somebody does who hears well: at the very moments at which they are heard, from one of the audio clock on. */
export async function strikeWhereHeard(page: Page, strokes: readonly Stroke[], fromSeconds: number): Promise<void> {
  const fromMs = await page.evaluate(
    (seconds) => (window as unknown as WithLoudspeaker).loudspeaker.heardAtMs(seconds),
    fromSeconds,
  );
  await strikeFrom(page, strokes, fromMs);
}

/** Strikes keys at their very moments, from now on. */
export async function strike(page: Page, strokes: readonly Stroke[]): Promise<void> {
  await strikeFrom(page, strokes, await page.evaluate(() => performance.now()));
}

async function strikeFrom(page: Page, strokes: readonly Stroke[], fromMs: number): Promise<void> {
  await page.evaluate(
    async ({ strokes, fromMs, KEY_MS }) => {
      const { loudspeaker } = window as unknown as WithLoudspeaker;
      const press = (type: string, code: string, timeStamp: number) => {
        const event = new KeyboardEvent(type, { code, bubbles: true });
        Object.defineProperty(event, "timeStamp", { value: timeStamp });
        window.dispatchEvent(event);
      };
      loudspeaker.hurried = true;
      await Promise.all(
        strokes.map(({ code, ms }) => {
          loudspeaker.at(fromMs + ms, () => press("keydown", code, fromMs + ms));
          return new Promise<void>((done) =>
            loudspeaker.at(fromMs + ms + KEY_MS, () => {
              press("keyup", code, fromMs + ms + KEY_MS);
              done();
            }),
          );
        }),
      );
      loudspeaker.hurried = false;
    },
    { strokes, fromMs, KEY_MS },
  );
}

/** When the first sound since the tap was emptied was played, in seconds of the audio clock. */
export async function firstSoundSeconds(page: Page): Promise<number> {
  const found = await page.waitForFunction(() => {
    const { chunks, context } = (window as unknown as { tap: Tap }).tap;
    for (const { start, left } of chunks) {
      const index = left.findIndex((sample) => sample !== 0);
      // A stroke's first sample is silent.
      if (index >= 0) return (start + index - 1) / context.sampleRate;
    }
    return undefined;
  });
  return (await found.jsonValue())!;
}
