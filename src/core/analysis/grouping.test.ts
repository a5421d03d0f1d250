import type { Ticks } from "../time/ticks";
import { joiningNeighbours, readableGrouping } from "./grouping";
import type { TimingSample } from "./timing-stats";

const played = (lap: number | undefined): TimingSample => ({
  ...{ hitId: 1, passId: 1, pad: 0, line: 0 as Ticks, beat: 0, lateMs: 0, velocity: 90 },
  lap,
});
const laps = (count: number) => Array.from({ length: count }, (_, lap) => played(lap));
const byLap = joiningNeighbours({ keyOf: ({ lap }) => lap, labelOf: (lap) => `${lap + 1}` });
const labelsOf = (samples: readonly TimingSample[]) => {
  const { keyOf, labelOf } = readableGrouping(samples, byLap);
  return [...new Set(samples.map(keyOf))].map((key) => (key === undefined ? undefined : labelOf(key)));
};

test("up to 32 groups stay as they are; of more, neighbours are put together", () => {
  expect(labelsOf(laps(32))).toHaveLength(32);
  expect(labelsOf(laps(32))[4]).toBe("5");
  expect(labelsOf(laps(100)).slice(0, 2)).toEqual(["1–4", "5–8"]);
  expect(labelsOf([...laps(2), played(undefined)])).toEqual(["1", "2", undefined]);
});

test("where nothing leaves few enough, the coarsest grouping is taken", () => {
  const lines = { keyOf: ({ lap }: TimingSample) => lap, labelOf: String };
  const beats = { keyOf: ({ lap }: TimingSample) => lap! >> 1, labelOf: String };
  expect(readableGrouping(laps(100), [lines, beats])).toBe(beats);
});
