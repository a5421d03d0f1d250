import { isNews } from "./meter-news";
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
  expect(isNews(SILENT, undefined)).toBe(true);
  expect(isNews(sounding, SILENT)).toBe(true);
  expect(isNews({ ...SILENT, peakRight: 0.1 }, SILENT)).toBe(true);
  expect(isNews(sounding, sounding)).toBe(true);
  expect(isNews(SILENT, sounding)).toBe(true);
});

test("more silence is none, unless loudness has changed or was measured anew", () => {
  expect(isNews({ ...SILENT, momentaryLufs: -Infinity }, SILENT)).toBe(false);
  expect(isNews({ ...SILENT, integratedLufs: -18.1 }, SILENT)).toBe(true);
  expect(isNews({ ...SILENT, since: 1 }, SILENT)).toBe(true);
});
