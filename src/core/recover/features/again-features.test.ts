import {
  AGAIN_BEFORE_FEATURES,
  AGAIN_LATER_FEATURES,
  againBeforeFeatures,
  againLaterFeatures,
  barCounts,
} from "./again-features";

const BAR = 8;

/** What is struck in steps of an eighth, as text: x is a stroke. */
function featuresOf(played: string, line: number, bars: number): Readonly<Record<string, number>> {
  const any = Float64Array.from(played, (step) => (step === "x" ? 1 : 0));
  const ends = { first: 0, last: played.lastIndexOf("x") };
  const counts = barCounts(any, BAR);
  const names = [...AGAIN_LATER_FEATURES, ...AGAIN_BEFORE_FEATURES];
  const features = [...againLaterFeatures(ends, line, counts), ...againBeforeFeatures(ends, line + bars * BAR, counts)];
  return Object.fromEntries(names.map((name, index) => [name, features[index]!]));
}

test("silence at the end says more where the bar before was played on", () => {
  expect(featuresOf("xxxxxxxxxxxx", 0, 2)).toMatchObject({
    "silence, though struck a bar before": 1,
    "silence, all struck a bar before": 0.5,
    "silence, also a bar before": 0,
  });
  expect(featuresOf("xxxx....xxxx", 0, 2)).toMatchObject({
    "silence, though struck a bar before": 0,
    "silence, also a bar before": 1,
  });
  expect(featuresOf("xxxxxxxxxxxx", 0, 1)).toMatchObject({
    "silence, though struck a bar before": 0,
    "silence, also a bar before": 0,
    "goes on as a bar before": 0.5,
  });
});

test("silence before the first stroke says more where the bar after is played", () => {
  expect(featuresOf("xxxxxxxxxxxxxx", -2, 2)).toMatchObject({
    "rest before, though struck a bar later": 0.5,
    "rest before, all struck a bar later": 0.25,
    "rest before, also a bar later": 0,
  });
  expect(featuresOf("xxxxxx..xxxxxx", -2, 2)).toMatchObject({
    "rest before, though struck a bar later": 0,
    "rest before, also a bar later": 1,
  });
});

test("a pick-up that does not come again is one, and what comes again is a bar that was begun late", () => {
  expect(featuresOf("xxx.x.x.x.x", 2, 1)["pick-up comes again a bar later"]).toBe(0);
  expect(featuresOf("xxx.x.x...x", 2, 1)["pick-up comes again a bar later"]).toBe(-0.5);
  expect(featuresOf("xxx.x.x.xxx", 2, 1)["pick-up comes again a bar later"]).toBe(0.5);
});
