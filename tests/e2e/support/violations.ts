import AxeBuilder from "@axe-core/playwright";
import type { Page } from "@playwright/test";

/** What axe knows that another theme may change. */
const OF_COLOURS = ["color-contrast", "link-in-text-block"];

/** In the page itself, which has no frames of other places; of what is right nothing is gathered. */
function axeOf(page: Page, within: string): AxeBuilder {
  return new AxeBuilder({ page })
    .setLegacyMode()
    .options({ resultTypes: ["violations"] })
    .include(within);
}

/**
 * WCAG 2.2 AA and what else axe advises, in the theme that is on.
 * @param within a selector: what lies under an open menu can't be reached, and is not what is asked
 */
export async function violations(page: Page, within = "body"): Promise<string[]> {
  return found(
    page,
    axeOf(page, within).withTags(["wcag2a", "wcag2aa", "wcag21a", "wcag21aa", "wcag22aa", "best-practice"]),
  );
}

/** The same, and what colours decide in the other theme, too; the theme is as before afterwards. */
export async function violationsInBothThemes(page: Page, within = "body"): Promise<string[]> {
  const here = await violations(page, within);
  const root = page.locator("html");
  const theme = (await root.getAttribute("data-bs-theme"))!;
  const paint = (name: string) => root.evaluate((html, to) => (html.dataset.bsTheme = to), name);
  await paint(theme === "dark" ? "light" : "dark");
  const there = await found(page, axeOf(page, within).withRules(OF_COLOURS));
  await paint(theme);
  return [...here, ...there.map((one) => `in the other theme than ${theme}: ${one}`)];
}

async function found(page: Page, axe: AxeBuilder): Promise<string[]> {
  // Colours that are on their way from one theme to the other are of neither.
  await page.evaluate(() =>
    Promise.allSettled(document.getAnimations().flatMap((one) => (one instanceof CSSTransition ? [one.finished] : []))),
  );
  const result = await axe.analyze();
  return result.violations.map(({ id, nodes }) => `${id}: ${nodes.map(({ html }) => html.slice(0, 120)).join(" | ")}`);
}
