import { execFileSync, spawn } from "node:child_process";
import { chromium, type Page } from "@playwright/test";

/** The built app, served on a port of its own, and a browser to look at it with. */
export interface ServedBrowser {
  /** A page of its own world, on the shelf. @param prepare does something before it is opened, which its content security policy then allows */
  openShelf(theme?: "light" | "dark", prepare?: (page: Page) => Promise<void>): Promise<Page>;
  /** The browser stays, its server goes. */
  stopServing(): Promise<void>;
  close(): Promise<void>;
}

/** Needs a build. */
export async function startServedBrowser(port: number): Promise<ServedBrowser> {
  const server = spawn("node", ["scripts/serve.mjs"], {
    stdio: "ignore",
    env: { ...process.env, PORT: String(port), NODE_ENV: "production" },
  });
  const browser = await chromium.launch({
    executablePath: execFileSync("which", ["chromium"], { encoding: "utf8" }).trim(),
    args: ["--no-sandbox", "--autoplay-policy=no-user-gesture-required"],
  });
  const url = `http://localhost:${port}`;
  const gone = new Promise<void>((done) => server.once("exit", () => done()));
  const stopServing = () => {
    // Asked to end it would wait for the browser's open connections.
    server.kill("SIGKILL");
    return gone;
  };
  return {
    stopServing,
    async openShelf(theme = "light", prepare) {
      const context = await browser.newContext({ viewport: { width: 1280, height: 800 }, bypassCSP: !!prepare });
      await context.addCookies([{ name: "theme", value: theme, url }]);
      const page = await context.newPage();
      await prepare?.(page);
      for (let attempt = 0; attempt < 50; attempt++) {
        if (await page.goto(`${url}/`).catch(() => undefined)) break;
        await new Promise((done) => setTimeout(done, 200));
      }
      await page.getByRole("link", { name: "Slow Harbour", exact: true }).waitFor();
      return page;
    },
    async close() {
      await browser.close();
      await stopServing();
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
