import type { Page } from "@playwright/test";
import type { Tap } from "./tap";

/** A key that was struck on a heard position. */
export interface Struck {
  /** After its position was heard, by readings before and after it: the machine may keep the player waiting. */
  readonly lateMs: number;
  /** By how much the simulated loudspeaker stumbled just then: what is heard when is not known to be better than that. */
  readonly stumbledMs: number;
}

/** A loudspeaker that stumbles by less is steady. */
export const STEADY_MS = 2;

/**
 * Strikes keys as somebody does who hears well: at the moments at which given sounds leave the loudspeaker, by the clock
 * and the output delay that the audio context reports. To be used with the tap.
 * @param fromSeconds of the audio clock, that `ms` counts from
 */
export function strikeWhereHeard(
  page: Page,
  strokes: readonly { readonly code: string; readonly ms: number }[],
  fromSeconds: number,
): Promise<Struck[]> {
  return page.evaluate(
    async ({ strokes, fromSeconds }) => {
      const { context } = (window as unknown as { tap: Tap }).tap;
      const offsets: number[] = [];
      const middleOf = (count: number) => {
        const last = offsets.slice(-count).sort((a, b) => a - b);
        return last[Math.floor(last.length / 2)];
      };
      // Single readings of the context are off by some ms now and then; the middle one of the last few is not.
      const offsetMs = () => {
        const { contextTime, performanceTime } = context.getOutputTimestamp();
        const offset = performanceTime! - contextTime! * 1000;
        if (offset !== offsets.at(-1)) offsets.push(offset);
        return middleOf(7);
      };
      const rest = (ms: number) => new Promise((done) => setTimeout(done, ms));
      const struck: Struck[] = [];
      for (const { code, ms } of strokes) {
        const heardAt = () => fromSeconds * 1000 + ms + offsetMs();
        while (performance.now() < heardAt() - 60) await rest(20);
        while (performance.now() < heardAt() - 12) await rest(1);
        const moment = heardAt();
        while (performance.now() < moment);
        const key = new KeyboardEvent("keydown", { code, bubbles: true });
        window.dispatchEvent(key);
        const before = middleOf(7);
        for (let reading = 0; reading < 4; reading++) {
          await rest(15);
          offsetMs();
        }
        struck.push({ lateMs: key.timeStamp - heardAt(), stumbledMs: Math.abs(middleOf(4) - before) });
        window.dispatchEvent(new KeyboardEvent("keyup", { code, bubbles: true }));
      }
      return struck;
    },
    { strokes, fromSeconds },
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
