import type { Browser, BrowserContext, BrowserContextOptions, Disposable, Page } from "@playwright/test";

/** A tab that one test leaves to the next one: code that the browser has compiled need not be compiled for each test anew. */
export interface KeptTab {
  /** Tests of one kind may share it. */
  readonly kind: string;
  readonly context: BrowserContext;
  readonly page: Page;
  /** What tests have put into the page before all else. */
  readonly scripts: Disposable[];
  dead: boolean;
}

type TabOptions = BrowserContextOptions & Required<Pick<BrowserContextOptions, "baseURL" | "viewport">>;

/** A file of the app's own server: from elsewhere the browser would begin a process for the next page. */
const QUIET_PLACE = "/icon.svg";

export async function openTab(browser: Browser, kind: string, options: TabOptions): Promise<KeptTab> {
  const context = await browser.newContext(options);
  const page = await context.newPage();
  const scripts: Disposable[] = [];
  const tab: KeptTab = { kind, context, page, scripts, dead: false };
  const add = page.addInitScript.bind(page) as (...args: unknown[]) => Promise<Disposable>;
  page.addInitScript = async (...args: unknown[]) => {
    const script = await add(...args);
    scripts.push(script);
    return script;
  };
  page.on("crash", () => (tab.dead = true));
  return tab;
}

/** Leaves the tab as a new one: no page, nothing stored, nothing that a test has set. @returns false where it has died */
export async function clearTab(tab: KeptTab, { baseURL, viewport }: TabOptions): Promise<boolean> {
  const { context, page, scripts } = tab;
  if (tab.dead || page.isClosed()) return false;
  for (const other of context.pages()) if (other !== page) await other.close();
  await Promise.all(scripts.splice(0).map((script) => script.dispose()));
  await page.unrouteAll({ behavior: "ignoreErrors" });
  for (const event of ["console", "dialog", "pageerror", "request"]) page.removeAllListeners(event);
  await page.goto(QUIET_PLACE);
  await page.evaluate(() => sessionStorage.clear());
  const devTools = await context.newCDPSession(page);
  await devTools.send("Storage.clearDataForOrigin", { origin: new URL(baseURL).origin, storageTypes: "all" });
  await devTools.detach();
  await context.clearCookies();
  await page.emulateMedia({ reducedMotion: null });
  await page.mouse.move(0, 0);
  if (viewport) await page.setViewportSize(viewport);
  return true;
}
