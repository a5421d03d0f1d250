import AxeBuilder from "@axe-core/playwright";
import type { Page } from "@playwright/test";

/**
 * WCAG 2.2 AA and what else axe advises.
 * @param within a selector: what lies under an open menu can't be reached, and is not what is asked
 */
export async function violations(page: Page, within = "body"): Promise<string[]> {
  // Colours that are on their way from one theme to the other are of neither.
  await page.evaluate(() =>
    Promise.allSettled(document.getAnimations().flatMap((one) => (one instanceof CSSTransition ? [one.finished] : []))),
  );
  const result = await new AxeBuilder({ page })
    .include(within)
    .withTags(["wcag2a", "wcag2aa", "wcag21a", "wcag21aa", "wcag22aa", "best-practice"])
    .analyze();
  return result.violations.map(({ id, nodes }) => `${id}: ${nodes.map(({ html }) => html.slice(0, 120)).join(" | ")}`);
}
