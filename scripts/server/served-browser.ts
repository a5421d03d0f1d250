import { chromium, type Page } from "@playwright/test";
import { CHROMIUM } from "../chromium";
import { serve } from "./serve-process";

/** The built app, served on a port of its own, and a browser to look at it with. */
export interface ServedBrowser {
  readonly url: string;
  /** A page of its own world, on the shelf. @param prepare does something before it is opened, which its content security policy then allows */
  openShelf(theme?: "light" | "dark", prepare?: (page: Page) => Promise<void>): Promise<Page>;
  /** The browser stays, its server goes. */
  stopServing(): Promise<void>;
  close(): Promise<void>;
}

/** Needs a build. */
export async function startServedBrowser(): Promise<ServedBrowser> {
  const { url, stop } = await serve();
  const browser = await chromium.launch(CHROMIUM);
  return {
    url,
    stopServing: stop,
    async openShelf(theme = "light", prepare) {
      const context = await browser.newContext({ viewport: { width: 1280, height: 800 }, bypassCSP: !!prepare });
      // What is not there any more is an error, and not waited for without end.
      context.setDefaultTimeout(60_000);
      await context.addCookies([{ name: "theme", value: theme, url }]);
      const page = await context.newPage();
      await prepare?.(page);
      await page.goto(`${url}/`);
      await page.getByRole("link", { name: "Slow Harbour", exact: true }).waitFor();
      return page;
    },
    async close() {
      await browser.close();
      await stop();
    },
  };
}

/** Waits until a beat that was opened can sound. */
export async function waitUntilReady(page: Page): Promise<void> {
  await page
    .getByRole("button", { name: "Play", exact: true })
    .and(page.locator(":enabled"))
    .waitFor({ timeout: 60_000 });
  // Parts say so as long as their sounds are not all there.
  await page.waitForFunction(
    () => document.querySelector("[aria-busy=false]") && !document.querySelector("[aria-busy=true]"),
    undefined,
    { timeout: 120_000 },
  );
}
