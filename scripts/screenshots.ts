/** Makes the pictures of docs/screenshots from the demo beats. Needs a build; serves it on a port of its own. */
import type { Page } from "@playwright/test";
import { startServedBrowser, waitUntilReady } from "./server/served-browser";

const served = await startServedBrowser();

async function openBeat(theme: "light" | "dark", name: string) {
  const page = await served.openShelf(theme);
  await page.getByRole("link", { name, exact: true }).click();
  await waitUntilReady(page);
  await page.waitForTimeout(1500);
  return page;
}

/** Takes it and leaves the page: one that plays on would take time from the next. */
async function takePicture(page: Page, file: string): Promise<void> {
  await page.screenshot({ path: `docs/screenshots/${file}.png` });
  await page.context().close();
}

/** The paper above the stage theme, in one picture. @param look what is done with the beat before it is taken */
async function inBothThemes(file: string, name: string, look: (page: Page) => Promise<void>): Promise<void> {
  const pictures: string[] = [];
  for (const theme of ["light", "dark"] as const) {
    const page = await openBeat(theme, name);
    await look(page);
    pictures.push((await page.screenshot()).toString("base64"));
    await page.context().close();
  }
  const sheet = await served.openShelf("light", async () => undefined);
  await sheet.setViewportSize({ width: 1280, height: 1600 });
  const images = pictures.map((data) => `<img src="data:image/png;base64,${data}" style="display:block">`);
  await sheet.setContent(`<body style="margin:0">${images.join("")}</body>`);
  await takePicture(sheet, file);
}

const shelf = await served.openShelf("light");
await takePicture(shelf, "shelf");

const workspace = await openBeat("light", "Slow Harbour");
await workspace.keyboard.press("Space");
await workspace.waitForTimeout(3000);
await takePicture(workspace, "workspace");

const parts = await openBeat("light", "Tide Table");
await parts.keyboard.press("Alt+3");
await parts.keyboard.press("Enter");
await parts.getByText("Recording", { exact: true }).waitFor();
for (const key of ["a", "d", "g", "s"]) {
  await parts.keyboard.down(key);
  await parts.waitForTimeout(300);
  await parts.keyboard.up(key);
}
await takePicture(parts, "parts");

const chords = await openBeat("dark", "Slow Harbour");
await chords.keyboard.press("Alt+3");
await chords.keyboard.press("Space");
await chords.waitForTimeout(1500);
await chords.getByRole("button", { name: "More of Cabin" }).click();
await chords.waitForTimeout(600);
await takePicture(chords, "chords");

const phone = await openBeat("light", "Lantern Room");
await phone.setViewportSize({ width: 390, height: 844 });
await phone.keyboard.press("Space");
await phone.waitForTimeout(1200);
await takePicture(phone, "narrow");

const recording = await openBeat("dark", "Lantern Room");
await recording.keyboard.press("Enter");
await recording.getByText("Recording", { exact: true }).waitFor();
for (const key of ["s", "x", "v", "g"]) {
  await recording.waitForTimeout(300);
  await recording.keyboard.press(key);
}
await takePicture(recording, "recording");

const hits = await openBeat("light", "Slow Harbour");
await hits.keyboard.press("Space");
await hits.keyboard.press("Alt+0");
await hits.getByRole("gridcell", { name: "Shaker" }).first().click();
await hits.keyboard.press("ArrowRight");
await hits.keyboard.press("Enter");
await hits.waitForTimeout(600);
await takePicture(hits, "hits");

const steps = await openBeat("dark", "Lantern Room");
await steps.keyboard.press("9");
await steps.getByRole("button", { name: "Velocity", exact: true }).click();
await steps.keyboard.press("Insert");
for (const key of ["z", "a", "x", "a"]) await steps.keyboard.press(key, { delay: 80 });
await steps.getByText("Step at 1.2.000").waitFor();
await steps.waitForTimeout(600);
await takePicture(steps, "steps");

const alternate = await openBeat("light", "Slow Harbour");
await alternate.keyboard.press("Space");
await alternate.keyboard.press("Shift+Backquote");
await alternate.getByRole("button", { name: "Fill the last half bar" }).click();
await alternate.getByRole("button", { name: "Conga silent in this pattern" }).click();
await alternate.waitForTimeout(2500);
await takePicture(alternate, "alternate");

const history = await openBeat("dark", "Gangway Shuffle");
await history.keyboard.press("Enter");
await history.getByText("Recording", { exact: true }).waitFor();
for (const key of ["a", "x", "h"]) await history.keyboard.press(key, { delay: 300 });
await history.keyboard.press("Enter");
await history.keyboard.press("ArrowUp");
await history.keyboard.press("Shift+Backquote");
await history.getByRole("tab", { name: "History" }).click();
await history.getByLabel("Name of the state or copy").fill("Before the bridge");
await history.getByRole("button", { name: "Save state", exact: true }).click();
await history.keyboard.press("Control+a");
await history.keyboard.press("Control+Shift+ArrowUp");
await history.keyboard.press("Control+z");
await history.waitForTimeout(1200);
await takePicture(history, "history");

await inBothThemes("mix", "Slow Harbour", async (page) => {
  await page.keyboard.press("Alt+BracketLeft");
  await page.getByRole("spinbutton", { name: "Level of Kit, typed" }).fill("11");
  await page.keyboard.press("Enter");
  await page.getByRole("spinbutton", { name: "Level of Shaker, typed" }).fill("-6");
  await page.keyboard.press("Enter");
  await page.getByRole("slider", { name: "Pan of Closed hat", exact: true }).focus();
  for (let step = 0; step < 6; step++) await page.keyboard.press("ArrowLeft");
  await page.keyboard.press("Space");
  await page.waitForTimeout(5000);
});

await inBothThemes("kits", "Lantern Room", async (page) => {
  await page.keyboard.press("Alt+BracketRight");
  await page.getByRole("button", { name: /^Snare: / }).click();
  await page.getByRole("radio", { name: "Signal Lamp, electronic" }).focus();
  await page.keyboard.press("ArrowDown");
  await page.keyboard.press("Space");
  await page.waitForTimeout(6000);
});

await inBothThemes("sample", "Slow Harbour", async (page) => {
  await page.keyboard.press("Alt+BracketRight");
  await page.getByRole("button", { name: "Conga: Hull" }).click();
  await page.getByRole("slider", { name: "End" }).focus();
  for (let step = 0; step < 5; step++) await page.keyboard.press("Shift+ArrowLeft");
  await page.waitForTimeout(6000);
});

const report = await openBeat("light", "Slow Harbour");
await report.getByRole("button", { name: "Report" }).click();
await report.getByLabel("Beside").selectOption("Hats");
await report.locator("figure svg").first().waitFor();
await report.waitForTimeout(1500);
await takePicture(report, "report");

const grooved = await openBeat("dark", "Slow Harbour");
await grooved.getByRole("button", { name: "Timing fields" }).click();
await grooved.getByLabel("Groove", { exact: true }).selectOption("Confused Sea");
for (let step = 0; step < 2; step++) await grooved.keyboard.press("Shift+ArrowUp");
await grooved.getByRole("application").focus();
await grooved.keyboard.press("ArrowRight");
await grooved.waitForTimeout(2800);
await takePicture(grooved, "grooved");

const echoes = await openBeat("light", "Lantern Room");
await echoes.getByRole("tab", { name: /Echoes/ }).click();
await echoes.getByRole("button", { name: /free/ }).first().click();
await echoes.getByRole("radio").first().waitFor();
// The buttons fade in.
await echoes.waitForTimeout(600);
await takePicture(echoes, "echoes");

const inputs = await openBeat("light", "Tide Table");
await inputs.getByRole("button", { name: /^Inputs/ }).click();
await inputs.getByRole("button", { name: "Bring in" }).click();
await inputs.getByRole("button", { name: "Stand-in drummer" }).click();
await inputs.keyboard.press("Space");
await inputs.waitForTimeout(4000);
await takePicture(inputs, "inputs");

const erasing = await openBeat("light", "Tide Table");
await erasing.keyboard.press("Space");
await erasing.waitForTimeout(1200);
await erasing.keyboard.down("Backspace");
await erasing.keyboard.down("a");
await erasing.waitForTimeout(900);
await takePicture(erasing, "erasing");

await served.close();
