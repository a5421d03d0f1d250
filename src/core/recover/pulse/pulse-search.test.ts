import { BPM, searchPulses } from "./pulse-search";

const every = (seconds: number, count: number) => Array.from({ length: count }, (_, at) => at * seconds);

test("pulses are tried from the lowest to the highest tempo, in every feel, and no other", () => {
  const range = { low: 60, high: 180 };
  const found = searchPulses(every(0.25, 40), range, ({ grid }) => grid, 1000);
  for (const { quarterSeconds } of found) {
    expect(60 / quarterSeconds).toBeGreaterThan(range.low / 1.02);
    expect(60 / quarterSeconds).toBeLessThan(range.high * 1.02);
  }
  const feels = (bpm: number) =>
    found
      .filter(({ quarterSeconds }) => Math.abs(60 / quarterSeconds / bpm - 1) < 0.004)
      .map(({ playedPerQuarter }) => playedPerQuarter)
      .sort();
  // Strokes every quarter of a second are eighths at 120, triplets at 80, sixteenths at 60.
  expect(feels(120)).toContain(2);
  expect(feels(80)).toContain(3);
  expect(feels(60)).toContain(4);
  // Two of one tempo and feel are one.
  for (const one of found)
    expect(
      found.filter(
        (other) =>
          other.playedPerQuarter === one.playedPerQuarter &&
          Math.abs(other.quarterSeconds / one.quarterSeconds - 1) < 0.008,
      ),
    ).toHaveLength(1);
});

test("the best come first, as many as are wanted, by the rank that is asked for", () => {
  const slow = searchPulses(every(0.25, 32), { low: 60, high: 180 }, ({ quarterSeconds }) => quarterSeconds, 5);
  expect(slow).toHaveLength(5);
  expect(slow[0]!.quarterSeconds).toBeGreaterThan(0.95);
  const fast = searchPulses(every(0.25, 32), { low: 60, high: 180 }, ({ quarterSeconds }) => -quarterSeconds, 5);
  expect(fast[0]!.quarterSeconds).toBeLessThan(0.36);
});

test("eighths are laid out in sixteenths, so that a bar line may be one away; others in their own steps", () => {
  const found = searchPulses(every(0.25, 24), { low: 118, high: 122 }, ({ grid }) => grid, 50);
  const eighths = found.find(({ playedPerQuarter }) => playedPerQuarter === 2)!;
  expect(eighths.perQuarter).toBe(4);
  expect(eighths.alignment.steps.every((step) => step % 2 === 0)).toBe(true);
  expect(eighths.quarterSeconds).toBeCloseTo(0.5, 6);
  for (const { perQuarter, playedPerQuarter } of found)
    if (playedPerQuarter !== 2) expect(perQuarter).toBe(playedPerQuarter);
  expect(BPM.low).toBeLessThan(BPM.high);
});
