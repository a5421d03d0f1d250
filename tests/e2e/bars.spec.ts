import { expect, type Page } from "@playwright/test";
import { barProblem } from "../support/bars";
import { firstLoadKilobytes } from "../support/bundle-size";
import { openBeat } from "./support/app";
import { test } from "./support/test";

const BEAT_PAGE = "beat/[id]/";

/** Elements of a page once what comes by and by is there: when nothing has been fetched and nothing has come for a while. */
async function elementsOf(page: Page): Promise<number> {
  await page.waitForLoadState("networkidle");
  const count = () => page.evaluate(() => document.querySelectorAll("*").length);
  let [before, now] = [-1, await count()];
  while (before !== now) {
    await page.waitForTimeout(1500);
    [before, now] = [now, await count()];
  }
  return now;
}

/** All there is to say, so that one run tells everything. */
function expectNoProblems(measured: Readonly<Record<string, number>>): void {
  const problems = Object.entries(measured).map(([name, value]) => barProblem(name, value));
  expect(problems.filter((problem) => problem !== undefined)).toEqual([]);
}

test("pages load no more, and are no larger, than they were", async ({ page }) => {
  await page.goto("/");
  await page.getByRole("link", { name: "Slow Harbour", exact: true }).waitFor();
  const shelf = await elementsOf(page);
  await openBeat(page, "Slow Harbour");
  const beat = await elementsOf(page);
  const view = (name: string) =>
    page.getByRole("navigation", { name: "View" }).getByRole("button", { name, exact: true }).click();
  await view("Mix");
  await page.getByRole("slider", { name: "Level of Kick" }).waitFor();
  expectNoProblems({
    "first load of the shelf: kB": firstLoadKilobytes("")!,
    "first load of a beat: kB": firstLoadKilobytes(BEAT_PAGE)!,
    "elements of the shelf with the demo": shelf,
    "elements of Slow Harbour": beat,
    "elements of its mix": await elementsOf(page),
  });
});
