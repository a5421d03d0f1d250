import type { MeterReport } from "@/engine/protocol";
import { LevelMeters } from "./level-meters";

const report = (peak: number, integratedLufs = -Infinity): MeterReport => ({
  peakLeft: peak,
  peakRight: peak,
  parts: [{ partId: 1, peak, lanes: [] }],
  limited: false,
  overDb: 0,
  momentaryLufs: -20,
  integratedLufs,
  since: 0,
});

test("in silence nothing is left of what sounded but what was measured", () => {
  const meters = new LevelMeters();
  const told: number[] = [];
  meters.onChange(() => told.push(meters.latest.peakLeft));
  for (const peak of [0.5, 0]) meters.take(report(peak, -18));
  expect(told).toEqual([0.5, 0]);
  expect(meters.latest).toMatchObject({ parts: [], momentaryLufs: -Infinity, integratedLufs: -18 });
});
