import type { MeterReport } from "./protocol";

/** True where nothing at all left the app. */
export function isSilent({ peakLeft, peakRight }: MeterReport): boolean {
  return peakLeft === 0 && peakRight === 0;
}

/** Silence is said once, and again where something else was measured meanwhile: a page at rest is left alone. */
export function isWorthReporting(report: MeterReport, before: MeterReport | undefined): boolean {
  if (!before || !isSilent(report) || !isSilent(before)) return true;
  return report.integratedLufs !== before.integratedLufs || report.since !== before.since;
}
