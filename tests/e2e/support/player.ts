import type { Page } from "@playwright/test";
import type { Tap } from "./tap";

/** A key that was struck on a heard position. */
export interface Struck {
  /** After its position was heard, by readings before and after it: the machine may keep the player waiting. */
  readonly lateMs: number;
  /**
   * By how much the simulated loudspeaker stumbled around then: what is heard when is not known to be better than that.
   * On a machine that nobody else uses it is next to nothing.
   */
  readonly stumbledMs: number;
}

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
      let heard: { readonly atMs: number; readonly offsetMs: number }[] = [];
      // Single readings of the context are off by some ms now and then; the middle one of the last few is not.
      const offsetMs = () => {
        const { contextTime, performanceTime } = context.getOutputTimestamp();
        const offset = performanceTime! - contextTime! * 1000;
        if (offset !== offsets.at(-1)) offsets.push(offset);
        const last = offsets.slice(-7).sort((a, b) => a - b);
        const middle = last[Math.floor(last.length / 2)];
        heard.push({ atMs: performance.now(), offsetMs: middle });
        return middle;
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
        for (let reading = 0; reading < 4; reading++) {
          await rest(15);
          offsetMs();
        }
        // An app that reads the clock now and then follows a stumble within so long.
        heard = heard.filter(({ atMs }) => atMs > moment - 250);
        const around = heard.map((one) => one.offsetMs);
        struck.push({ lateMs: key.timeStamp - heardAt(), stumbledMs: Math.max(...around) - Math.min(...around) });
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
