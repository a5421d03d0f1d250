import { normal, seededRandom, type Random } from "../random";
import type { Bpm } from "../time/tempo";
import type { Ticks } from "../time/ticks";
import { adviseGrid, type AdvisedHit } from "./grid-advice";

const BAR = 3840 as Ticks;

interface Performance {
  readonly kind: "eighths" | "sixteenths" | "triplets" | "shuffle";
  readonly bpm: Bpm;
  readonly spreadMs: number;
  /** For shuffles: the middle of two eighths, ratio. */
  readonly swing: number;
}

/** Four bars of kick, snare and a hat on most steps, as a hand plays them: invented, like all generated data here. */
function play({ kind, bpm, spreadMs, swing }: Performance, random: Random): AdvisedHit[] {
  const step = { eighths: 480, sixteenths: 240, triplets: 320, shuffle: 480 }[kind];
  const ticksPerMs = (bpm * 960) / 60_000;
  const hits: AdvisedHit[] = [];
  const strike = (pad: number, ticks: number) =>
    hits.push({ id: hits.length, pad, ticks: (ticks + spreadMs * ticksPerMs * normal(random)) as Ticks });
  for (let line = 0; line * step < 4 * BAR; line++) {
    const odd = kind === "shuffle" && line % 2 === 1;
    const ticks = odd ? (line - 1) * 480 + swing * 960 : line * step;
    if (random() < 0.9) strike(8, ticks);
    if (line % Math.round(1920 / step) === 0) strike(0, ticks);
    if (line % Math.round(1920 / step) === Math.round(960 / step)) strike(1, ticks);
    if (random() < 0.15) strike(0, ticks);
  }
  return hits;
}

const KINDS = ["eighths", "sixteenths", "triplets", "shuffle"] as const;
const GRIDS = { eighths: "1/8", sixteenths: "1/16", triplets: "1/8T", shuffle: "1/8" } as const;

describe("grid advice on 1,000 generated performances, 60 to 180 BPM, spread 0 to 25 ms", () => {
  const random = seededRandom(20);
  const all = Array.from({ length: 1000 }, (_, index) => {
    const performance: Performance = {
      kind: KINDS[index % 4],
      bpm: (60 + 120 * random()) as Bpm,
      spreadMs: 25 * random(),
      swing: 0.54 + 0.13 * random(),
    };
    return { performance, advice: adviseGrid(play(performance, random), performance.bpm, BAR)! };
  });
  test.each(KINDS)("the right grid for %s in 95 % and more", (kind) => {
    const own = all.filter(({ performance }) => performance.kind === kind);
    // A shuffle of two in three and eighth triplets without their middle are the same; either name is right.
    const right = own.filter(
      ({ performance: { swing }, advice }) =>
        advice.grid === GRIDS[kind] || (kind === "shuffle" && swing > 0.64 && advice.grid === "1/8T"),
    );
    expect(right.length / own.length).toBeGreaterThanOrEqual(0.95);
  });
  test("the swing within two points in 95 % and more where the spread is up to 12 ms", () => {
    const steady = all.filter(({ performance }) => performance.kind !== "triplets" && performance.spreadMs <= 12);
    const right = steady.filter(({ performance: { kind, swing }, advice }) => {
      const wanted = kind === "shuffle" ? 100 * swing : 50;
      return Math.abs(advice.swingPercent - wanted) <= 2;
    });
    expect(right.length / steady.length).toBeGreaterThanOrEqual(0.95);
  });
});

describe("what the advice says", () => {
  const at = (...positions: number[]): AdvisedHit[] =>
    positions.map((ticks, id) => ({ id, pad: 0, ticks: ticks as Ticks }));
  test("eighths that a finer grid would bunch up, with the hits in question", () => {
    const line = Array.from({ length: 24 }, (_, index) => index * 480);
    const hits = at(...line.with(2, 960 - 130).with(5, 2400 + 125));
    const advice = adviseGrid(hits, 100 as Bpm, BAR, "1/16")!;
    expect(advice).toMatchObject({ grid: "1/8", family: "straight", pulled: [2, 5], collisions: [] });
    expect(advice.sentence).toBe("Nothing faster than eighths; 1/16 would pull 2 hits to the wrong line.");
  });
  test("sixteenths that a coarser grid would press together", () => {
    const advice = adviseGrid(at(0, 240, 480, 720, 960, 1200, 1440, 1680), 100 as Bpm, BAR, "1/8")!;
    expect(advice.grid).toBe("1/16");
    expect(advice.collisions.length).toBeGreaterThan(0);
    expect(advice.sentence).toMatch(/^Played in sixteenths; 1\/8 would pull \d hits .* and press \d hits together\.$/);
  });
  test("too few hits say nothing", () => expect(adviseGrid(at(0, 480, 960), 100 as Bpm, BAR)).toBeUndefined());
});
