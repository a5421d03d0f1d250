import { expect } from "@playwright/test";
import type { Beat } from "@/core/beat/beat";
import { demoBeat } from "@/core/demo/demo-beats";
import { keepTiming } from "@/core/timing/keep-timing";
import { BUILT_IN_GROOVES } from "@/core/timing/built-in-grooves";
import { openFile } from "../support/app";
import { test } from "../support/test";

const MARKUP = `<img src=x onerror=alert(1)><iframe srcdoc="<script>top.location='/x'</script>"></iframe><b>&"'`;

/** A beat with markup wherever a file can have a text. */
function hostileBeat(): Beat {
  const demo = demoBeat("Lantern Room");
  const [part] = demo.parts;
  const [pattern] = part!.patterns;
  const kept = keepTiming(demo, { partId: part!.id, patternId: pattern!.id }, MARKUP);
  return {
    ...kept,
    id: "hostile",
    name: MARKUP.slice(0, 119),
    parts: kept.parts.map((one) => ({
      ...one,
      name: MARKUP,
      ...(one.kind === "kit" && {
        pads: one.pads.map((pad, index) => ({ ...pad, name: `${index} ${MARKUP}`.slice(0, 119) })),
      }),
      patterns: one.patterns.map((two) => ({
        ...two,
        name: MARKUP,
        groove: {
          groove: { ...BUILT_IN_GROOVES[0]!, name: MARKUP.slice(0, 119), description: MARKUP },
          timing: 1,
          velocity: 1,
        },
        passes: two.passes.map((pass, index) => ({ ...pass, name: `${index} ${MARKUP}`.slice(0, 119) })),
      })),
    })),
  };
}

test("names that are markup are names: in the shelf, the workspace, its menus and the report's charts", async ({
  page,
}) => {
  const dialogs: string[] = [];
  page.on("dialog", (dialog) => {
    dialogs.push(dialog.message());
    void dialog.dismiss();
  });
  const beat = hostileBeat();
  await openFile(page, beat);
  const url = page.url();
  const foreign = page.locator("img[src='x'], iframe, script:not([src]):not([nonce]), b:text-is(\"&\\\"'\")");
  const expectHarmless = async () => {
    await expect(foreign).toHaveCount(0);
    expect([page.url(), dialogs]).toEqual([url, []]);
  };
  await expectHarmless();
  await page.getByRole("button", { name: "Report" }).click();
  const [first, second] = beat.parts[0]!.patterns[0]!.passes;
  await page.getByLabel("Of", { exact: true }).selectOption(String(first!.id));
  await page.getByLabel("Beside").selectOption(String(second!.id));
  const label = page.locator(".apexcharts-xaxis-texts-g text").first();
  await expect(label).toContainText("‹img src=x");
  await expect(label).not.toContainText("&lt;");
  await expect(page.locator(".apexcharts-legend-text").first()).toContainText("‹img src=x");
  await page.locator(".apexcharts-rangebar-area, .apexcharts-bar-area").first().hover({ force: true });
  await expectHarmless();
  await page.getByRole("button", { name: "Lanes", exact: true }).click();
  await page.getByRole("button", { name: "Export", exact: true }).click();
  await expectHarmless();
});
