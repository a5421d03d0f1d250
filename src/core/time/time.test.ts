import fc from "fast-check";
import { CoreError } from "../core-error";
import { seededRandom } from "../random";
import { pulsesIn, readDial } from "./dial-reading";
import { earlyReachTicks, GRID_NAMES, GRID_TICKS, gridLines, gridTicks, linesAround, parseGrid } from "./grid";
import { toLap } from "./lap";
import { nextLoopLine, patternTicksAt } from "./loop-span";
import {
  accentAt,
  barTicks,
  beatTicks,
  groupsOf,
  meter,
  OFFERED_METERS,
  parseGroups,
  pulseTicks,
  sameMeter,
} from "./meter";
import { formatPosition, fromPosition, toPosition } from "./position";
import { addTap, readTaps } from "./tap-tempo";
import { pageOf, panned, viewRange, zoomed, zoomStep } from "./zoom";
import { clampTempo, framesPerTick, secondsToTicks, ticksToFrames, ticksToSeconds } from "./tempo";
import type { Seconds, Ticks } from "./ticks";
import { wrap } from "./ticks";
import { anchorFrameAt, anchorTicksAt } from "./transport-anchor";

const anyMeter = fc.record({
  beats: fc.integer({ min: 1, max: 15 }),
  unit: fc.constantFrom(2 as const, 4 as const, 8 as const, 16 as const),
});
const anyTicks = fc.integer({ min: -50_000 * 64, max: 500_000 * 64 }).map((value) => value / 64);

describe("meter", () => {
  // Music theory's simple and compound meters.
  test.each([
    [4, 4, 3840, 960],
    [3, 4, 2880, 960],
    [7, 8, 3360, 480],
    [6, 8, 2880, 1440],
    [12, 8, 5760, 1440],
    [5, 4, 4800, 960],
    [2, 2, 3840, 1920],
  ])("%d/%d has bars of %d and beats of %d ticks", (beats, unit, bar, pulse) => {
    expect(barTicks(meter(beats, unit))).toBe(bar);
    expect(pulseTicks(meter(beats, unit))).toBe(pulse);
  });

  test.each([
    [0, 4],
    [33, 4],
    [4, 3],
    [4.5, 4],
  ])("%d/%d is refused", (beats, unit) => expect(() => meter(beats, unit)).toThrow(/Meter .* is not supported/));
});

describe("tempo", () => {
  test("120 BPM is two quarters a second", () => {
    expect(ticksToSeconds(960 as Ticks, 120)).toBe(0.5);
    expect(ticksToFrames(960 as Ticks, 120, 48000)).toBe(24000);
    expect(framesPerTick(120, 48000)).toBe(25);
  });

  test("seconds and ticks are inverses", () =>
    fc.assert(
      fc.property(anyTicks, fc.double({ min: 20, max: 400, noNaN: true }), (ticks, bpm) => {
        expect(secondsToTicks(ticksToSeconds(ticks as Ticks, bpm), bpm)).toBeCloseTo(ticks, 6);
      }),
    ));

  test("a tempo stays in range and must be a number", () => {
    expect([clampTempo(1), clampTempo(1000), clampTempo(76.5)]).toEqual([20, 400, 76.5]);
    expect(() => clampTempo(Number.NaN)).toThrow(/must be a number/);
  });
});

describe("positions", () => {
  test("bar.beat.tick counts bars and beats from 1", () => {
    expect(formatPosition(0 as Ticks, { beats: 4, unit: 4 })).toBe("1.1.000");
    expect(formatPosition(4325 as Ticks, { beats: 4, unit: 4 })).toBe("2.1.485");
    expect(formatPosition(-10 as Ticks, { beats: 7, unit: 8 })).toBe("0.7.470");
  });

  test("positions and ticks are inverses in every meter", () =>
    fc.assert(
      fc.property(anyTicks, anyMeter, (ticks, meter) =>
        expect(fromPosition(toPosition(ticks as Ticks, meter), meter)).toBeCloseTo(ticks, 6),
      ),
    ));

  test("laps: a position is its lap and its place in it", () =>
    fc.assert(
      fc.property(anyTicks, fc.integer({ min: 1, max: 50_000 }), (ticks, length) => {
        const { lap, loopTicks } = toLap(ticks as Ticks, length as Ticks);
        expect(lap * length + loopTicks).toBeCloseTo(ticks, 6);
        expect(loopTicks).toBeGreaterThanOrEqual(0);
        expect(loopTicks).toBeLessThan(length);
      }),
    ));

  test("wrap is never negative and never minus zero", () => {
    expect([wrap(-10, 3840), wrap(3840, 3840), wrap(-3840, 3840), wrap(3850, 3840)]).toEqual([3830, 0, 0, 10]);
    expect(Object.is(wrap(-3840, 3840), 0)).toBe(true);
  });

  test("an anchor's frames and ticks are inverses", () =>
    fc.assert(
      fc.property(
        anyTicks,
        fc.double({ min: 20, max: 400, noNaN: true }),
        fc.integer({ min: 0, max: 1e9 }),
        (ticks, bpm, frame) => {
          const span = { startTicks: 0 as Ticks, lengthTicks: 7680 as Ticks };
          const anchor = { segment: 1, frame, ticks: -3840 as Ticks, bpm, partId: 1, patternId: 2, span };
          expect(anchorTicksAt(anchor, anchorFrameAt(anchor, ticks as Ticks, 48000), 48000)).toBeCloseTo(ticks, 3);
        },
      ),
    ));
});

describe("grid", () => {
  test("every named grid divides a whole note, and no two are the same", () => {
    const steps = Object.values(GRID_TICKS);
    // Dotted lines fit a bar of 12/8 or start anew in the next one.
    expect(Object.entries(GRID_TICKS).every(([name, step]) => (name.endsWith("D") ? 11520 : 3840) % step === 0)).toBe(
      true,
    );
    expect(new Set(steps).size).toBe(steps.length);
    expect(GRID_NAMES.map(parseGrid)).toEqual(GRID_NAMES);
    expect(gridTicks("off")).toBeUndefined();
    expect(() => parseGrid("1/5")).toThrow(/"1\/5" is no grid/);
  });

  test("quarters in 7/8 start anew at every bar, so the last gap is an eighth", () => {
    const bar = barTicks({ beats: 7, unit: 8 });
    expect(gridLines(960 as Ticks, bar, (2 * bar) as Ticks)).toEqual([0, 960, 1920, 2880, 3360, 4320, 5280, 6240]);
    expect(linesAround(3000 as Ticks, 960 as Ticks, bar)).toEqual({ before: 2880, after: 3360 });
    expect(earlyReachTicks("1/4", bar, bar)).toBe(240);
    expect(earlyReachTicks("1/16", bar, bar)).toBe(120);
  });

  test("a position lies between its two lines", () =>
    fc.assert(
      fc.property(anyTicks, fc.constantFrom(...Object.values(GRID_TICKS)), anyMeter, (position, step, meter) => {
        const { before, after } = linesAround(position as Ticks, step as Ticks, barTicks(meter));
        expect(before).toBeLessThanOrEqual(position);
        expect(after).toBeGreaterThan(position);
        expect(after - before).toBeLessThanOrEqual(step);
      }),
    ));

  test.each([0, -240, 1.5])("lines %d ticks apart are refused", (step) =>
    expect(() => linesAround(0 as Ticks, step as Ticks, 3840 as Ticks)).toThrow(/must be whole ticks/),
  );
});

describe("what of a pattern is looked at", () => {
  const FOUR = { beats: 4, unit: 4 } as const;
  const whole = viewRange(undefined, 7680 as Ticks);
  const part = (startTicks: number, shownTicks: number) => ({
    startTicks: startTicks as Ticks,
    shownTicks: shownTicks as Ticks,
    lengthTicks: 7680 as Ticks,
  });
  test("all of it without a zoom, and where it has become too short for one", () => {
    expect(whole).toEqual(part(0, 7680));
    const zoom = { startTicks: 3840 as Ticks, lengthTicks: 1920 as Ticks };
    expect(viewRange(zoom, 7680 as Ticks)).toEqual(part(3840, 1920));
    expect(viewRange(zoom, 5760 as Ticks)).toEqual({ startTicks: 3840, shownTicks: 1920, lengthTicks: 5760 });
    expect(viewRange(zoom, 5759 as Ticks)).toEqual({ startTicks: 0, shownTicks: 5759, lengthTicks: 5759 });
  });
  test.each([
    ["the place stays where it is", whole, 0.5, 1920, [960, 3840]],
    ["from the left edge on", whole, 0.5, 0, [0, 3840]],
    ["at the right edge too", whole, 0.25, 7680, [5760, 1920]],
    ["no further than a beat", part(960, 1920), 0.1, 1920, [1440, 960]],
    ["and back, within the pattern", part(5760, 1920), 2, 7680, [3840, 3840]],
    ["nearly all is all", part(0, 3840), 1.99, 0, undefined],
    ["not quite is not", part(0, 3840), 1.97, 0, [0, 7564.8]],
  ] as const)("%s", (_, from, factor, at, expected) => {
    const zoom = zoomed(from, factor, at as Ticks, FOUR);
    expect(zoom && [zoom.startTicks, Number(zoom.lengthTicks.toFixed(6))]).toEqual(expected);
  });
  test("it moves along, never past an end, and turns by pages", () => {
    expect(panned(whole, 1)).toBeUndefined();
    expect(panned(part(960, 1920), 0.5)).toEqual({ startTicks: 1920, lengthTicks: 1920 });
    expect(panned(part(960, 1920), -1)).toEqual({ startTicks: 0, lengthTicks: 1920 });
    expect(panned(part(5000, 1920), 1)).toEqual({ startTicks: 5760, lengthTicks: 1920 });
    expect(pageOf(part(0, 1920), 1919 as Ticks)).toEqual({ startTicks: 0, lengthTicks: 1920 });
    expect(pageOf(part(0, 1920), 1920 as Ticks)).toEqual({ startTicks: 1920, lengthTicks: 1920 });
    expect(pageOf(part(0, 5000), 7000 as Ticks)).toEqual({ startTicks: 2680, lengthTicks: 5000 });
  });
  test("steps go by two bars, a bar, two beats, a beat, and back", () => {
    const long = { startTicks: 0 as Ticks, shownTicks: 15_360 as Ticks, lengthTicks: 15_360 as Ticks };
    const stops = (closer: boolean, from: number) => {
      const seen = [from];
      for (let step = 0; step < 5; step++)
        seen.push(seen.at(-1)! * zoomStep({ ...long, shownTicks: seen.at(-1)! as Ticks }, closer, FOUR));
      return seen;
    };
    expect(stops(true, 15_360)).toEqual([15_360, 7680, 3840, 1920, 960, 960]);
    expect(stops(false, 960)).toEqual([960, 1920, 3840, 7680, 15_360, 15_360]);
    expect(zoomStep(part(0, 3000), true, FOUR) * 3000).toBeCloseTo(1920, 6);
    expect(zoomStep(part(0, 3000), false, FOUR) * 3000).toBeCloseTo(3840, 6);
    // A pattern of one bar has no stop of two.
    const short = { startTicks: 0 as Ticks, shownTicks: 1920 as Ticks, lengthTicks: 3840 as Ticks };
    expect(zoomStep(short, false, FOUR)).toBe(2);
  });
});

test("meters at the ends of their range, and groups that do not make a bar", () => {
  expect([meter(1, 4), meter(32, 16), meter(3, 8, [1, 2])]).toEqual([
    { beats: 1, unit: 4 },
    { beats: 32, unit: 16 },
    { beats: 3, unit: 8, groups: [1, 2] },
  ]);
  for (const [beats, unit, groups] of [
    [0, 4],
    [33, 4],
    [4.5, 4],
    [4, 3],
    [4, 4, [4, 0]],
    [4, 4, [1.5, 2.5]],
    [4, 4, [5, -1]],
    [4, 4, [2, 1]],
  ] as const)
    expect(() => meter(beats, unit, groups)).toThrow(expect.objectContaining({ code: "bad-meter" }));
  expect(sameMeter(meter(7, 8), meter(7, 8, [2, 2, 3]))).toBe(true);
  expect([sameMeter(meter(7, 8), meter(7, 8, [3, 2, 2])), sameMeter(meter(3, 4), meter(3, 8))]).toEqual([false, false]);
  // Threes of quarters are no compound meter, nor are three eighths alone.
  expect([pulseTicks(meter(6, 4)), pulseTicks(meter(3, 8)), pulseTicks(meter(6, 8, [2, 2, 2]))]).toEqual([
    960, 480, 480,
  ]);
});

test("a distance that is no whole tick above 0 is refused, and lines end with the loop", () => {
  for (const [step, bar] of [
    [0, 3840],
    [-1, 3840],
    [1.5, 3840],
    [240, 0],
    [240, -3840],
    [240, 0.5],
  ])
    expect(() => linesAround(0 as Ticks, step as Ticks, bar as Ticks)).toThrow(
      expect.objectContaining({ code: "bad-grid" }),
    );
  expect(gridLines(1920 as Ticks, 3360 as Ticks, 5000 as Ticks)).toEqual([0, 1920, 3360]);
  expect(gridLines(960 as Ticks, 3840 as Ticks, 1920 as Ticks)).toEqual([0, 960]);
  expect([gridTicks("off"), gridTicks("groove"), gridTicks("1/8")]).toEqual([undefined, undefined, 480]);
});

test("the dial counts down to the first downbeat and then laps, bars and beats", () => {
  const read = (ticks: number) => readDial(ticks as Ticks, 7680 as Ticks, { beats: 4, unit: 4 });
  expect(read(-3840)).toMatchObject({ countingIn: true, beatsLeft: 4, lap: 0, beat: 1 });
  expect(read(-1)).toMatchObject({ countingIn: true, beatsLeft: 1, beat: 4 });
  expect(read(0)).toMatchObject({ countingIn: false, lap: 1, bar: 1, beat: 1, share: 0 });
  expect(read(7680 + 3840 + 960)).toMatchObject({ lap: 2, bar: 2, beat: 2, share: 0.625 });
  expect(pulsesIn(7680 as Ticks, { beats: 4, unit: 4 })).toBe(8);
  expect(ticksToSeconds(secondsToTicks(1 as Seconds, 90), 90)).toBeCloseTo(1, 12);
});

describe("meters and their groups", () => {
  test.each([
    ["2/4", 2, 4, "bar beat"],
    ["4/4", 4, 4, "bar beat beat beat"],
    ["6/8 is two beats of three", 6, 8, "bar between between beat between between"],
    ["7/8 is 2+2+3", 7, 8, "bar beat group beat group beat beat"],
    ["5/8 is 2+3", 5, 8, "bar beat group beat beat"],
    ["3/8", 3, 8, "bar beat beat"],
  ])("%s (common practice, no source)", (_, beats, unit, expected) => {
    const of = meter(beats, unit);
    const accents = Array.from({ length: beats }, (_, beat) => accentAt((beat * beatTicks(of)) as Ticks, of));
    expect(accents.join(" ")).toBe(expected);
  });

  test("a grouping of one's own moves the accents, and threes make pulses of a compound meter again", () => {
    const of = parseGroups("3+2+2", meter(7, 8));
    expect([0, 3, 5].map((beat) => accentAt((beat * 480) as Ticks, of))).toEqual(["bar", "group", "group"]);
    expect(pulseTicks(parseGroups("2+2+2+3", meter(9, 8)))).toBe(480);
    expect(pulseTicks(parseGroups("3+3+3", meter(9, 8)))).toBe(1440);
    expect(() => parseGroups("2+2", meter(7, 8))).toThrow("The groups 2+2 don't make 7 beats of 7/8.");
    expect(() => parseGroups("3+x", meter(7, 8))).toThrow(CoreError);
  });

  test("the groups of every meter that is offered fill its bar", () => {
    for (const offered of OFFERED_METERS)
      expect(groupsOf(offered).reduce((sum, group) => sum + group, 0)).toBe(offered.beats);
    expect(OFFERED_METERS).toHaveLength(19);
  });
});

describe("lines of a running loop", () => {
  test("at or after the position, on the pattern's grid, at every lap anew, never two laps ahead", () =>
    fc.assert(
      fc.property(
        fc.integer({ min: -8000 * 64, max: 40_000 * 64 }).map((value) => value / 64),
        fc.constantFrom(...Object.values(GRID_TICKS).filter((step) => step <= 960)),
        fc.integer({ min: 0, max: 7 }),
        fc.integer({ min: 1, max: 8 }),
        (position, step, startBeat, beats) => {
          const span = { startTicks: (startBeat * 960) as Ticks, lengthTicks: (beats * 960) as Ticks };
          const line = nextLoopLine(position as Ticks, step as Ticks, 3840 as Ticks, span);
          expect(line).toBeGreaterThanOrEqual(position);
          const inPattern = patternTicksAt(line, span);
          const bar = ((inPattern % 3840) + 3840) % 3840;
          expect(line === 0 || bar % step === 0 || line % span.lengthTicks === 0).toBe(true);
          expect(line - position).toBeLessThanOrEqual(Math.max(step, span.lengthTicks));
        },
      ),
    ));
});

describe("tap tempo", () => {
  const tapAll = (times: readonly number[]) => times.reduce<readonly number[]>(addTap, []);
  test.each([
    ["steady taps", [0, 500, 1000, 1500], 120, 4],
    ["one beat left out", [0, 500, 1000, 2000, 2500, 3000], 120, 6],
    ["one slip", [0, 500, 1000, 1350, 2000, 2500, 3000, 3500], 120, 8],
    ["a pause begins a new row", [0, 300, 600, 5000, 6000, 7000], 60, 3],
  ])("%s", (_, times, bpm, taps) => {
    const read = readTaps(tapAll(times), 960)!;
    expect(read.bpm).toBeCloseTo(bpm, 1);
    expect(read.taps).toBe(taps);
  });
  test("sixteen taps count, an even number is halved, and what is out of order or too late begins anew", () => {
    const many = tapAll(Array.from({ length: 20 }, (_, tap) => 500 * tap));
    expect([many.length, many[0]]).toEqual([16, 2000]);
    expect(readTaps(many, 960)).toMatchObject({ taps: 16, lastTapMs: 9500 });
    // Intervals 400, 480, 520, 600: the middle is 500, and 400 and 600 lie within the slip.
    expect(readTaps([0, 400, 880, 1400, 2000], 960)!.bpm).toBeCloseTo(120, 6);
    // 22 % from the middle still counts, more does not.
    expect(readTaps([0, 500, 1000, 1610], 960)!.spreadBpm).toBeCloseTo((120 - 60_000 / 610) / 2, 6);
    expect(readTaps([0, 500, 1000, 1611], 960)!.spreadBpm).toBe(0);
    expect([addTap([0, 500], 500), addTap([0, 500], 400), addTap([], 7)]).toEqual([[500], [400], [7]]);
    // A single tap waits three seconds, a row two and a half of its intervals, and no longer than three seconds.
    expect([addTap([0], 3000), addTap([0], 3001)]).toEqual([[0, 3000], [3001]]);
    expect([addTap([0, 500], 1800), addTap([0, 500], 1801)]).toEqual([[0, 500, 1800], [1801]]);
    expect([addTap([0, 2000], 5000), addTap([0, 2000], 5001)]).toEqual([[0, 2000, 5000], [5001]]);
  });
  test("the spread shows how even the taps were; two are too few; a dotted beat counts one and a half", () => {
    expect(readTaps([0, 480, 1000, 1500], 960)!.spreadBpm).toBeCloseTo((60_000 / 480 - 60_000 / 520) / 2, 6);
    expect(readTaps([0, 500], 960)).toBeUndefined();
    expect(readTaps([0, 500, 1000], 1440)!.bpm).toBe(180);
  });
  test("steady taps of any tempo with a hand's spread are read within 3 %", () =>
    fc.assert(
      fc.property(fc.double({ min: 45, max: 240, noNaN: true }), fc.integer({ min: 0, max: 1e6 }), (bpm, seed) => {
        const random = seededRandom(seed);
        const taps = Array.from({ length: 12 }, (_, tap) => (tap * 60_000) / bpm + 8 * (random() - 0.5));
        expect(Math.abs(readTaps(tapAll(taps), 960)!.bpm / bpm - 1)).toBeLessThan(0.03);
      }),
    ));
});
