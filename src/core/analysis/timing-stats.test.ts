import type { Hit, Pass, Pattern } from "../beat/beat";
import { defaultPads } from "../beat/new-beat";
import type { Meter } from "../time/meter";
import type { Bpm } from "../time/tempo";
import type { Ticks } from "../time/ticks";
import { spreadOf, spreadsBy, timingCsv, timingSamples } from "./timing-stats";

const FOUR: Meter = { beats: 4, unit: 4 };
/** At 62.5 BPM a tick is a millisecond. */
const BPM = 62.5 as Bpm;
const SIXTEENTHS = { grid: "1/16", strength: 1, reach: 1 } as const;

let id = 100;
const hit = (pad: number, playedTicks: number, more: Partial<Hit> = {}): Hit => ({
  id: id++,
  lane: pad,
  played: { ticks: playedTicks as Ticks, velocity: 80 },
  lengthTicks: 60 as Ticks,
  ...more,
});
const pass = (passId: number, name: string, hits: readonly Hit[]): Pass => ({
  id: passId,
  name,
  muted: false,
  quantize: SIXTEENTHS,
  hits,
});
const patternOf = (...passes: Pass[]): Pattern => ({ id: 1, name: "P", bars: 1, passes });
const samplesOf = (pattern: Pattern, ...more: [] | [{ ratio: number; unit: "1/16" }]) =>
  timingSamples(pattern, FOUR, BPM, SIXTEENTHS, ...more);

test("late in ms against the nearest line, the loop's edge included; masked hits and those beyond the end left out", () => {
  const samples = samplesOf(
    patternOf(
      pass(2, "A", [hit(0, -10), hit(0, 3835), hit(1, 965, { lap: 2 }), hit(1, 970, { masked: true }), hit(1, 5000)]),
    ),
  );
  expect(samples.map(({ lateMs, line, beat, lap }) => [Math.round(lateMs), line, beat, lap])).toEqual([
    [-10, 0, 0, undefined],
    [-5, 0, 0, undefined],
    [5, 960, 1, 2],
  ]);
});

test("by the swing that was played, late is late for that swing; a hit that was played over one is measured there", () => {
  const swung = patternOf(pass(2, "A", [hit(0, 320 + 8)]));
  expect(samplesOf(swung, { ratio: 2 / 3, unit: "1/16" })[0]!.lateMs).toBeCloseTo(8, 9);
  const over = {
    ...patternOf(
      pass(2, "A", [hit(0, 328, { played: { ticks: 328 as Ticks, straightTicks: 252 as Ticks, velocity: 80 } })]),
    ),
  };
  const withSwing = { ...over, swing: { ratio: 2 / 3, unit: "1/16" } as const };
  expect(samplesOf(withSwing)[0]).toMatchObject({ line: 240 });
  expect(samplesOf(withSwing)[0]!.lateMs).toBeCloseTo(8, 9);
});

test("mean and spread, worked out by hand: 2, 4, 4, 4, 5, 5, 7, 9 have the mean 5 and the standard deviation 2", () => {
  const late = [2, 4, 4, 4, 5, 5, 7, 9];
  const samples = samplesOf(
    patternOf(
      pass(
        2,
        "A",
        late.map((ms, line) => hit(0, line * 240 + ms)),
      ),
    ),
  );
  expect(spreadOf(samples)).toMatchObject({ hits: 8, meanMs: 5, spreadMs: 2, meanVelocity: 80 });
  expect(spreadOf([])).toBeUndefined();
  expect(spreadsBy(samples, ({ beat }) => (beat === 1 ? undefined : beat)).map(({ key, hits }) => [key, hits])).toEqual(
    [[0, 4]],
  );
});

test("as CSV: a line a hit, names quoted where they must be, and none that a spreadsheet takes for a formula", () => {
  const pattern = patternOf(pass(2, '=1+1, "odd"', [hit(0, 245, { lap: 0 })]));
  expect(timingCsv(samplesOf(pattern), pattern, defaultPads())).toBe(
    `hit,pass,pad,lap,beat,line (ticks),late (ms),velocity\r\n${id - 1},"'=1+1, ""odd""",Kick,1,1,240,5.00,80\r\n`,
  );
});
