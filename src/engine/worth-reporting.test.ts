import { isWorthReporting } from "./worth-reporting";
import type { MeterReport } from "./protocol";

const SILENT: MeterReport = {
  peakLeft: 0,
  peakRight: 0,
  parts: [{ partId: 1, peak: 0, lanes: [] }],
  limited: false,
  overDb: 0,
  momentaryLufs: -30,
  integratedLufs: -18,
  since: 0,
};

test("what sounds is news, on either side, and so is the silence after it", () => {
  const sounding = { ...SILENT, peakLeft: 0.1 };
  expect(isWorthReporting(SILENT, undefined)).toBe(true);
  expect(isWorthReporting(sounding, SILENT)).toBe(true);
  expect(isWorthReporting({ ...SILENT, peakRight: 0.1 }, SILENT)).toBe(true);
  expect(isWorthReporting(sounding, sounding)).toBe(true);
  expect(isWorthReporting(SILENT, sounding)).toBe(true);
});

test("more silence is none, unless loudness has changed or was measured anew", () => {
  expect(isWorthReporting({ ...SILENT, momentaryLufs: -Infinity }, SILENT)).toBe(false);
  expect(isWorthReporting({ ...SILENT, integratedLufs: -18.1 }, SILENT)).toBe(true);
  expect(isWorthReporting({ ...SILENT, since: 1 }, SILENT)).toBe(true);
});
