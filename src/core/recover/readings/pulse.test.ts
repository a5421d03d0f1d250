import fc from "fast-check";
import { normal, seededRandom } from "../../random";
import { driftOf, mostAstray, quartersAt, secondsAt, smoothPulse, type Paced } from "../pulse/pulse";
import { findReadings } from "./readings";
import type { FreeHit } from "./reading";

const BPM = 104;
const QUARTERS = 32;
const QUARTER_SECONDS = 60 / BPM;
/** No bar line of a straightened performance is further off than this. */
const BAR_LINE_SECONDS = 0.01;

/** Tempi that change by four in a hundred around the mean over eight bars, as the time of a place in quarters. */
const DRIFTS: Readonly<Record<string, (quarters: number) => number>> = {
  "faster and faster": (at) => QUARTER_SECONDS * (at - (0.04 * at * (at - QUARTERS)) / QUARTERS),
  "slower and slower": (at) => QUARTER_SECONDS * (at + (0.04 * at * (at - QUARTERS)) / QUARTERS),
  "faster and back": (at) =>
    QUARTER_SECONDS * (at - ((0.04 * QUARTERS) / (2 * Math.PI)) * (1 - Math.cos((2 * Math.PI * at) / QUARTERS))),
};

/** Kick, snare and hats in eighths over eight bars, and the downbeat after them. */
function performance(timeOf: (quarters: number) => number, spreadMs: number, seed: number): readonly FreeHit[] {
  const random = seededRandom(seed);
  const strike = (at: number, note: number, velocity: number): FreeHit => ({
    time: 5 + timeOf(at) + (spreadMs / 1000) * normal(random),
    note,
    velocity,
  });
  const eighths = Array.from({ length: 2 * QUARTERS }, (_, index) => index / 2);
  return eighths
    .flatMap((at) => [
      strike(at, 42, at % 1 === 0 ? 92 : 74),
      ...(at % 4 === 0 || at % 4 === 2.5 ? [strike(at, 36, 104)] : []),
      ...(at % 2 === 1 ? [strike(at, 38, 104)] : []),
    ])
    .sort((a, b) => a.time - b.time);
}

describe("straightened drift of 4 % over eight bars", () => {
  const cases = Object.keys(DRIFTS).flatMap((drift) => [0, 6, 10].map((spreadMs) => [drift, spreadMs] as const));
  test.each(cases)("%s, played with a spread of %i ms: every bar line within 10 ms", (drift, spreadMs) => {
    const timeOf = DRIFTS[drift]!;
    const [reading] = findReadings(performance(timeOf, spreadMs, 3), [{ beats: 4, unit: 4 }]);
    expect(reading!.bars).toBe(8);
    for (let bar = 0; bar <= 8; bar++) {
      const quarters = quartersAt(reading!, 5 + timeOf(4 * bar), true);
      expect(Math.abs(quarters - 4 * bar) * QUARTER_SECONDS).toBeLessThan(BAR_LINE_SECONDS);
    }
    // A steady tempo is further off: there was something to straighten.
    expect(mostAstray(reading!)).toBeGreaterThan(2 * BAR_LINE_SECONDS);
  });
  test("what goes up by four in a hundred from the mean is eight faster in the end", () => {
    const at = Array.from({ length: 2 * QUARTERS }, (_, index) => index / 2);
    expect(driftOf(smoothPulse(at, at.map(DRIFTS["faster and faster"]!)))).toBeCloseTo(0.076, 2);
  });
});

test("a place in time and its moment are inverses, with the pulse and with the mean tempo", () =>
  fc.assert(
    fc.property(fc.integer({ min: 1, max: 1000 }), fc.double({ min: -2, max: 40, noNaN: true }), (seed, quarters) => {
      const random = seededRandom(seed);
      const at = Array.from({ length: 64 }, (_, index) => index / 2);
      const times = at.map((place) => 7 + DRIFTS["faster and back"]!(place) + 0.004 * normal(random));
      const paced: Paced = { bpm: BPM, downbeat: 7, pulse: smoothPulse(at, times) };
      for (const byPulse of [true, false])
        expect(quartersAt(paced, secondsAt(paced, quarters, byPulse), byPulse)).toBeCloseTo(quarters, 6);
    }),
  ));
