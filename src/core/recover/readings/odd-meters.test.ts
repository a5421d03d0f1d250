import { every, FOUR, HAT, KICK, play, SNARE, type Line } from "../../../../tests/support/free-playing";
import { seededRandom } from "../../random";
import { sameMeter, type Meter } from "../../time/meter";
import { isLike, THINKABLE_METERS, type FreeHit } from "./reading";
import { momentsOf, readingGuesses } from "./reading-guesses";
import { findReadings } from "./readings";

/** Places in a bar of the groups' beginnings, in quarters. */
const groupStarts = (groups: readonly number[]) =>
  groups.map((_, at) => groups.slice(0, at).reduce((sum, one) => sum + one, 0) / 2);
type KickAndSnare = readonly [kick: readonly number[], snare: readonly number[]];
const seven = (groups: readonly number[]): { meter: Meter; beats: readonly KickAndSnare[] } => {
  const [first, second, third] = groupStarts(groups) as [number, number, number];
  return {
    meter: { beats: 7, unit: 8, groups },
    beats: [
      [[first, second], [third]],
      [[first], [second, third]],
      [[first, third], [second]],
      [
        [first, third - 0.5],
        [second, third],
      ],
    ],
  };
};
/** Kick and snare of bars in odd meters (common practice, no source). */
const ODD: Readonly<Record<string, { meter: Meter; beats: readonly KickAndSnare[] }>> = {
  "7/8 in 2+2+3": seven([2, 2, 3]),
  "7/8 in 3+2+2": seven([3, 2, 2]),
  "7/8 in 2+3+2": seven([2, 3, 2]),
  "5/4": {
    meter: { beats: 5, unit: 4 },
    beats: [
      [
        [0, 1.5, 3],
        [2, 4],
      ],
      [
        [0, 3],
        [2, 4],
      ],
      [
        [0, 2.5],
        [1, 3, 4],
      ],
      [
        [0, 1.5, 3],
        [1, 4],
      ],
    ],
  },
  "3/4": {
    meter: { beats: 3, unit: 4 },
    beats: [
      [[0], [1, 2]],
      [[0, 1.5], [2]],
    ],
  },
  "6/8": {
    meter: { beats: 6, unit: 8 },
    beats: [
      [[0], [1.5]],
      [[0, 1], [1.5]],
      [[0, 2.5], [1.5]],
    ],
  },
  "12/8": {
    meter: { beats: 12, unit: 8 },
    beats: [
      [
        [0, 2.5, 3],
        [1.5, 4.5],
      ],
      [
        [0, 1, 3],
        [1.5, 4.5],
      ],
      [[0], [3]],
    ],
  },
};

/** Odd playing as clear as hats and accents on the groups make it. */
function playOdd(name: string, random: () => number, seed: number): { hits: FreeHit[]; bpm: number; meter: Meter } {
  const { meter, beats } = ODD[name]!;
  const [kick, snare] = beats[Math.floor(random() * beats.length)]!;
  const quarters = (meter.beats * 4) / meter.unit;
  const starts = meter.groups ? groupStarts(meter.groups) : every(meter.unit === 8 ? 1.5 : 1, quarters);
  const weak = every(0.5, quarters).filter((at) => !starts.includes(at));
  const lines: readonly Line[] = [
    [KICK, 102, ...kick],
    [SNARE, 102, ...snare],
    [HAT, 92, ...starts],
    [HAT, 72, ...weak],
  ];
  const bpm = meter.unit === 8 ? 100 + 80 * random() : 80 + 90 * random();
  const bars = [4, 6, 8][seed % 3]!;
  const playing = { pattern: name, bpm, bars, spreadMs: 4 + 8 * random(), drift: 0.02 * (random() - 0.5), seed };
  return { hits: play(playing, { meter, lines }), bpm, meter };
}

describe("odd meters that nobody said, in a beat of 4/4", () => {
  const random = seededRandom(7);
  const all = Object.keys(ODD).flatMap((name) =>
    Array.from({ length: 8 }, (_, seed) => {
      const { hits, bpm, meter } = playOdd(name, random, seed);
      const readings = findReadings(hits, THINKABLE_METERS, { session: FOUR });
      const isRight = (one: { meter: Meter; bpm: number }) =>
        one.meter.beats === meter.beats && one.meter.unit === meter.unit && Math.abs(one.bpm / bpm - 1) < 0.04;
      return { name, meter, readings, isRight };
    }),
  );
  const share = (right: (one: (typeof all)[number]) => boolean, of = all) => of.filter(right).length / of.length;

  test("among five in 95 %, first in 70 %", () => {
    expect(share(({ readings, isRight }) => readings.some(isRight))).toBeGreaterThanOrEqual(0.95);
    expect(share(({ readings, isRight }) => isRight(readings[0]!))).toBeGreaterThanOrEqual(0.7);
  });
  test("meters that a worker was sent are thought of no more often than those that it has", () => {
    const random = seededRandom(3);
    for (const name of ["6/8", "5/4", "3/4"]) {
      const { hits } = playOdd(name, random, 1);
      const [own, sent] = [THINKABLE_METERS, structuredClone(THINKABLE_METERS)].map((meters) =>
        [...readingGuesses(hits, momentsOf(hits), meters, { session: structuredClone(FOUR) })].map(
          ({ meter: { beats, unit }, barLines }) => `${beats}/${unit} ${barLines.join()}`,
        ),
      );
      expect(sent).toEqual(own);
      expect(own!.length).toBeGreaterThan(0);
    }
  });
  test("5/4 and 7/8, which no other meter explains, first in 90 %, with the groups that were played in 75 %", () => {
    const clear = all.filter(({ name }) => /^[57]/.test(name));
    expect(share(({ readings, isRight }) => isRight(readings[0]!), clear)).toBeGreaterThanOrEqual(0.9);
    const sevens = clear.filter(({ name }) => name.startsWith("7"));
    expect(share(({ readings, meter }) => sameMeter(readings[0]!.meter, meter), sevens)).toBeGreaterThanOrEqual(0.75);
  });
  test("each tempo and meter is offered once, however its beats are felt together, unless where bars begin", () => {
    for (const { readings } of all) {
      const names = readings.map(
        ({ bpm, meter, downbeat }) => `${bpm.toFixed(0)} ${meter.beats}/${meter.unit} ${downbeat.toFixed(2)}`,
      );
      expect(new Set(names).size).toBe(names.length);
      expect(readings.filter((one) => isLike(one, readings[0]!)).length).toBeLessThanOrEqual(2);
    }
  });
});
