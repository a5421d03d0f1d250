import { test as base } from "@playwright/test";
import { replaceLoudspeaker } from "./loudspeaker";
import { clearTab, openTab, type KeptTab } from "./kept-tab";

interface Options {
  /** `patient` never misses a buffer; `machine` is the machine's own. */
  readonly loudspeaker: "patient" | "machine";
  /** `made` by the app; short bursts stand in for them where a test does not ask what kits and voices sound like. */
  readonly sounds: "stand-in" | "made";
}

interface OfWorker {
  /** What the test before has left, cleared. */
  readonly kept: { tab?: KeptTab | undefined };
}

/** As Playwright's, with a loudspeaker and sounds that suit what is tested, in a tab that is kept for the next test. */
export const test = base.extend<Options, OfWorker>({
  loudspeaker: ["patient", { option: true }],
  sounds: ["stand-in", { option: true }],
  // Playwright wants its fixtures in braces.
  // oxlint-disable-next-line no-empty-pattern
  kept: [({}, use) => use({}), { scope: "worker" }],
  context: async (
    { browser, kept, loudspeaker, sounds, baseURL, bypassCSP, hasTouch, serviceWorkers, viewport },
    use,
    info,
  ) => {
    const options = { baseURL: baseURL!, bypassCSP, hasTouch, serviceWorkers, viewport };
    // The browser's cache is kept, too: one for stand-ins, one for what is made.
    const kind = JSON.stringify([loudspeaker, sounds, options]);
    if (kept.tab?.kind !== kind) {
      await kept.tab?.context.close();
      kept.tab = await openTab(browser, kind, options);
      if (loudspeaker === "patient") await kept.tab.context.addInitScript(replaceLoudspeaker);
    }
    const { tab } = kept;
    if (sounds === "stand-in") await tab.context.addCookies([{ name: "sounds", value: sounds, url: baseURL! }]);
    await use(tab.context);
    if (info.status === info.expectedStatus && (await clearTab(tab, options))) return;
    kept.tab = undefined;
    await tab.context.close();
  },
  page: async ({ context }, use) => use(context.pages()[0]!),
});
