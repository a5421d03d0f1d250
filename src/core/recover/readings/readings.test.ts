import fc from "fast-check";
import {
  CRASH,
  every,
  FOUR,
  HAT,
  KICK,
  OTHER_PATTERNS,
  PATTERNS,
  play,
  SNARE,
  type Playing,
} from "../../../../tests/support/free-playing";
import { seededRandom } from "../../random";
import { sameMeter, type Meter } from "../../time/meter";
import { countSteps, fitSteps } from "../pulse/align";
import { barPlaces } from "../features/bar-place";
import { drumPart } from "../features/drum-part";
import { findReadings, MAX_READINGS } from "./readings";
import { isLike, LIKELY_METERS, THINKABLE_METERS, type FreeHit } from "./reading";
import { momentsOf, readingGuesses } from "./reading-guesses";
import { READING_FEATURES, readingScores } from "./reading-score";
import { READING_WEIGHTS } from "./reading-weights";

const downbeats = (bpm: number, bars: number, meter: Meter) =>
  Array.from({ length: bars }, (_, bar) => 20 + (bar * meter.beats * 4 * 60) / meter.unit / bpm);

describe("readings of seeded playing, in our own patterns", () => {
  const random = seededRandom(1);
  const all = Array.from({ length: 120 }, (_, index) => {
    const names = Object.keys(PATTERNS);
    const playing: Playing = {
      pattern: names[index % names.length]!,
      bpm: 75 + 80 * random(),
      bars: [2, 4, 8][index % 3]!,
      spreadMs: 4 + 12 * random(),
      drift: 0.02 * (random() - 0.5),
      pickup: index % 4 === 3 ? 1 : 0,
      seed: index,
    };
    const { meter } = PATTERNS[playing.pattern]!;
    return { playing, meter, readings: findReadings(play(playing), [meter]) };
  });
  const share = (right: (one: (typeof all)[number]) => boolean) => all.filter(right).length / all.length;
  const near = (value: number, truth: number, by: number) => Math.abs(value / truth - 1) <= by;

  test("tempo within 4 % (Accuracy 1 of Gouyon et al. 2006, from memory) in 90 %, within 1 % in 88 %", () => {
    expect(share(({ playing, readings }) => near(readings[0]!.bpm, playing.bpm, 0.04))).toBeGreaterThanOrEqual(0.9);
    expect(share(({ playing, readings }) => near(readings[0]!.bpm, playing.bpm, 0.01))).toBeGreaterThanOrEqual(0.88);
  });
  test("one of the first three has the tempo in 99 %", () =>
    expect(
      share(({ playing, readings }) => readings.slice(0, 3).some(({ bpm }) => near(bpm, playing.bpm, 0.04))),
    ).toBeGreaterThanOrEqual(0.99));
  test("the downbeat within 70 ms of a bar line, pick-ups too, and the length, in 86 % each", () => {
    const right = all.filter(({ playing, readings }) => near(readings[0]!.bpm, playing.bpm, 0.04));
    const down = right.filter(({ playing: { bpm, bars }, meter, readings }) =>
      downbeats(bpm, bars, meter).some((line) => Math.abs(line - readings[0]!.downbeat) <= 0.07),
    );
    expect(down.length / right.length).toBeGreaterThanOrEqual(0.86);
    expect(share(({ playing, readings }) => readings[0]!.bars === playing.bars)).toBeGreaterThanOrEqual(0.86);
  });
  test("confidences are likelihoods, and half or twice the first tempo is among the first three", () => {
    for (const { readings } of all) {
      expect(readings.length).toBeLessThanOrEqual(MAX_READINGS);
      const shares = readings.map(({ confidence }) => confidence);
      expect(shares.reduce((sum, one) => sum + one, 0)).toBeLessThan(1 + 1e-9);
      expect(Math.min(...shares)).toBeGreaterThanOrEqual(0);
      const times = readings.slice(1).map(({ bpm }) => bpm / readings[0]!.bpm);
      const octave = times.findIndex((by) => near(by, 2, 0.03) || near(by, 0.5, 0.03));
      expect(octave).toBeLessThanOrEqual(1);
    }
  });
});

describe("other meters and lengths", () => {
  const random = seededRandom(2);
  const playings = (names: readonly string[], lengths: readonly number[]) =>
    names.flatMap((pattern) =>
      lengths.map((bars): Playing => ({ pattern, bars, bpm: 85 + 60 * random(), spreadMs: 8, seed: bars })),
    );
  const shareOf = <T>(all: readonly T[], right: (one: T) => boolean) => all.filter(right).length / all.length;
  test("7/8, 5/4, 12/8 and 6/4, when they are known: tempo within 4 % in 90 %, the downbeat in 86 % of those", () => {
    const all = playings(Object.keys(OTHER_PATTERNS), [2, 3, 4, 6, 8]).map((playing) => {
      const { meter } = OTHER_PATTERNS[playing.pattern]!;
      const [first] = findReadings(play(playing), [meter]);
      const down = downbeats(playing.bpm, playing.bars, meter).some((at) => Math.abs(at - first!.downbeat) <= 0.07);
      return { tempo: Math.abs(first!.bpm / playing.bpm - 1) <= 0.04, down };
    });
    expect(shareOf(all, ({ tempo }) => tempo)).toBeGreaterThanOrEqual(0.9);
    const right = all.filter(({ tempo }) => tempo);
    expect(shareOf(right, ({ down }) => down)).toBeGreaterThanOrEqual(0.86);
  });
  test("1 to 16 bars, also 3, 5 and 6: the length in 92 %, what the loop lasts in 98 %", () => {
    const all = playings(["eighths", "sixteenths", "shuffle"], [1, 2, 3, 4, 5, 6, 8, 12, 16]).map((playing) => {
      const { bars, bpm } = findReadings(play(playing), [FOUR])[0]!;
      const lasts = bars / bpm / (playing.bars / playing.bpm);
      return { bars: bars === playing.bars, loop: Math.abs(lasts - 1) <= 0.04 };
    });
    expect(shareOf(all, ({ bars }) => bars)).toBeGreaterThanOrEqual(0.92);
    expect(shareOf(all, ({ loop }) => loop)).toBeGreaterThanOrEqual(0.98);
  });
  test.each([
    ["a waltz", ["waltz"], [2, 3, 4, 5, 6, 8, 12]],
    // Many bars of 6/8 are as well half as many of triplets in 4/4.
    ["6/8", ["sixEight"], [2, 3, 4, 5, 6, 7, 8]],
    ["straight 4/4", ["eighths", "sixteenths"], [2, 3, 4, 5, 6, 8, 12]],
    // Two bars of a shuffle are as well four of 6/8.
    ["a shuffle in 4/4", ["shuffle"], [4, 5, 6, 8, 12, 16]],
  ])("%s is told from other meters, when none is known, in 85 %%", (_, names, lengths) => {
    const all = playings(names, lengths).map((playing) => {
      const { meter } = PATTERNS[playing.pattern]!;
      return sameMeter(findReadings(play(playing), THINKABLE_METERS)[0]!.meter, meter);
    });
    expect(shareOf(all, (right) => right)).toBeGreaterThanOrEqual(0.85);
  });
});

test("a drift of 4 % over eight bars is followed: every beat of the curve within 10 ms", () => {
  const drift = 0.04;
  const [bpm, length] = [100, 32];
  const truth = (quarters: number) => 0.6 * (quarters + (drift * quarters * (quarters - length)) / (2 * length));
  const times = every(0.5, length).map((at) => truth(at));
  const { curve, steps, misses } = fitSteps(times, countSteps(times, 15 / bpm));
  expect(steps).toEqual(every(0.5, length).map((at) => at * 4));
  expect(Math.max(...misses.map(Math.abs))).toBeLessThan(0.01);
  expect(curve[2]).toBeGreaterThan(0);
});

/** What each beat at 120 BPM has to say for being the first of a bar. */
function beatScores(hits: readonly FreeHit[]): readonly number[] {
  const [found] = readingGuesses(hits, momentsOf(hits), [FOUR], { quarterSeconds: 0.5 });
  const { bar } = readingScores(found!);
  return [0, 1, 2, 3].map((beat) => bar(beat * found!.played.perQuarter));
}

test.each([
  // Four bars of hats on eighths alone say nothing about the bar; each time something is put in the second quarter.
  ["a kick in every bar", every(4, 16).map((at) => [KICK, at + 1])],
  ["a crash that is struck once", [[CRASH, 5]]],
  ["a drum that comes in there and stays", every(0.5, 11).map((at) => [51, at + 5])],
  ["toms in the beat before", [0, 0.25, 0.5, 0.75].map((at) => [45, at + 12])],
])("%s speaks for a bar line there", (_, drums) => {
  const hats = every(0.5, 16).map((at) => [HAT, at]);
  const scoresOf = (struck: readonly (readonly number[])[]) => {
    const hits = struck
      .map(([note, at]): FreeHit => ({ note: note!, time: at! / 2, velocity: 90 }))
      .sort((a, b) => a.time - b.time);
    return beatScores(hits);
  };
  const [without, withIt] = [scoresOf(hats), scoresOf([...hats, ...drums])];
  const more = withIt.map((score, beat) => score - without[beat]!);
  expect(more.indexOf(Math.max(...more))).toBe(1);
});

test("a bass that is back on its lowest note speaks for a bar line there", () => {
  const [bar, low] = [every(4, 16), 33];
  const hats = every(0.5, 16).map((at): FreeHit => ({ note: HAT, time: at / 2, velocity: 80 }));
  const scoresWith = (lowest: number, other: number) => {
    const bass = bar.flatMap((at): FreeHit[] => [
      { note: low, tonal: true, time: (at + lowest) / 2, velocity: 90 },
      { note: low + 7, tonal: true, time: (at + other) / 2, velocity: 90 },
    ]);
    return beatScores([...hats, ...bass].sort((a, b) => a.time - b.time));
  };
  for (const beat of [0, 1, 2, 3]) {
    const other = (beat + 2) % 4;
    // The same strokes, but for which of the notes is the lower one.
    expect(scoresWith(beat, other)[beat]! - scoresWith(other, beat)[beat]!).toBeGreaterThan(0.5);
  }
});

test("every feature has a weight, and every weight a feature", () => {
  const names = Object.values(READING_FEATURES).flat();
  expect(new Set(names).size).toBe(names.length);
  expect(Object.keys(READING_WEIGHTS)).toEqual(names);
  expect(Object.values(READING_WEIGHTS).every(Number.isFinite)).toBe(true);
});

test("what speaks for a reading comes with it, the strongest first", () => {
  const reasons = (pattern: string) =>
    findReadings(play({ pattern, bpm: 110, bars: 4, seed: 3 }), [PATTERNS[pattern]!.meter])[0]!.reasons;
  expect(reasons("eighths")).toEqual(["snareOnBacks", "kickOnDownbeat", "barsAlike"]);
  expect(reasons("sixEight")[0]).toBe("snareOnBacks");
});

test("where two bar lines are as likely, both are readings of the same tempo", () => {
  // Kick and snare in turn: nobody can say which of two kicks is the first.
  const hits = every(1, 16).flatMap((at): FreeHit[] => [
    { note: at % 2 === 0 ? KICK : SNARE, time: 3 + at * 0.55, velocity: 100 },
    { note: HAT, time: 3 + at * 0.55, velocity: 80 },
    { note: HAT, time: 3 + (at + 0.5) * 0.55, velocity: 70 },
  ]);
  const [first, ...rest] = findReadings(hits.slice(6), [FOUR]);
  const other = rest.find((one) => isLike(one, first!));
  expect(other).toBeDefined();
  const beats = Math.abs(other!.downbeat - first!.downbeat) / 0.55;
  expect(beats % 4).toBeCloseTo(2, 1);
});

test("whatever is struck, readings are whole bars at a tempo, or none", () => {
  const hits = fc.array(
    fc.record({
      time: fc.double({ min: 0, max: 60, noNaN: true }),
      note: fc.integer({ min: 0, max: 127 }),
      velocity: fc.integer({ min: 1, max: 127 }),
    }),
    { maxLength: 12 },
  );
  const close = hits.map((all) => all.map((hit) => ({ ...hit, time: hit.time / 500 })));
  fc.assert(
    fc.property(fc.oneof(hits, close), (all) => {
      for (const { bpm, downbeat, bars, confidence } of findReadings(
        [...all].sort((a, b) => a.time - b.time),
        LIKELY_METERS,
      )) {
        expect(bpm).toBeGreaterThan(0);
        expect([downbeat, confidence].every(Number.isFinite)).toBe(true);
        expect(Number.isInteger(bars) && bars >= 1).toBe(true);
      }
    }),
    { numRuns: 150, seed: 5 },
  );
});

test("a downbeat that the player puts a sixteenth or an eighth later is there, also where only eighths were played", () => {
  const hits = play({ pattern: "eighths", bpm: 110, bars: 2, spreadMs: 3, seed: 4 });
  const { downbeat: found, bpm } = findReadings(hits, [FOUR])[0]!;
  for (const quarters of [0.25, 0.5, 1]) {
    const asked = found + (quarters * 60) / bpm;
    const { downbeat } = findReadings(hits, [FOUR], { downbeat: asked, quarterSeconds: 60 / bpm })[0]!;
    expect(Math.abs(downbeat - asked)).toBeLessThan(0.015);
  }
});

test("the reading that was chosen stays, with the length that the player gives it, however unlikely that is", () => {
  const hits = play({ pattern: "eighths", bpm: 110, bars: 2, seed: 5 });
  const { bpm, meter } = findReadings(hits, LIKELY_METERS)[0]!;
  const kept = (bars: number) =>
    findReadings(hits, LIKELY_METERS, { bars, kept: { bpm, meter } }).filter(
      (one) => sameMeter(one.meter, meter) && Math.abs(one.bpm / bpm - 1) < 0.03,
    );
  for (const bars of [1, 2, 3, 5, 8, 16]) expect(kept(bars)).toEqual([expect.objectContaining({ bars })]);
});

test("of nothing, or of two strokes, no reading; of three at one moment none either", () => {
  const hit = (time: number): FreeHit => ({ time, note: KICK, velocity: 100 });
  for (const hits of [[], [hit(1), hit(2)], [hit(1), hit(1.001), hit(1.002)]])
    expect(findReadings(hits, LIKELY_METERS)).toEqual([]);
});

test("drums and places in the bar", () => {
  const parts = {
    kick: [35, 36],
    snare: [38, 40],
    stick: [37, 39],
    hat: [42, 44, 70],
    ride: [51, 53, 59],
    openHat: [46],
    crash: [49, 52, 55, 57],
    lowTom: [41, 43, 45],
    highTom: [47, 48, 50],
    hand: [54, 63],
  };
  for (const [part, notes] of Object.entries(parts)) expect(notes.map(drumPart)).toEqual(notes.map(() => part));
  const at = (meter: Meter, perQuarter: number, ...steps: number[]) =>
    steps.map((step) => barPlaces(meter, perQuarter)[step]);
  expect(at(FOUR, 4, 0, 4, 8, 12)).toEqual(["downbeat", "second", "middle", "fourth"]);
  expect(at(FOUR, 4, 1, 2, 3, 14)).toEqual(["early", "afterDownbeat", "late", "afterFourth"]);
  expect(at(FOUR, 3, 1, 2, 3)).toEqual(["early", "afterDownbeat", "second"]);
  expect(at({ beats: 6, unit: 8 }, 4, 0, 2, 6, 8)).toEqual(["downbeat", "afterDownbeat", "second", "afterSecond"]);
  expect(at({ beats: 3, unit: 4 }, 4, 4, 8)).toEqual(["second", "fourth"]);
  expect(at({ beats: 7, unit: 8 }, 4, 4, 8)).toEqual(["second", "fourth"]);
});
