import { expect } from "@playwright/test";
import { startServedBrowser, waitUntilReady } from "../../../scripts/server/served-browser";
import { test } from "../support/test";

test.use({ serviceWorkers: "allow" });

test("when the server is gone, the shelf opens, a new beat is made, played, and there after a reload", async () => {
  const served = await startServedBrowser();
  try {
    const page = await served.openShelf();
    const name = page.getByLabel("Name of the beat");
    // The first visit keeps the app, a little after it has come to rest.
    await page.evaluate(async () => void (await navigator.serviceWorker.ready));
    await served.stopServing();
    expect(await fetch(served.url).catch(() => "gone")).toBe("gone");

    await page.reload();
    await page.getByRole("link", { name: "Slow Harbour", exact: true }).click();
    await waitUntilReady(page);
    await expect(name).toHaveValue("Slow Harbour");
    await page.keyboard.press("Space");
    await expect(page.getByText("Playing", { exact: true })).toBeVisible();
    // What is fetched only when it is asked for is kept, too.
    await page.getByRole("button", { name: "Export" }).click();
    const [download] = await Promise.all([
      page.waitForEvent("download"),
      page.getByRole("button", { name: "MIDI, as heard" }).click(),
    ]);
    expect(download.suggestedFilename()).toMatch(/\.mid$/);

    await page.getByRole("link", { name: /Shelf/ }).click();
    await page.getByRole("button", { name: "New beat", exact: true }).click();
    await waitUntilReady(page);
    await name.fill("Night Crossing");
    await name.press("Enter");
    // At once: what is not saved yet is not lost.
    await page.reload();
    await waitUntilReady(page);
    await expect(name).toHaveValue("Night Crossing");
  } finally {
    await served.close();
  }
});
