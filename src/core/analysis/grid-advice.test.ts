import { normal, seededRandom, type Random } from "../random";
import { GRID_TICKS, type LineGridName } from "../time/grid";
import type { Bpm } from "../time/tempo";
import type { Ticks } from "../time/ticks";
import { quantize } from "../timing/quantize";
import { addHits, addPass } from "../beat/edit";
import { newBeat } from "../beat/new-beat";
import { addKitPart, addTonalPart, type AddedPart } from "../beat/part-edit";
import { advisePattern } from "./pattern-advice";
import { adviseGrid, type AdvisedHit, type GridAdvice } from "./grid-advice";

const BAR = 3840 as Ticks;
const KINDS = ["eighths", "sixteenths", "one finer hit", "fill", "triplets", "shuffle"] as const;
type Kind = (typeof KINDS)[number];
const STEPS = { eighths: 480, sixteenths: 240, "one finer hit": 480, fill: 480, triplets: 320, shuffle: 480 } as const;
const GRIDS: Readonly<Record<Kind, LineGridName>> = {
  eighths: "1/8",
  sixteenths: "1/16",
  "one finer hit": "1/16",
  fill: "1/16",
  triplets: "1/8T",
  shuffle: "1/8",
};

interface Performance {
  readonly kind: Kind;
  readonly bpm: Bpm;
  readonly spreadMs: number;
  /** For shuffles: the middle of two eighths, ratio. */
  readonly swing: number;
}

interface MeantHit extends AdvisedHit {
  /** Where a player without spread would have struck. */
  readonly meant: number;
}

/** Two or four bars of kick, snare and hats, as a hand plays them: invented, like all generated data here. */
function play({ kind, bpm, spreadMs, swing }: Performance, random: Random): MeantHit[] {
  const length = (random() < 0.7 ? 2 : 4) * BAR;
  const ticksPerMs = (bpm * 960) / 60_000;
  const hits: MeantHit[] = [];
  const strike = (pad: number, line: number) => {
    const meant = kind === "shuffle" && line % 960 === 480 ? line - 480 + swing * 960 : line;
    hits.push({ id: hits.length, pad, meant, ticks: (meant + spreadMs * ticksPerMs * normal(random)) as Ticks });
  };
  for (let line = 0; line < length; line += STEPS[kind]) {
    if (!(kind === "fill" && line >= length - 960) && random() < 0.92) strike(8, line);
    if (line % 1920 === 0 || random() < 0.12) strike(0, line);
    if (line % 1920 === 960) strike(1, line);
  }
  if (kind === "one finer hit") strike(0, Math.floor((random() * length) / 960) * 960 + (random() < 0.5 ? 240 : 720));
  if (kind === "fill") for (let line = length - 960; line < length; line += 240) strike(5, line);
  return hits;
}

const lineOn = (ticks: number, grid: LineGridName) =>
  quantize(ticks as Ticks, [GRID_TICKS[grid] as Ticks], { strength: 1, reach: 1 }, BAR).line!;

/** Where what is advised would put a hit. */
function placeOn({ grid, family, swingUnit, swingPercent }: GridAdvice, ticks: number): number {
  if (family !== "swung") return lineOn(ticks, grid);
  const pair = 2 * GRID_TICKS[swingUnit!];
  const start = Math.floor(ticks / pair) * pair;
  const places = [start, start + (swingPercent / 100) * pair, start + pair];
  return places.reduce((best, place) => (Math.abs(place - ticks) < Math.abs(best - ticks) ? place : best));
}

/** It would put more hits where they were not meant than the grid that is set, or rings hits that this one puts right. */
function isHarmful(advice: GridAdvice, hits: readonly MeantHit[], against: LineGridName): boolean {
  const astray = (place: (ticks: number) => number) =>
    hits.filter(({ ticks, meant }) => Math.abs(place(ticks) - meant) > 40).length;
  const falselyRung = advice.pulled.some((id) => Math.abs(lineOn(hits[id]!.ticks, against) - hits[id]!.meant) <= 40);
  return falselyRung || astray((ticks) => placeOn(advice, ticks)) > astray((ticks) => lineOn(ticks, against));
}

describe("grid advice on 600 generated beats, 60 to 180 BPM, spread 0 to 20 ms", () => {
  const random = seededRandom(20);
  const all = Array.from({ length: 600 }, (_, index) => {
    const performance: Performance = {
      kind: KINDS[index % KINDS.length]!,
      bpm: (60 + 120 * random()) as Bpm,
      spreadMs: 20 * random(),
      swing: 0.55 + 0.12 * random(),
    };
    const hits = play(performance, random);
    const against: LineGridName = random() < 0.7 ? "1/16" : "1/8";
    return { performance, hits, against, advice: adviseGrid(hits, performance.bpm, BAR, against) };
  });
  const spoken = all.flatMap(({ advice, ...rest }) => (advice ? [{ ...rest, advice }] : []));

  test("harmful in less than 1 %, silent in less than 15 %", () => {
    const harmful = spoken.filter(({ advice, hits, against }) => isHarmful(advice, hits, against));
    const told = harmful.map(({ performance, advice, against }) => ({
      ...performance,
      against,
      says: advice.sentence,
    }));
    expect({ told, few: harmful.length < 6 }).toEqual({ told, few: true });
    expect(all.length - spoken.length).toBeLessThan(90);
  });

  test.each(KINDS)("the right grid for %s in nearly all that is said, and no kind is passed over", (kind) => {
    const own = spoken.filter(({ performance }) => performance.kind === kind);
    // A shuffle of two in three and eighth triplets without their middle are the same; either name is right.
    const right = own.filter(
      ({ performance: { swing }, advice }) =>
        advice.grid === GRIDS[kind] || (kind === "shuffle" && swing > 0.64 && advice.grid === "1/8T"),
    );
    expect(right.length / own.length).toBeGreaterThanOrEqual(kind === "one finer hit" ? 0.9 : 0.95);
    expect(own.length).toBeGreaterThanOrEqual(70);
  });

  test("the swing within two points in 95 % and more where the spread is up to 12 ms", () => {
    const steady = spoken.filter(({ performance: { kind, spreadMs } }) => kind !== "triplets" && spreadMs <= 12);
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
  const eighths = Array.from({ length: 24 }, (_, index) => index * 480);

  test("eighths that a finer grid would bunch up, with the hits in question", () => {
    // At 150 BPM a hand with 20 ms of spread: two of its hits are nearer to a sixteenth.
    const hits = at(
      ...eighths
        .map((line, index) => line + (index % 4 < 2 ? 48 : -48))
        .with(2, 960 - 125)
        .with(5, 2400 + 123),
    );
    const advice = adviseGrid(hits, 150 as Bpm, BAR, "1/16")!;
    expect(advice).toMatchObject({ grid: "1/8", family: "straight", pulled: [2, 5], collisions: [] });
    expect(advice.sentence).toBe("Nothing faster than eighths; 1/16 would pull 2 hits to the wrong line.");
  });
  test("one kick between eighths that are exactly on the grid is a sixteenth, and nothing is ringed", () => {
    const advice = adviseGrid(at(...eighths, 720), 100 as Bpm, BAR, "1/16")!;
    expect(advice).toMatchObject({ grid: "1/16", pulled: [], collisions: [] });
    expect(advice.sentence).toBe("Played in sixteenths; 1/16 fits.");
    expect(adviseGrid(at(...eighths, 720), 100 as Bpm, BAR, "1/8")!.sentence).toMatch(
      /^Played in sixteenths; 1\/8 would (pull 1 hit to the wrong line|press)/,
    );
  });
  test("sixteenths that a coarser grid would press together", () => {
    const advice = adviseGrid(at(...Array.from({ length: 16 }, (_, index) => 240 * index)), 100 as Bpm, BAR, "1/8")!;
    expect(advice.grid).toBe("1/16");
    expect(advice.collisions.length).toBeGreaterThan(0);
    expect(advice.sentence).toBe("Played in sixteenths; 1/8 would press 14 hits together.");
  });
  test("fewer than twelve hits say nothing, nor do hits that lie anywhere", () => {
    expect(adviseGrid(at(...eighths.slice(0, 11)), 100 as Bpm, BAR)).toBeUndefined();
    expect(adviseGrid(at(...eighths.slice(0, 12)), 100 as Bpm, BAR)).toBeDefined();
    const random = seededRandom(5);
    const anywhere = Array.from({ length: 200 }, () => at(...Array.from({ length: 16 }, () => 7680 * random())));
    expect(anywhere.filter((hits) => adviseGrid(hits, 100 as Bpm, BAR)).length).toBeLessThan(60);
  });
  test("a chord is one stroke of a hand: eleven of three notes say nothing, twelve do; on pads every note is a stroke", () => {
    const adviceOn = ({ beat, partId }: AddedPart, chords: number) => {
      const place = { partId, patternId: beat.parts.find(({ id }) => id === partId)!.patterns[0]!.id };
      const { beat: open, passId } = addPass(beat, place, { name: "A", muted: false, quantize: beat.inputQuantize });
      // Two laps of a hand that rolls its notes a little.
      const hits = eighths.slice(0, chords).flatMap((line, chord) =>
        [0, 4, 7].map((lane, at) => ({
          lane,
          played: { ticks: ((line % 3840) + 12 * at) as Ticks, velocity: 90 },
          lengthTicks: 200 as Ticks,
          lap: Math.floor(chord / 8),
        })),
      );
      return advisePattern(addHits(open, place, passId, hits), place, undefined, "1/16");
    };
    // Another hand in another recording is another stroke, wherever it comes down.
    const twoHands = ({ beat, partId }: AddedPart) => {
      const place = { partId, patternId: beat.parts.find(({ id }) => id === partId)!.patterns[0]!.id };
      const played = [48, 60].reduce((now, lane) => {
        const { beat: open, passId } = addPass(now, place, { name: "A", muted: false, quantize: beat.inputQuantize });
        const strokes = eighths.slice(0, 6).map((line) => ({ ticks: line, velocity: 90 }));
        return addHits(
          open,
          place,
          passId,
          strokes.map((one) => ({
            lane,
            played: { ...one, ticks: one.ticks as Ticks },
            lengthTicks: 200 as Ticks,
            lap: 0,
          })),
        );
      }, beat);
      return advisePattern(played, place, undefined, "1/16");
    };
    expect(twoHands(addTonalPart(newBeat({ id: "b", name: "B" }), "cabin"))).toBeDefined();
    const keys = addTonalPart(newBeat({ id: "b", name: "B" }), "cabin");
    expect(adviceOn(keys, 11)).toBeUndefined();
    expect(adviceOn(keys, 12)?.grid).toBe("1/8");
    expect(adviceOn(addKitPart(newBeat({ id: "b", name: "B" })), 11)).toBeDefined();
  });
});
