import { test as base } from "@playwright/test";
import { replaceLoudspeaker } from "./loudspeaker";

/** As Playwright's, with a loudspeaker that never misses a buffer, unless `loudspeaker` is said to be the machine's. */
export const test = base.extend<{ readonly loudspeaker: "patient" | "machine" }>({
  loudspeaker: ["patient", { option: true }],
  context: async ({ context, loudspeaker }, use) => {
    if (loudspeaker === "patient") await context.addInitScript(replaceLoudspeaker);
    await use(context);
  },
});
