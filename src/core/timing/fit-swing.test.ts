import type { Ticks } from "../time/ticks";
import { warpTicks } from "../time/warp";
import { fitSwing, swingMiss } from "./fit-swing";

const BAR = 3840 as Ticks;

test.each([
  ["on the late sixteenth", 320, 0],
  ["a little before it", 310, -10],
  ["a little before the next pair", 470, -10],
  ["a little after the pair's start", 5, 5],
  ["in another bar", 3840 + 330, 10],
  ["half way: of the line before", 160, 160],
  ["half way to the pair's end: of that", 400, -80],
  ["just behind half way", 399.9, 79.9],
])("with a swing of two thirds, %s", (_, ticks, miss) =>
  expect(swingMiss(ticks as Ticks, 2 / 3, 240, BAR)).toBeCloseTo(miss, 9),
);

describe("the swing that was played", () => {
  /** Every line of a bar, the late ones at this share of their pair, each off by what is given in turn. */
  const played = (ratio: number, unit: number, offs: readonly number[] = [0]) =>
    Array.from({ length: BAR / unit }, (_, line) => {
      const pair = Math.floor(line / 2) * 2 * unit;
      return (pair + (line % 2) * 2 * unit * ratio + offs[line % offs.length]!) as Ticks;
    });

  test.each([
    ["1/16", 240, 0.6],
    ["1/16", 240, 0.75],
    ["1/8", 480, 2 / 3],
  ] as const)("on %s, %i ticks, of %d is found", (grid, unit, ratio) => {
    const warp = fitSwing(played(ratio, unit, [3, -4, 5, -2]), grid, BAR);
    expect(Math.abs(warpTicks(warp, unit as Ticks) - 2 * unit * ratio)).toBeLessThan(0.01 * 2 * unit);
    expect(warpTicks(warp, (2 * unit) as Ticks)).toBe(2 * unit);
  });

  test("straight and loosely played there is none, nor on a grid that has no pairs", () => {
    expect(fitSwing(played(0.5, 240), "1/16", BAR)).toBeUndefined();
    expect(fitSwing(played(0.5, 240, [20, -20, -18, 22, -5, 7, 19, -25]), "1/16", BAR)).toBeUndefined();
    expect(fitSwing(played(2 / 3, 240), "1/8T", BAR)).toBeUndefined();
    expect(fitSwing(played(2 / 3, 480), "1/4", BAR)).toBeUndefined();
  });
});
