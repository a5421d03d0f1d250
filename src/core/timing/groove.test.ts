import fc from "fast-check";
import { sampleCorrelation } from "simple-statistics";
import type { Hit, Pattern, QuantizeSettings } from "../beat/beat";
import { GROOVE_GRIDS, type Feel, type Groove } from "../beat/feel";
import { addHits, addPass, setFeel } from "../beat/edit";
import { firstPlace, newBeat } from "../beat/new-beat";
import { beatToMidi } from "../formats/midi/beat-to-midi";
import { readSmf } from "../formats/midi/smf-read";
import { normal, seededRandom } from "../random";
import { GRID_TICKS, type LineGridName } from "../time/grid";
import type { Meter } from "../time/meter";
import { barTicks } from "../time/meter";
import type { Ticks } from "../time/ticks";
import { unwarpTicks, warpTicks } from "../time/warp";
import { BUILT_IN_GROOVES } from "./built-in-grooves";
import { extractGroove, type TimedStroke } from "./extract-groove";
import { feelWarp } from "./feel-warp";
import { linesPerBar } from "./groove-lines";
import { resolveTiming } from "./resolve-timing";

const FOUR: Meter = { beats: 4, unit: 4 };
const BAR = 3840 as Ticks;
const SIXTEENTHS: QuantizeSettings = { grid: "1/16", strength: 1, reach: 1 };

const anyGroove: fc.Arbitrary<Groove> = fc
  .record({ grid: fc.constantFrom(...GROOVE_GRIDS), bars: fc.constantFrom(1 as const, 2 as const) })
  .chain(({ grid, bars }) => {
    const lines = bars * linesPerBar({ grid, barTicks: BAR });
    return fc
      .array(
        fc.record({
          offsetTicks: fc.integer({ min: -60, max: 60 }),
          velocity: fc.double({ min: 0.5, max: 1.5, noNaN: true }),
        }),
        { minLength: lines, maxLength: lines },
      )
      .map((all) => ({ name: "Any", description: "", grid, bars, barTicks: BAR, lines: all }));
  });
const ratio = fc.double({ min: 0, max: 1, noNaN: true });
const anyFeel: fc.Arbitrary<Feel> = fc
  .record({ groove: anyGroove, timing: ratio, velocity: ratio, swing: fc.double({ min: 0.5, max: 0.75, noNaN: true }) })
  .map(({ groove, timing, velocity, swing }) => ({
    swing: { ratio: swing, unit: "1/16" },
    groove: { groove, timing, velocity },
  }));
const anyMeter = fc.constantFrom<Meter>(FOUR, { beats: 7, unit: 8 }, { beats: 3, unit: 4 }, { beats: 6, unit: 4 });
const position = fc.double({ min: -8000, max: 16000, noNaN: true });

const hit = (pad: number, playedTicks: number, velocity = 100, more: Partial<Hit> = {}): Hit => ({
  id: 1000 + pad * 1000 + Math.round(playedTicks),
  lane: pad,
  played: { ticks: playedTicks as Ticks, velocity },
  lengthTicks: 60 as Ticks,
  ...more,
});
const patternOf = (hits: readonly Hit[], quantize = SIXTEENTHS, feel: Feel = {}, bars = 2): Pattern => ({
  id: 1,
  name: "P",
  bars,
  ...feel,
  passes: [{ id: 2, name: "Pass", muted: false, quantize, hits }],
});
const heardTicks = (...args: Parameters<typeof patternOf>) =>
  resolveTiming(patternOf(...args), FOUR).map(({ ticks }) => ticks);

describe("mixed grids", () => {
  const mix = (...mixed: LineGridName[]): QuantizeSettings => ({ ...SIXTEENTHS, grid: mixed[0]!, mix: mixed.slice(1) });
  test.each([
    [300, 320], // a triplet line, nearer than the sixteenth
    [270, 240],
    [280, 320], // half way: the later one
    [470, 480],
    [700, 720],
    [670, 640],
  ])("a union takes the nearest line of both: %d goes to %d", (played, line) =>
    expect(heardTicks([hit(0, played)], mix("1/16", "1/8T"))).toEqual([line]),
  );
  test("reach is half the gap that a hit lies in, of the union", () => {
    const half = { ...mix("1/16", "1/8T"), reach: 0.5 };
    expect(heardTicks([hit(0, 261), hit(1, 259)], half)).toEqual([261, 240]);
  });
  test("an adaptive mix takes one grid a beat, the one that all hits of the beat fit best", () => {
    const straight = [0, 250, 470, 730].map((ticks) => hit(0, ticks));
    const triplets = [970, 1290, 1590].map((ticks) => hit(1, ticks));
    const stray = hit(2, 250 + 960);
    const adaptive = { ...mix("1/16", "1/8T"), adaptive: true as const };
    expect(heardTicks([...straight, ...triplets], adaptive)).toEqual([0, 240, 480, 720, 960, 1280, 1600]);
    // In a beat of triplets a stray goes to a triplet, too.
    expect(heardTicks([...triplets, stray], adaptive)).toEqual([960, 1280, 1600, 1280]);
  });
  test("swing leaves the lines alone that only triplets have", () => {
    const swing = { swing: { ratio: 0.6, unit: "1/8" } } as const;
    expect(heardTicks([hit(0, 320), hit(0, 480), hit(0, 640)], mix("1/8", "1/8T"), swing)).toEqual([320, 576, 640]);
    expect(heardTicks([hit(0, 320)], mix("1/8T"), swing)).toEqual([384]);
  });
  test("quintuplets, dotted lines and the lines of the groove", () => {
    const on = (grid: QuantizeSettings["grid"], ticks: number, feel: Feel = {}) =>
      heardTicks([hit(0, ticks)], { ...SIXTEENTHS, grid }, feel)[0];
    expect([on("1/16Q", 390), on("1/8D", 1500), on("1/16D", 700), on("1/2", 1000)]).toEqual([384, 1440, 720, 1920]);
    const rolling = BUILT_IN_GROOVES.find(({ name }) => name === "Rolling")!;
    expect(on("groove", 300)).toBe(240);
    expect(on("groove", 300, { groove: { groove: rolling, timing: 1, velocity: 0 } })).toBe(630);
    expect(on("groove", 300, { swing: { ratio: 2 / 3, unit: "1/8" } })).toBeCloseTo(640, 9);
  });
  test.each([
    [undefined, 100],
    ["played", 90],
    ["grid", 240],
    [30, 30],
  ] as const)("ends %s: the length is %d", (ends, length) => {
    const settings = { ...SIXTEENTHS, ...(ends !== undefined && { ends: ends as never }) };
    const marks = resolveTiming(patternOf([hit(0, 230, 100, { lengthTicks: 100 as Ticks })], settings), FOUR);
    expect(marks.map(({ lengthTicks }) => lengthTicks)).toEqual([length]);
  });
  test("a hit that is moved beyond its old end is as short as can be, never shorter than nothing", () => {
    const settings = { ...SIXTEENTHS, ends: "played" as const };
    const marks = resolveTiming(patternOf([hit(0, 130, 100, { lengthTicks: 60 as Ticks })], settings), FOUR);
    expect(marks.map(({ ticks, lengthTicks }) => [ticks, lengthTicks])).toEqual([[240, 1]]);
  });
});

describe("groove", () => {
  const two = (lines: readonly (readonly [number, number])[]): Groove => ({
    name: "G",
    description: "",
    grid: "1/8",
    bars: 1,
    barTicks: BAR,
    lines: Array.from({ length: 8 }, (_, index) => {
      const [offsetTicks, velocity] = lines[index % lines.length]!;
      return { offsetTicks, velocity };
    }),
  });
  const feel = (lines: readonly (readonly [number, number])[], timing = 1, velocity = 1): Feel => ({
    groove: { groove: two(lines), timing, velocity },
  });
  test.each([
    [0, 1, -20],
    [480, 1, 520],
    [240, 1, 250], // half way between two lines: half of both offsets
    [480, 0.5, 500],
    [480, 0, 480],
    [3600, 1, 3610], // between the last line and the next bar's first
  ])("at %d with %d of the timing a hit is heard at %d", (ticks, timing, expected) =>
    expect(
      warpTicks(
        feelWarp(
          feel(
            [
              [-20, 1],
              [40, 1],
            ],
            timing,
          ),
          FOUR,
        ),
        ticks as Ticks,
      ),
    ).toBeCloseTo(expected, 9),
  );
  test("velocities take the factor of their place, by as much as is set, and stay from 1 to 127", () => {
    const velocities = (amount: number, velocity = 100) =>
      resolveTiming(
        patternOf(
          [0, 480, 240].map((ticks) => hit(0, ticks, velocity)),
          SIXTEENTHS,
          feel(
            [
              [0, 1.2],
              [0, 0.6],
            ],
            1,
            amount,
          ),
        ),
        FOUR,
      ).map((mark) => mark.velocity);
    expect(velocities(1)).toEqual([120, 60, 90]);
    expect(velocities(0.5)).toEqual([110, 80, 95]);
    expect(velocities(0)).toEqual([100, 100, 100]);
    expect(velocities(1, 127)).toEqual([127, 76, 114]);
  });
  test("a downbeat that the groove pulls ahead sounds before the loop, where the lap before has it", () => {
    expect(
      heardTicks(
        [hit(0, 5)],
        SIXTEENTHS,
        feel([
          [-20, 1],
          [0, 1],
        ]),
      ),
    ).toEqual([-20]);
  });
  test("swing and groove are added at every line", () => {
    const both = {
      ...feel([
        [10, 1],
        [-10, 1],
      ]),
      swing: { ratio: 0.6, unit: "1/8" },
    } as const;
    expect(heardTicks([hit(0, 0), hit(0, 480)], SIXTEENTHS, both)).toEqual([10, 566]);
  });
  test("a pad takes its own share: hats swing, the kick does not", () => {
    const some = { swing: { ratio: 0.6, unit: "1/8" }, padAmounts: { 0: 0, 1: 0.5 } } as const;
    expect(heardTicks([hit(0, 480), hit(1, 480), hit(2, 480)], SIXTEENTHS, some)).toEqual([480, 528, 576]);
  });
  test("and its own share of the accents", () => {
    const lines = Array.from({ length: 8 }, () => ({ offsetTicks: 0, velocity: 1.5 }));
    const groove: Groove = { name: "Loud", description: "", grid: "1/8", bars: 1, barTicks: BAR, lines };
    const feel: Feel = { groove: { groove, timing: 1, velocity: 1 }, padAmounts: { 0: 0, 1: 0.5 } };
    const hits = [0, 1, 2].map((pad) => hit(pad, 480, 60));
    expect(resolveTiming(patternOf(hits, SIXTEENTHS, feel), FOUR).map(({ velocity }) => velocity)).toEqual([
      60, 75, 90,
    ]);
    const half: Feel = { groove: { groove, timing: 1, velocity: 0.5 } };
    expect(resolveTiming(patternOf(hits, SIXTEENTHS, half), FOUR).map(({ velocity }) => velocity)).toEqual([
      75, 75, 75,
    ]);
  });
  test("a hit's time and its velocity take chances of their own", () => {
    const hits = Array.from({ length: 256 }, (_, index) => hit(index % 4, (index % 60) * 120, 64, { id: index + 1 }));
    const loose = resolveTiming(
      patternOf(hits, { ...SIXTEENTHS, grid: "1/32" }, { looseness: { ticks: 20, velocity: 40, seed: 5 } }),
      FOUR,
    );
    const moves = loose.map(({ ticks, line }) => ticks - line!);
    const levels = loose.map(({ velocity }) => velocity - 64);
    expect(Math.abs(sampleCorrelation(moves, levels))).toBeLessThan(0.25);
  });
  test("chance stays within its limits, is the same for the same seed and another for another", () => {
    const hits = Array.from({ length: 64 }, (_, index) => hit(index % 4, index * 120, 64));
    const loose = (seed: number) =>
      resolveTiming(
        patternOf(hits, { ...SIXTEENTHS, grid: "1/32" }, { looseness: { ticks: 20, velocity: 10, seed } }),
        FOUR,
      );
    const moves = loose(7).map(({ ticks, line }) => ticks - line!);
    expect(Math.max(...moves.map(Math.abs))).toBeLessThanOrEqual(20);
    expect(Math.max(...moves)).toBeGreaterThan(8);
    expect(Math.min(...moves)).toBeLessThan(-8);
    expect(loose(7).every(({ velocity }) => velocity >= 54 && velocity <= 74)).toBe(true);
    expect(loose(7)).toEqual(loose(7));
    expect(loose(8)).not.toEqual(loose(7));
  });
  test("no groove, no swing and no chance are the identity; amount 0 is, too", () =>
    fc.assert(
      fc.property(anyFeel, anyMeter, position, (any, meter, ticks) => {
        expect(warpTicks(feelWarp(any, meter, 0), ticks as Ticks)).toBe(ticks);
        const off = { groove: { ...any.groove!, timing: 0 } };
        expect(warpTicks(feelWarp(off, meter), ticks as Ticks)).toBe(ticks);
      }),
    ));
  test("a warp keeps order, repeats every cycle, and can be undone", () =>
    fc.assert(
      fc.property(
        anyFeel,
        anyMeter,
        position,
        fc.double({ min: 0, max: 900, noNaN: true }),
        (any, meter, ticks, more) => {
          const warp = feelWarp(any, meter)!;
          fc.pre(warp !== undefined);
          const [a, b] = [ticks, ticks + more].map((at) => warpTicks(warp, at as Ticks));
          expect(b).toBeGreaterThanOrEqual(a! - 1e-6);
          expect(warpTicks(warp, (ticks + warp.cycleTicks) as Ticks)).toBeCloseTo(a! + warp.cycleTicks, 5);
          expect(warp.cycleTicks % barTicks(meter)).toBe(0);
          // Where the map is flat a place has no inverse of its own, but lands on the same place again.
          expect(warpTicks(warp, unwarpTicks(warp, a as Ticks))).toBeCloseTo(a!, 5);
        },
      ),
    ));
  test("a hit that was played over a swing is corrected to the line it was meant for, and follows the swing", () => {
    const over = { swing: { ratio: 0.74, unit: "1/16" } } as const;
    const warp = feelWarp(over, FOUR);
    // Nearer to the next straight line than to its own.
    const played = warpTicks(warp, 240 as Ticks) + 8;
    const swung = hit(0, played, 100, {
      played: { ticks: played as Ticks, straightTicks: unwarpTicks(warp, played as Ticks), velocity: 100 },
    });
    expect(heardTicks([swung], SIXTEENTHS, over)[0]).toBeCloseTo(0.74 * 480, 9);
    expect(heardTicks([swung], SIXTEENTHS, { swing: { ratio: 0.6, unit: "1/16" } })[0]).toBeCloseTo(288, 9);
    expect(heardTicks([swung], { ...SIXTEENTHS, grid: "off" }, over)[0]).toBeCloseTo(played, 9);
  });
});

describe("what is listened to", () => {
  const over = patternOf([hit(0, 250, 100), hit(0, 260, 60)], SIXTEENTHS, { swing: { ratio: 2 / 3, unit: "1/16" } });
  test("played: all of it as it was; corrected: on the straight lines; grooved: all", () => {
    expect(resolveTiming(over, FOUR, "played").map(({ ticks, duplicateOnLine }) => [ticks, duplicateOnLine])).toEqual([
      [250, false],
      [260, false],
    ]);
    expect(
      resolveTiming(over, FOUR, "corrected").map(({ ticks, duplicateOnLine }) => [ticks, duplicateOnLine]),
    ).toEqual([
      [240, false],
      [240, true],
    ]);
    expect(resolveTiming(over, FOUR).map(({ ticks }) => ticks)).toEqual([320, 320]);
  });
});

describe("the grooves that come with the app", () => {
  test.each(BUILT_IN_GROOVES.map((groove) => [groove.name, groove] as const))("%s", (_, groove) => {
    expect(groove.lines).toHaveLength(groove.bars * linesPerBar(groove));
    expect(groove.description).toMatch(/\.$/);
    const step = GRID_TICKS[groove.grid];
    for (const [index, { offsetTicks, velocity }] of groove.lines.entries()) {
      const next = groove.lines[(index + 1) % groove.lines.length]!;
      expect(step + next.offsetTicks - offsetTicks).toBeGreaterThan(0);
      expect(velocity).toBeGreaterThanOrEqual(0.5);
      expect(velocity).toBeLessThanOrEqual(1.5);
    }
  });
  test("there are a dozen, each with a name of its own", () =>
    expect(new Set(BUILT_IN_GROOVES.map(({ name }) => name)).size).toBe(12));
});

describe("a groove from strokes", () => {
  const frame = { name: "Mine", grid: "1/16", bars: 1, barTicks: BAR } as const;
  /** Eight bars of sixteenths on three pads with a feel of their own and a hand that spreads. */
  function performance(seed: number, spreadTicks: number, feel: (line: number) => number): TimedStroke[] {
    const random = seededRandom(seed);
    return Array.from({ length: 8 * 16 }, (_, index) => ({
      ticks: (index * 240 + feel(index % 16) + spreadTicks * normal(random)) as Ticks,
      pad: index % 3,
      velocity: Math.round(60 + 20 * (index % 3) + 15 * ((index % 4 === 0 ? 1 : 0) + random())),
    }));
  }
  test("extracted and applied at 100 % to a hard-quantized copy it gives the source's line medians, to 0.5 ms", () =>
    fc.assert(
      fc.property(fc.integer(), fc.double({ min: 0, max: 20, noNaN: true }), (seed, spread) => {
        const strokes = performance(seed, spread, (line) => (line % 2 === 1 ? 40 : 0) + (line % 8 === 4 ? 15 : 0));
        const { groove } = extractGroove(strokes, frame);
        const hits = strokes.map(({ ticks, pad, velocity }) => hit(pad, ticks, velocity));
        const applied = resolveTiming(
          patternOf(hits, SIXTEENTHS, { groove: { groove, timing: 1, velocity: 0 } }, 8),
          FOUR,
        );
        for (let line = 0; line < 16; line++) {
          const own = strokes.filter((_, index) => index % 16 === line).map(({ ticks }, bar) => ticks - bar * BAR);
          const sorted = own.sort((a, b) => a - b);
          const middle = (sorted[3]! + sorted[4]!) / 2;
          // 0.5 ms at 120 BPM is a tick.
          expect(Math.abs(applied[line]!.ticks - middle)).toBeLessThan(0.96);
        }
      }),
      { numRuns: 50 },
    ));
  test("applied to straight patterns of two tempi it keeps its proportions: shares of a beat, not milliseconds", () => {
    const { groove } = extractGroove(
      performance(2, 6, (line) => (line % 2 === 1 ? 50 : 0)),
      frame,
    );
    const onsets = [84, 168].map((bpm) => {
      const empty = newBeat({ id: "t", name: "T", bpm, bars: 1 });
      const patternRef = firstPlace(empty);
      const { beat, passId } = addPass(empty, patternRef, { name: "P", muted: false, quantize: SIXTEENTHS });
      const straight = Array.from({ length: 16 }, (_, line) => hit(8, line * 240));
      const grooved = setFeel(addHits(beat, patternRef, passId, straight), patternRef, {
        groove: { groove, timing: 1, velocity: 1 },
      });
      return readSmf(beatToMidi(grooved, [patternRef], "heard")).notes.map(({ tick }) => (tick * 60) / 960 / bpm);
    });
    expect(onsets[0]).toHaveLength(16);
    expect(onsets[0]![1]).not.toBeCloseTo((240 * 60) / 960 / 84, 3);
    onsets[0]!.forEach((seconds, index) => expect(seconds / 2).toBeCloseTo(onsets[1]![index]!, 9));
  });
  test("a slip on one line in one bar changes nothing that is heard", () => {
    const clean = performance(3, 2, () => 0);
    const slipped = clean.map((stroke, index) =>
      index === 5 ? { ...stroke, ticks: (stroke.ticks + 100) as Ticks } : stroke,
    );
    const [a, b] = [clean, slipped].map((strokes) => extractGroove(strokes, frame).groove.lines[5]!.offsetTicks);
    expect(Math.abs(a! - b!)).toBeLessThan(3);
  });
  test("lines without hits lie between their neighbours, round the end of the cycle too, and are marked", () => {
    const at = (line: number, offset: number): TimedStroke => ({
      ticks: (line * 240 + offset) as Ticks,
      pad: 0,
      velocity: 80,
    });
    const { groove, fit } = extractGroove([at(1, 10), at(5, 30), at(9, -10), at(13, 20)], frame);
    expect(groove.lines.map(({ offsetTicks }) => offsetTicks).slice(1, 6)).toEqual([10, 15, 20, 25, 30]);
    expect(groove.lines[15]!.offsetTicks).toBe(15);
    expect(groove.lines[0]!.offsetTicks).toBe(12.5);
    expect(groove.lines.filter(({ interpolated }) => interpolated)).toHaveLength(12);
    expect(fit).toMatchObject({ hits: 4, playedLines: 4, lines: 16, share: 1, missTicks: 0 });
  });
  test("a swing of 72 % is found on its own lines, though they lie nearer to the next ones", () => {
    const { groove } = extractGroove(
      performance(5, 3, (line) => (line % 2 === 1 ? 0.44 * 240 : 0)),
      frame,
    );
    expect(groove.lines[1]!.offsetTicks).toBeGreaterThan(98);
    expect(groove.lines[1]!.offsetTicks).toBeLessThan(113);
  });
  test("accents are those of the hand, whatever level a pad is played at", () => {
    const strokes = performance(9, 2, () => 0);
    const { groove } = extractGroove(strokes, frame);
    expect(groove.lines[0]!.velocity).toBeGreaterThan(groove.lines[1]!.velocity + 0.05);
  });
  test("nothing makes no groove", () => expect(() => extractGroove([], frame)).toThrow("no hit"));
});
