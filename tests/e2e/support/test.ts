import { test as base } from "@playwright/test";
import { replaceLoudspeaker } from "./loudspeaker";

interface Options {
  /** `patient` never misses a buffer; `machine` is the machine's own. */
  readonly loudspeaker: "patient" | "machine";
  /** `made` by the app; short bursts stand in for them where a test does not ask what kits and voices sound like. */
  readonly sounds: "stand-in" | "made";
}

/** As Playwright's, with a loudspeaker and sounds that suit what is tested. */
export const test = base.extend<Options>({
  loudspeaker: ["patient", { option: true }],
  sounds: ["stand-in", { option: true }],
  context: async ({ context, loudspeaker, sounds, baseURL }, use) => {
    if (loudspeaker === "patient") await context.addInitScript(replaceLoudspeaker);
    if (sounds === "stand-in") await context.addCookies([{ name: "sounds", value: sounds, url: baseURL! }]);
    await use(context);
  },
});
