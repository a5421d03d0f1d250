import type { Page } from "@playwright/test";
import type { Loudspeaker } from "./loudspeaker";
import type { Tap } from "./tap";

/** How long a key is held down. */
const KEY_MS = 40;

/**
 * Strikes keys as somebody does who hears well: at the very moments at which given sounds are heard.
 * @param fromSeconds of the audio clock, that `ms` counts from
 */
export async function strikeWhereHeard(
  page: Page,
  strokes: readonly { readonly code: string; readonly ms: number }[],
  fromSeconds: number,
): Promise<void> {
  await page.evaluate(
    async ({ strokes, fromSeconds, KEY_MS }) => {
      const { loudspeaker } = window as unknown as { loudspeaker: Loudspeaker };
      const press = (type: string, code: string, timeStamp: number) => {
        const event = new KeyboardEvent(type, { code, bubbles: true });
        Object.defineProperty(event, "timeStamp", { value: timeStamp });
        window.dispatchEvent(event);
      };
      loudspeaker.hurried = true;
      await Promise.all(
        strokes.map(({ code, ms }) => {
          const downMs = loudspeaker.heardAtMs(fromSeconds + ms / 1000);
          loudspeaker.at(downMs, () => press("keydown", code, downMs));
          return new Promise<void>((done) =>
            loudspeaker.at(downMs + KEY_MS, () => {
              press("keyup", code, downMs + KEY_MS);
              done();
            }),
          );
        }),
      );
      loudspeaker.hurried = false;
    },
    { strokes, fromSeconds, KEY_MS },
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
