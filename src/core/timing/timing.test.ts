import type { KitPart } from "../beat/beat";
import fc from "fast-check";
import type { Hit, Pass, Pattern } from "../beat/beat";
import { newBeat } from "../beat/new-beat";
import { LINE_GRID_NAMES, gridTicks, linesAround, type GridName } from "../time/grid";
import type { Meter } from "../time/meter";
import { barTicks } from "../time/meter";
import type { Ticks } from "../time/ticks";
import { warpTicks } from "../time/warp";
import { earlyLate } from "./early-late";
import { resolveTiming, sounding } from "./resolve-timing";
import { loopPlaces } from "./loop-hits";
import { quantize } from "./quantize";
import { swingWarp } from "./swing";
import { tapOffset } from "./tap-offset";

const FOUR: Meter = { beats: 4, unit: 4 };
const BAR = 3840 as Ticks;
const SIXTEENTHS = { grid: "1/16", strength: 1, reach: 1 } as const;
const at = (played: number, grid: GridName, strength = 1, reach = 1) => {
  const step = gridTicks(grid);
  return quantize(played as Ticks, step === undefined ? [] : [step], { strength, reach }, BAR).ticks;
};
const gridded = fc.constantFrom(...LINE_GRID_NAMES);
const played = fc.integer({ min: -119 * 64, max: 7679 * 64 }).map((value) => value / 64);

describe("quantize, by the definitions of docs/architecture.md", () => {
  test.each([
    [0, "1/16", 1, 1, 0],
    [119, "1/16", 1, 1, 0],
    [120, "1/16", 1, 1, 240], // half way goes to the later line
    [121, "1/16", 1, 1, 240],
    [-119, "1/16", 1, 1, 0],
    [-120, "1/16", 1, 1, 0],
    [250, "1/16", 0.5, 1, 245],
    [250, "1/16", 0, 1, 250],
    [300, "1/16", 1, 0.5, 240], // exactly at the reach is reached
    [301, "1/16", 1, 0.5, 301],
    [250, "1/16", 1, 0, 250],
    [240, "1/16", 1, 0, 240],
    [500, "1/8T", 1, 1, 640],
    [479.9, "1/8T", 1, 1, 320],
    [333.25, "off", 1, 1, 333.25],
  ] as const)("%d on %s, strength %d, reach %d sounds at %d", (position, grid, strength, reach, expected) => {
    expect(at(position, grid, strength, reach)).toBe(expected);
  });

  test("strength 0 is the identity", () =>
    fc.assert(fc.property(played, gridded, (position, grid) => expect(at(position, grid, 0)).toBe(position))));

  test("full strength and reach leave no hit off a line, and none further than half a gap", () =>
    fc.assert(
      fc.property(played, gridded, (position, grid) => {
        const ticks = at(position, grid);
        const { before, after } = linesAround(position as Ticks, gridTicks(grid)!, BAR);
        expect([before, after]).toContain(ticks);
        expect(Math.abs(ticks - position)).toBeLessThanOrEqual((after - before) / 2);
      }),
    ));

  test("it keeps order", () =>
    fc.assert(
      fc.property(played, played, gridded, fc.double({ min: 0, max: 1, noNaN: true }), (a, b, grid, strength) => {
        const [early, late] = [Math.min(a, b), Math.max(a, b)];
        expect(at(early, grid, strength)).toBeLessThanOrEqual(at(late, grid, strength) + 1e-9);
      }),
    ));
});

function patternOf(passes: readonly (Partial<Pass> & { hits: readonly Hit[] })[], bars = 2): Pattern {
  return {
    id: 1,
    name: "P",
    bars,
    passes: passes.map((pass, index) => ({
      id: 100 + index,
      name: "Pass",
      muted: false,
      quantize: { grid: "1/16", strength: 1, reach: 1 },
      ...pass,
    })),
  };
}
let nextId = 1000;
const hit = (pad: number, playedTicks: number, velocity = 90): Hit => ({
  id: nextId++,
  lane: pad,
  played: { ticks: playedTicks as Ticks, velocity },
  lengthTicks: 60 as Ticks,
});

describe("heard", () => {
  test("an early downbeat sounds on line 0, or ahead of it where nothing corrects it", () => {
    expect(resolveTiming(patternOf([{ hits: [hit(0, -30)] }]), FOUR)[0]!.ticks).toBe(0);
    const off = { quantize: { grid: "off", strength: 1, reach: 1 } as const, hits: [hit(0, -30)] };
    expect(resolveTiming(patternOf([off]), FOUR)[0]!.ticks).toBe(-30);
  });

  test("of two hits of one pad on one line the louder sounds, whichever came first; other pads are left alone", () => {
    const marks = resolveTiming(
      patternOf([{ hits: [hit(0, 10, 50), hit(0, -5, 80), hit(1, 3, 20)] }, { hits: [hit(0, 20, 79)] }]),
      FOUR,
    );
    expect(marks.map(({ duplicateOnLine }) => duplicateOnLine)).toEqual([true, false, false, true]);
  });

  test("a hit at the end that is pulled to the next lap's first line covers and is covered there", () => {
    const late = { quantize: { grid: "1/4", strength: 1, reach: 1 } as const, hits: [hit(0, 7400, 60)] };
    const marks = resolveTiming(patternOf([{ hits: [hit(0, 4, 90)] }, late]), FOUR);
    expect(marks.map(({ ticks, duplicateOnLine }) => [ticks, duplicateOnLine])).toEqual([
      [0, false],
      [0, true],
    ]);
  });

  test("hits beyond a shortened loop are silent and come back with its length", () => {
    const hits = [hit(0, 0), hit(0, 5000)];
    expect(resolveTiming(patternOf([{ hits }], 1), FOUR)).toHaveLength(1);
    expect(resolveTiming(patternOf([{ hits }], 2), FOUR)).toHaveLength(2);
  });

  test("muted passes, muted pads and solo decide what sounds", () => {
    const part = newBeat({ id: "b", name: "B" }).parts[0] as KitPart;
    const pattern = patternOf([{ hits: [hit(0, 0), hit(1, 960)] }, { muted: true, hits: [hit(2, 0)] }]);
    const pads = (change: (id: number) => object) => ({
      ...part,
      pads: part.pads.map((pad) => ({ ...pad, ...change(pad.id) })),
    });
    const heardPads = (changed: typeof part) => sounding(changed, pattern, FOUR).map((mark) => mark.hit.lane);
    expect(heardPads(part)).toEqual([0, 1]);
    expect(heardPads(pads((id) => ({ muted: id === 0 })))).toEqual([1]);
    expect(heardPads(pads((id) => ({ soloed: id === 0, muted: id === 0 })))).toEqual([0]);
  });

  test("played times are never changed, nothing is lost, and it depends on nothing but its input", () =>
    fc.assert(
      fc.property(
        fc.array(fc.tuple(fc.integer({ min: 0, max: 15 }), played, fc.integer({ min: 1, max: 127 })), {
          maxLength: 60,
        }),
        gridded,
        (strokes, grid) => {
          const pattern = patternOf([
            {
              quantize: { grid, strength: 1, reach: 1 },
              hits: strokes.map(([pad, ticks, velocity]) => hit(pad, ticks, velocity)),
            },
          ]);
          const marks = resolveTiming(pattern, FOUR);
          expect(marks.map((mark) => mark.hit)).toEqual(pattern.passes[0]!.hits);
          expect(resolveTiming(structuredClone(pattern), FOUR)).toEqual(marks);
          // Every line and pad that was hit sounds exactly once.
          const places = marks
            .filter(({ duplicateOnLine }) => !duplicateOnLine)
            .map((mark) => `${mark.hit.lane} ${(mark.ticks + 7680) % 7680}`);
          expect(new Set(places).size).toBe(places.length);
          expect(new Set(marks.map((mark) => `${mark.hit.lane} ${(mark.ticks + 7680) % 7680}`)).size).toBe(
            places.length,
          );
        },
      ),
    ));
});

test("of two hits on one line the one sounds that is louder now, not the one that was struck harder", () => {
  const kept = (ticks: number, velocity: number) => ({
    start: { ticks: ticks as Ticks, velocity, by: "keep" as const },
  });
  const pattern = patternOf([
    {
      hits: [
        { ...hit(0, 5, 50), ...kept(5, 120) },
        { ...hit(0, 9, 100), ...kept(9, 60) },
      ],
    },
  ]);
  expect(resolveTiming(pattern, FOUR).map(({ velocity, duplicateOnLine }) => [velocity, duplicateOnLine])).toEqual([
    [120, false],
    [60, true],
  ]);
});

test("of two hits on one line that are equally loud the one that was there first sounds", () =>
  expect(
    resolveTiming(patternOf([{ hits: [hit(0, 5)] }, { hits: [hit(0, -5)] }]), FOUR).map(
      ({ duplicateOnLine }) => duplicateOnLine,
    ),
  ).toEqual([false, true]));

test("an adaptive mix goes by squares: one hit far off weighs more than several that are a little off", () => {
  const quantize = { ...SIXTEENTHS, grid: "1/8" as const, mix: ["1/8T" as const], adaptive: true as const };
  // From eighths 220, 0 and 60 ticks, from triplets 60, 160 and 100: the sums say eighths, the sums of squares triplets.
  const one = { hits: [hit(0, 420), hit(1, 480), hit(2, 700)], quantize };
  expect(resolveTiming(patternOf([one]), FOUR).map(({ line }) => line)).toEqual([320, 640, 640]);
});

test("early and late are means per line, in the played times, around the loop's edge too", () => {
  const feel = earlyLate(patternOf([{ hits: [hit(0, -20), hit(1, 10), hit(0, 250), hit(0, 7670)] }]), FOUR, SIXTEENTHS);
  expect(feel).toEqual([
    { line: 0, meanTicks: (-20 + 10 - 10) / 3, hits: 3 },
    { line: 240, meanTicks: 10, hits: 1 },
  ]);
  expect(earlyLate(patternOf([{ hits: [hit(0, 3)] }]), FOUR, { ...SIXTEENTHS, grid: "off" })).toEqual([]);
  // What is not heard says nothing: double triggers, muted passes, and all beside one that is soloed.
  const silent = patternOf([{ hits: [hit(0, 20), { ...hit(0, 50), masked: true }] }, { hits: [hit(0, 90)] }]);
  const [first, second] = [silent.passes[0]!, silent.passes[1]!];
  const loud = { ...silent, passes: [{ ...first, soloed: true as const }, second] };
  const other = { ...silent, passes: [first, { ...second, muted: true }] };
  for (const pattern of [loud, other])
    expect(earlyLate(pattern, FOUR, SIXTEENTHS)).toEqual([{ line: 0, meanTicks: 20, hits: 1 }]);
  expect(barTicks(FOUR)).toBe(BAR);
});

describe("swing, by the definitions of docs/architecture.md", () => {
  test("66 2/3 % on eighths equals triplet lines to the tick", () => {
    const warp = swingWarp({ ratio: 2 / 3, unit: "1/8" }, FOUR)!;
    for (let pair = 0; pair < 8; pair++) {
      expect(warpTicks(warp, (pair * 960 + 480) as Ticks)).toBeCloseTo(pair * 960 + 640, 9);
      expect(warpTicks(warp, (pair * 960) as Ticks)).toBe(pair * 960);
    }
  });

  test("keeps order and every pair's start, is the identity at 50 %, and leaves the odd eighth of 7/8 alone", () => {
    expect(swingWarp({ ratio: 0.5, unit: "1/16" }, FOUR)).toBeUndefined();
    const seven = swingWarp({ ratio: 0.75, unit: "1/8" }, { beats: 7, unit: 8 })!;
    expect([480, 1440, 2880, 3120].map((ticks) => warpTicks(seven, ticks as Ticks))).toEqual([720, 1680, 2880, 3120]);
    fc.assert(
      fc.property(
        fc.double({ min: 0.5, max: 0.75, noNaN: true }),
        fc.double({ min: -4000, max: 9000, noNaN: true }),
        fc.double({ min: 0, max: 500, noNaN: true }),
        (ratio, ticks, more) => {
          const warp = swingWarp({ ratio, unit: "1/16" }, FOUR);
          const [before, after] = [ticks, ticks + more].map((at) => warpTicks(warp, at as Ticks));
          expect(after).toBeGreaterThanOrEqual(before! - 1e-9);
          const pair = Math.floor(ticks / 480) * 480;
          expect(before).toBeGreaterThanOrEqual(pair - 1e-6);
          expect(before).toBeLessThanOrEqual(pair + 480 + 1e-6);
        },
      ),
    );
  });

  test("a pattern swings what it has, after the correction", () => {
    const straight = patternOf([{ hits: [hit(0, 250), hit(1, 10)] }]);
    const swung = { ...straight, swing: { ratio: 2 / 3, unit: "1/16" } as const };
    expect(resolveTiming(swung, FOUR).map(({ ticks }) => ticks)).toEqual([320, 0]);
  });
});

describe("a region of a pattern", () => {
  const span = { startTicks: 3840 as Ticks, lengthTicks: 1920 as Ticks };
  const inRegion = (played: readonly number[], grid: GridName, strength = 1) => {
    const hits = played.map((ticks, pad) => hit(pad, ticks));
    const pattern = patternOf([{ quantize: { grid, strength, reach: 1 }, hits }]);
    const places = resolveTiming(pattern, FOUR).map(loopPlaces(pattern, FOUR, span, "1/16"));
    return places.filter((ticks) => ticks !== undefined);
  };

  test.each([
    ["a hit goes with its line", [3800, 5750, 3700, 4000], "1/16", 1, [0, 240]],
    ["also when it is only pulled half way", [3800], "1/16", 0.5, [-20]],
    ["without lines half a step ahead belongs to it", [3800, 5750, 3700], "off", 1, [-40]],
  ] as const)("%s", (_, played, grid, strength, expected) =>
    expect(inRegion(played, grid, strength)).toEqual(expected),
  );
});

describe("taps along to a click", () => {
  test("the median without the slips, and none for too few", () => {
    const taps = [31, 29, 30, 32, 28, 30, 31, 29, 30, 250, -260];
    expect(tapOffset(taps)).toMatchObject({ medianMs: 30, used: 9, all: 11 });
    expect(tapOffset(taps.slice(0, 7))).toBeUndefined();
  });
});
