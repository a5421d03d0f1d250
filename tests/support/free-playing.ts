import { normal, seededRandom } from "@/core/random";
import type { FreeHit } from "@/core/recover/readings/reading";
import type { Meter } from "@/core/time/meter";

export const FOUR: Meter = { beats: 4, unit: 4 };
export const [KICK, SNARE, HAT, OPEN, CRASH] = [36, 38, 42, 46, 49] as const;

/** Patterns of our own on sixteenths: note, velocity, and where in the bar, in quarters. */
export type Line = readonly [note: number, velocity: number, ...quarters: number[]];
export const every = (step: number, until = 4) => Array.from({ length: until / step }, (_, index) => index * step);
export const OTHER_PATTERNS: Readonly<Record<string, { meter: Meter; lines: readonly Line[] }>> = {
  sevenEight: {
    meter: { beats: 7, unit: 8 },
    lines: [
      [KICK, 104, 0, 2],
      [SNARE, 104, 1, 2.5],
      [HAT, 76, ...every(0.5, 3.5)],
    ],
  },
  fiveFour: {
    meter: { beats: 5, unit: 4 },
    lines: [
      [KICK, 104, 0, 1.5, 3],
      [SNARE, 102, 2, 4],
      [HAT, 76, ...every(0.5, 5)],
    ],
  },
  twelveEight: {
    meter: { beats: 12, unit: 8 },
    lines: [
      [KICK, 104, 0, 2.5, 3],
      [SNARE, 104, 1.5, 4.5],
      [HAT, 76, ...every(0.5, 6)],
    ],
  },
  sixFour: {
    meter: { beats: 6, unit: 4 },
    lines: [
      [KICK, 104, 0, 2.5, 3],
      [SNARE, 104, 2, 5],
      [HAT, 76, ...every(0.5, 6)],
      [CRASH, 96, 0],
    ],
  },
};
export const PATTERNS: Readonly<Record<string, { meter: Meter; lines: readonly Line[] }>> = {
  eighths: {
    meter: FOUR,
    lines: [
      [KICK, 100, 0, 2, 2.5],
      [SNARE, 105, 1, 3],
      [HAT, 80, ...every(0.5)],
    ],
  },
  sixteenths: {
    meter: FOUR,
    lines: [
      [KICK, 104, 0, 1.75, 2.5],
      [SNARE, 100, 1, 3],
      [HAT, 74, ...every(0.25)],
      [OPEN, 80, 3.5],
    ],
  },
  shuffle: {
    meter: FOUR,
    lines: [
      [KICK, 100, 0, 2, 2 / 3 + 2],
      [SNARE, 104, 1, 3],
      [HAT, 82, ...every(1), ...every(1).map((at) => at + 2 / 3)],
    ],
  },
  waltz: {
    meter: { beats: 3, unit: 4 },
    lines: [
      [KICK, 108, 0],
      [SNARE, 84, 1, 2],
      [HAT, 70, ...every(0.5, 3)],
      [CRASH, 90, 0],
    ],
  },
  sixEight: {
    meter: { beats: 6, unit: 8 },
    lines: [
      [KICK, 104, 0, 1],
      [SNARE, 104, 1.5],
      [HAT, 78, ...every(0.5, 3)],
    ],
  },
};

export interface Playing {
  readonly pattern: string;
  readonly bpm: number;
  readonly bars: number;
  readonly spreadMs?: number;
  /** Share by which the last beat is longer than the first. */
  readonly drift?: number;
  /** Quarters of pick-up: soft snares on eighths before the first downbeat. */
  readonly pickup?: number;
  readonly seed: number;
}

/** Seeded, invented, with the last downbeat left out. */
export function play(
  { pattern, bpm, bars, spreadMs = 8, drift = 0, pickup = 0, seed }: Playing,
  { meter, lines } = PATTERNS[pattern] ?? OTHER_PATTERNS[pattern]!,
): FreeHit[] {
  const random = seededRandom(seed);
  const bar = (meter.beats * 4) / meter.unit;
  const length = bars * bar;
  const timeOf = (quarters: number) =>
    (60 / bpm) * (quarters + (drift * quarters * (quarters - length)) / (2 * length));
  const strike = (quarters: number, note: number, velocity: number): FreeHit => ({
    time: 20 + timeOf(quarters) + (spreadMs / 1000) * normal(random),
    note,
    velocity: Math.max(1, Math.min(127, Math.round(velocity + 6 * normal(random)))),
  });
  const before = every(0.5, pickup).map((at) => strike(at - pickup, SNARE, 70));
  const body = Array.from({ length: bars }, (_, index) =>
    lines.flatMap(([note, velocity, ...places]) => places.map((at) => strike(index * bar + at, note, velocity))),
  ).flat();
  return [...before, ...body].sort((a, b) => a.time - b.time);
}
