import { median } from "simple-statistics";
import { exportBeat, hitsOf } from "../tests/e2e/support/app";
import { firstSoundSeconds } from "../tests/e2e/support/player";
import { emptyTap, installTap, type Tap } from "../tests/e2e/support/tap";
import { waitUntilReady, type ServedBrowser } from "../scripts/server/served-browser";
import type { Row } from "./row";

/** A new beat: two bars at 100 BPM, a bar of count-in. */
const BEAT_MS = 600;
const LAP_TICKS = 7680;
const MS_PER_TICK = BEAT_MS / 960;
const STROKES = Array.from({ length: 16 }, (_, index) => index);
const COUNT_IN_BEATS = 4;
/** Where the device itself shifts by more than this around a stroke, nobody knows when what was heard. */
const DISTURBED_MS = 1;

/** Strokes at the moments at which the loudspeaker of this machine brings the beats, and how far off they are recorded. */
export async function recordedTimesRow(served: ServedBrowser): Promise<Row> {
  const page = await served.openShelf("light", async (page) => {
    // Functions are named through a helper of the compiler's, which the page does not have.
    await page.addInitScript("globalThis.__name = (named) => named");
    await installTap(page);
  });
  await page.getByRole("button", { name: "New beat", exact: true }).click();
  await waitUntilReady(page);
  await page.waitForTimeout(2000);
  await emptyTap(page);
  await page.keyboard.press("Enter");
  const startSeconds = await firstSoundSeconds(page);
  const struck = await page.evaluate(
    async ({ momentsMs }) => {
      const { context } = (window as unknown as { tap: Tap }).tap;
      const offsets: number[] = [];
      let heard: { readonly atMs: number; readonly offsetMs: number }[] = [];
      // Single readings are off by some ms now and then; the middle one of the last few is not.
      const offsetMs = () => {
        const { contextTime, performanceTime } = context.getOutputTimestamp();
        offsets.push(performanceTime! - contextTime! * 1000);
        const last = offsets.slice(-7).sort((a, b) => a - b);
        const offsetMs = last[last.length >> 1]!;
        heard.push({ atMs: performance.now(), offsetMs });
        return offsetMs;
      };
      const struck: { readonly lateMs: number; readonly shiftMs: number }[] = [];
      for (const momentMs of momentsMs) {
        while (performance.now() < momentMs + offsetMs() - 12) await new Promise((done) => setTimeout(done, 4));
        const heardMs = momentMs + offsetMs();
        while (performance.now() < heardMs);
        const key = new KeyboardEvent("keydown", { code: "KeyZ", bubbles: true });
        window.dispatchEvent(key);
        window.dispatchEvent(new KeyboardEvent("keyup", { code: "KeyZ", bubbles: true }));
        for (let reading = 0; reading < 8; reading++) {
          await new Promise((done) => setTimeout(done, 15));
          offsetMs();
        }
        const after = offsetMs();
        heard = heard.filter(({ atMs }) => atMs > heardMs - 200);
        const around = heard.map((reading) => reading.offsetMs);
        struck.push({ lateMs: key.timeStamp - momentMs - after, shiftMs: Math.max(...around) - Math.min(...around) });
      }
      return struck;
    },
    { momentsMs: STROKES.map((beat) => startSeconds * 1000 + (COUNT_IN_BEATS + beat) * BEAT_MS) },
  );
  await page.keyboard.press("Space");
  const hits = hitsOf(await exportBeat(page));
  const row = { what: "strokes on heard beats, own loudspeaker, as recorded", budget: "within 5 ms" };
  if (hits.length !== STROKES.length)
    return { ...row, measured: `${hits.length} of ${STROKES.length} strokes recorded`, kept: false };
  const errors = STROKES.flatMap((beat) => {
    const off = hits[beat]!.played.ticks - ((beat * 960) % LAP_TICKS);
    const ms = (off > LAP_TICKS / 2 ? off - LAP_TICKS : off) * MS_PER_TICK - struck[beat]!.lateMs;
    return struck[beat]!.shiftMs < DISTURBED_MS ? [Math.abs(ms)] : [];
  });
  const [middle, worst] = errors.length > 0 ? [median(errors), Math.max(...errors)] : [NaN, NaN];
  const measured = `${middle.toFixed(2)} ms, worst ${worst.toFixed(2)} ms, ${errors.length} of ${STROKES.length} undisturbed`;
  return { ...row, measured, kept: worst < 5 };
}
