import { execFileSync } from "node:child_process";

/**
 * Features that Chromium is told to leave away. Playwright has a list of its own, which this one replaces, so it begins with that; the
 * last two would open pages of the browser's own beside each page.
 */
const WITHOUT_FEATURES = [
  "AvoidUnnecessaryBeforeUnloadCheckSync",
  "DestroyProfileOnBrowserClose",
  "HttpsUpgrades",
  "HttpsFirstBalancedModeAutoEnable",
  "LensOverlay",
  "MediaRouter",
  "PaintHolding",
  "ThirdPartyStoragePartitioning",
  "AvoidCorsURLLoaderRestartOnRedirect",
  "OptimizationHints",
  "NetworkTimeServiceQuerying",
  "AimEnabled",
  "PreconnectToSearch",
  "WebUIOmniboxPopup",
  "WebUIOmniboxAimPopup",
];

/** Options with which tests, measurements and screenshots start the system's Chromium, which asks nobody on the network for anything. */
export const CHROMIUM = {
  executablePath: execFileSync("which", ["chromium"], { encoding: "utf8" }).trim(),
  args: [
    "--no-sandbox",
    "--autoplay-policy=no-user-gesture-required",
    "--disable-background-networking",
    "--disable-component-update",
    `--disable-features=${WITHOUT_FEATURES.join(",")}`,
  ],
};
