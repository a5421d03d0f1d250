import { chromium, expect } from "@playwright/test";
import { CHROMIUM } from "../../scripts/chromium";
import { newBeat, openBeat } from "./support/app";
import { test } from "./support/test";
import { violationsInBothThemes } from "./support/violations";

test("shelf, workspace, recording and inputs are axe clean", async ({ page }) => {
  await page.goto("/");
  await expect(page.getByRole("link", { name: "Slow Harbour", exact: true })).toBeVisible();
  expect(await violationsInBothThemes(page)).toEqual([]);
  await openBeat(page, "Gangway Shuffle");
  expect(await violationsInBothThemes(page)).toEqual([]);
  await page.keyboard.press("Enter");
  await expect(page.getByText("Recording", { exact: true })).toBeVisible();
  expect(await violationsInBothThemes(page)).toEqual([]);
  await page.keyboard.press("Space");
  await page.getByRole("button", { name: /^Inputs/ }).click();
  await page.getByRole("button", { name: "Bring in" }).click();
  await page.getByRole("button", { name: "Stand-in drummer" }).click();
  await expect(page.getByRole("img", { name: "Velocity curve" })).toBeVisible();
  expect(await violationsInBothThemes(page)).toEqual([]);
});

test("a pattern that is varied, the history, and the menus of the bar of hits are axe clean", async ({ page }) => {
  await openBeat(page, "Gangway Shuffle");
  await page.keyboard.press("Shift+Backquote");
  await page.getByRole("button", { name: "Fill the last half bar" }).click();
  await page.getByRole("button", { name: "Ride silent in this pattern" }).click();
  await expect(page.getByText(/1 lane silent/)).toBeVisible();
  await page.getByRole("tab", { name: "History" }).click();
  await page.getByRole("button", { name: "Save state", exact: true }).click();
  await expect(page.getByRole("button", { name: "Go back to State 1" })).toBeVisible();
  expect(await violationsInBothThemes(page)).toEqual([]);
  await page.keyboard.press("Control+a");
  for (const menu of ["Select", "Change"]) {
    await page.getByRole("button", { name: menu, exact: true }).click();
    await expect(page.locator(".dropdown-menu.show")).toBeVisible();
    expect(await violationsInBothThemes(page, ".dropdown-menu.show")).toEqual([]);
    await page.keyboard.press("Escape");
  }
  await page.getByRole("button", { name: "Step input" }).click();
  expect(await violationsInBothThemes(page)).toEqual([]);
  await page.keyboard.press("Alt+0");
  await expect(page.getByRole("grid")).toBeVisible();
  expect(await violationsInBothThemes(page)).toEqual([]);
});

test("nothing scrolls at the sizes the workspace is made for", async ({ page }) => {
  await openBeat(page, "Slow Harbour");
  for (const [width, height] of [
    [1024, 768],
    [1280, 800],
    [1440, 900],
  ] as const) {
    await page.setViewportSize({ width, height });
    const over = await page.evaluate(() => {
      const { scrollWidth, scrollHeight, clientWidth, clientHeight } = document.documentElement;
      return [scrollWidth - clientWidth, scrollHeight - clientHeight];
    });
    expect(over).toEqual([0, 0]);
    for (const name of [
      "Play",
      "Record",
      "Practice",
      "Erase",
      "Takes",
      "Undo",
      "Redo",
      "Click",
      "Export",
      "Kick",
      "Conga",
      "Cowbell",
    ]) {
      await expect(page.getByRole("button", { name, exact: true })).toBeInViewport({ ratio: 1 });
    }
  }
});

test("the whole page can be worked by keyboard", async ({ page }) => {
  await newBeat(page);
  const focused = () =>
    page.evaluate(() => {
      const said = document.activeElement?.cloneNode(true) as Element | undefined;
      said?.querySelectorAll("[aria-hidden=true]").forEach((hidden) => hidden.remove());
      return (
        document.activeElement?.getAttribute("aria-label") ??
        (document.activeElement as HTMLInputElement)?.labels?.[0]?.textContent ??
        said?.textContent ??
        ""
      );
    });
  const seen = new Set<string>();
  for (let index = 0; index < 160; index++) {
    await page.keyboard.press("Tab");
    seen.add(await focused());
  }
  for (const name of [
    "Play",
    "Record",
    "Click",
    "Export",
    "Kick",
    "Closed hat",
    "Mute Kick",
    "Solo Snare",
    "Loop length in bars",
    "Loop start",
    "Note repeat 1/16",
    "Pattern actions",
    "Keys",
  ])
    expect([...seen]).toContain(name);
  // A focused button answers Space itself; the transport stays where it is.
  await page.getByRole("button", { name: "Click", exact: true }).focus();
  await page.keyboard.press("Space");
  await expect(page.getByRole("button", { name: "Click", exact: true })).toHaveAttribute("aria-pressed", "false");
  await expect(page.getByText("Stopped", { exact: true })).toBeVisible();
  // After a click with the mouse, Space is for the transport.
  await page.getByRole("button", { name: "Click", exact: true }).click();
  await page.keyboard.press("Space");
  await expect(page.getByText("Playing", { exact: true })).toBeVisible();
});

test("tempo is typed, nudged, turned and reset; one visit is one step of undo", async ({ page }) => {
  await newBeat(page);
  const tempo = page.getByRole("spinbutton", { name: "Tempo" });
  await tempo.fill("92.5");
  await tempo.press("Enter");
  await expect(tempo).toHaveAttribute("aria-valuenow", "92.5");
  await tempo.focus();
  await page.keyboard.press("ArrowUp");
  await page.keyboard.press("ArrowUp");
  await page.keyboard.press("Shift+ArrowDown");
  await expect(tempo).toHaveAttribute("aria-valuenow", "84.5");
  await tempo.hover();
  await page.mouse.wheel(0, -100);
  await expect(tempo).toHaveAttribute("aria-valuenow", "85.5");
  await page.getByRole("button", { name: "Undo" }).click();
  await expect(tempo).toHaveAttribute("aria-valuenow", "92.5");
  await tempo.fill("9999");
  await tempo.press("Enter");
  await expect(page.getByText("Tempo goes from 20 to 400 BPM; “9999” was not taken.")).toBeVisible();
  await expect(tempo).toHaveAttribute("aria-valuenow", "92.5");
  await tempo.dblclick();
  await expect(tempo).toHaveAttribute("aria-valuenow", "100");
});

test("the policy is kept: no script of another place, no eval but of WebAssembly, nothing reported", async ({
  page,
}) => {
  const complaints: string[] = [];
  page.on("console", (message) => message.type() === "error" && complaints.push(message.text()));
  page.on("pageerror", (error) => complaints.push(error.message));
  const foreign: string[] = [];
  page.on(
    "request",
    (request) => !/^(http:\/\/localhost|blob:|data:)/.test(request.url()) && foreign.push(request.url()),
  );
  const response = await page.goto("/");
  const policy = response!.headers()["content-security-policy"];
  expect(policy).toContain("script-src 'self' 'nonce-");
  expect(policy).not.toContain("'unsafe-eval'");
  await openBeat(page, "Lantern Room");
  await page.keyboard.press("z");
  expect(await page.evaluate(() => crossOriginIsolated)).toBe(true);
  // The audio thread, which has the page's policy, may compile its loops: these are a module's first eight bytes.
  const header = [0, 97, 115, 109, 1, 0, 0, 0];
  expect(await page.evaluate((bytes) => !!new WebAssembly.Module(Uint8Array.from(bytes)), header)).toBe(true);
  expect(complaints).toEqual([]);
  expect(foreign).toEqual([]);
});

test("at an address that is not secure the app says what is missing, and makes and shows beats", async ({
  baseURL,
}) => {
  const browser = await chromium.launch({
    ...CHROMIUM,
    args: [...CHROMIUM.args, "--host-resolver-rules=MAP harbour.test 127.0.0.1"],
  });
  try {
    const page = await browser.newPage();
    await page.goto(`http://harbour.test:${new URL(baseURL!).port}/`);
    await page.getByRole("button", { name: "New beat", exact: true }).click();
    await expect(page.getByText("This address is not secure")).toBeVisible();
    await expect(page.getByText("There is no sound.")).toBeVisible();
    await expect(page.getByRole("button", { name: "Record" })).toBeDisabled();
    await expect(page.getByLabel("Name of the beat")).toHaveValue("New beat");
  } finally {
    await browser.close();
  }
});
