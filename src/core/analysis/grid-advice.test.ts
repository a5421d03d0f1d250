import { normal, seededRandom, type Random } from "../random";
import { LINE_GRID_NAMES, type LineGridName } from "../time/grid";
import { barTicks, type Meter } from "../time/meter";
import type { Bpm } from "../time/tempo";
import type { Ticks } from "../time/ticks";
import type { QuantizeSettings } from "../beat/beat";
import { addHits, addPass, setFeel } from "../beat/edit";
import { newBeat } from "../beat/new-beat";
import { addKitPart, addTonalPart, type AddedPart } from "../beat/edits/part-edit";
import { setQuantize } from "../beat/edits/quantize-edit";
import { advisePattern } from "./pattern-advice";
import { adviseGrid, bareGrid, type AdvisedHit } from "./grid-advice";

const BAR = 3840 as Ticks;
const FOUR: Meter = { beats: 4, unit: 4 };
interface Kind {
  readonly step: number;
  /** Right names of what it is played on; the first is the usual one. */
  readonly grids: readonly LineGridName[];
  readonly meter?: Meter;
  /** The step whose second in a pair swings. */
  readonly swings?: number;
  /** Steps that the last beat may be played in, ticks. */
  readonly fill?: readonly number[];
  /** Bars in which kick and snare go half as fast. */
  readonly halfTime?: true;
  readonly finer?: true;
}
const KINDS = {
  eighths: { step: 480, grids: ["1/8"] },
  sixteenths: { step: 240, grids: ["1/16"] },
  "one finer hit": { step: 480, grids: ["1/16"], finer: true },
  fill: { step: 480, grids: ["1/16"], fill: [240] },
  triplets: { step: 320, grids: ["1/8T"] },
  shuffle: { step: 480, grids: ["1/8", "1/8T"], swings: 480 },
} satisfies Record<string, Kind>;
const MORE_KINDS = {
  shuffle: KINDS.shuffle,
  "swung sixteenths": { step: 240, grids: ["1/16"], swings: 240 },
  "triplet fill": { step: 480, grids: ["1/8", "1/8T", "1/16T"], fill: [320, 160] },
  "half-time": { step: 480, grids: ["1/8", "1/4"], halfTime: true },
  "7/8": { step: 480, grids: ["1/8"], meter: { beats: 7, unit: 8, groups: [2, 2, 3] } },
  "6/8": { step: 480, grids: ["1/8"], meter: { beats: 6, unit: 8 } },
} satisfies Record<string, Kind>;

interface Performance {
  readonly kind: Kind;
  readonly bpm: Bpm;
  readonly spreadMs: number;
  /** For shuffles: the middle of two steps, ratio. */
  readonly swing: number;
}

interface MeantHit extends AdvisedHit {
  /** Where a player without spread would have struck. */
  readonly meant: number;
}

/** Two or four bars of kick, snare and hats, as a hand plays them: invented, like all generated data here. */
function play({ kind, bpm, spreadMs, swing }: Performance, random: Random): MeantHit[] {
  const { step, swings = 0, fill, meter = FOUR, halfTime, finer } = kind;
  const bar = barTicks(meter);
  const length = (random() < 0.7 ? 2 : 4) * bar;
  const ticksPerMs = (bpm * 960) / 60_000;
  const hits: MeantHit[] = [];
  const strike = (line: number) => {
    const meant = line % (2 * swings) === swings ? line - swings + swing * 2 * swings : line;
    hits.push({ id: hits.length, meant, ticks: (meant + spreadMs * ticksPerMs * normal(random)) as Ticks });
  };
  const backbeat = Math.floor(bar / 960) * (halfTime ? 480 : 240) * (meter === FOUR ? 1 : 2);
  for (let line = 0; line < length; line += step) {
    const filled = fill !== undefined && line >= length - 960;
    if (!filled && random() < 0.92) strike(line);
    const inBar = line % bar;
    if (inBar % (2 * backbeat) === 0 || (!filled && random() < 0.12)) strike(line);
    if (inBar % (2 * backbeat) === backbeat && !filled) strike(line);
  }
  if (finer) strike(Math.floor((random() * length) / 960) * 960 + (random() < 0.5 ? 240 : 720));
  const fillStep = fill?.[Math.floor(random() * fill.length)] ?? length;
  for (let line = length - 960; fill && line < length; line += fillStep) strike(line);
  return hits;
}

/** Distance of the hit that a grid moves furthest from its meant place, ms. */
function worstMs(hits: readonly MeantHit[], against: LineGridName, { bpm, kind }: Performance): number {
  const { lineOf } = bareGrid(against, barTicks(kind.meter ?? FOUR));
  const ticksPerMs = (bpm * 960) / 60_000;
  return Math.max(...hits.map((hit) => Math.abs(lineOf(hit)!.line - hit.meant) / ticksPerMs));
}

/** Bounds of what is counted: below the lower a grid is harmless, above the higher it is not; between them a noisy swing cannot tell. */
const HEARD_MS = { surelyNot: 8, surely: 16 };

describe.each([
  ["600 beats", KINDS, 20],
  ["600 more", MORE_KINDS, 21],
])("grid advice on %s, 60 to 180 BPM, spread 0 to 20 ms, all grids set against all playing", (_, kinds, seed) => {
  const random = seededRandom(seed);
  const names = Object.keys(kinds);
  const all = Array.from({ length: 600 }, (_one, index) => {
    const name = names[index % names.length]!;
    const performance: Performance = {
      kind: kinds[name as keyof typeof kinds],
      bpm: (60 + 120 * random()) as Bpm,
      spreadMs: 20 * random(),
      swing: 0.55 + 0.12 * random(),
    };
    const hits = play(performance, random);
    const against = LINE_GRID_NAMES[Math.floor(random() * LINE_GRID_NAMES.length)]!;
    const bar = barTicks(performance.kind.meter ?? FOUR);
    return { name, performance, hits, against, advice: adviseGrid(hits, performance.bpm, bar, bareGrid(against, bar)) };
  });
  const spoken = all.flatMap(({ advice, ...rest }) => (advice ? [{ ...rest, advice }] : []));

  test("harmless called harmful, or harmful harmless, in less than 1 %; silent in less than 15 %", () => {
    const wrong = spoken.flatMap(({ name, performance, hits, advice, against }) => {
      const worst = worstMs(hits, against, performance);
      const { bpm, spreadMs, swing } = performance;
      const miscalled = advice.moved.length > 0 ? worst < HEARD_MS.surelyNot : worst > HEARD_MS.surely;
      return miscalled ? [{ name, bpm, spreadMs, swing, worst, description: advice.sentence }] : [];
    });
    expect({ wrong, few: wrong.length < 0.01 * spoken.length }).toEqual({ wrong, few: true });
    expect(all.length - spoken.length).toBeLessThan(0.15 * all.length);
  });

  test.each(names)("the right grid for %s in nearly all that is said, and no kind is passed over", (name) => {
    const own = spoken.filter((one) => one.name === name);
    const { grids }: Kind = kinds[name as keyof typeof kinds];
    const right = own.filter(({ advice: { grid } }) => grids.includes(grid));
    // Whether a single stroke is meant, or three are in triplets: with much spread that is anybody's guess.
    expect(right.length / own.length).toBeGreaterThanOrEqual(/hit|fill/.test(name) ? 0.85 : 0.95);
    expect(own.length).toBeGreaterThanOrEqual(75);
  });

  test("the swing within two points in 95 % and more where the spread is up to 12 ms", () => {
    const steady = spoken.filter(
      ({ advice, performance: { spreadMs } }) => spreadMs <= 12 && advice.family !== "triplet",
    );
    const right = steady.filter(({ performance: { kind, swing }, advice }) => {
      const wanted = kind.swings ? 100 * swing : 50;
      return Math.abs(advice.swingPercent - wanted) <= 2;
    });
    expect(right.length / steady.length).toBeGreaterThanOrEqual(0.95);
  });
});

const eighths = Array.from({ length: 24 }, (_, index) => index * 480);

describe("what the advice says", () => {
  const at = (...positions: number[]): AdvisedHit[] => positions.map((ticks, id) => ({ id, ticks: ticks as Ticks }));
  const bpm = 120 as Bpm;
  const on = (name: LineGridName) => bareGrid(name, BAR);
  const description = (hits: AdvisedHit[], set: LineGridName) => adviseGrid(hits, bpm, BAR, on(set))?.sentence;

  test("eighths that a finer grid would bunch up, with the hits in question", () => {
    // At 150 BPM a hand with 20 ms of spread: two of its hits are nearer to a sixteenth.
    const hits = at(
      ...eighths
        .map((line, index) => line + (index % 4 < 2 ? 48 : -48))
        .with(2, 960 - 125)
        .with(5, 2400 + 123),
    );
    const advice = adviseGrid(hits, 150 as Bpm, BAR, on("1/16"))!;
    expect(advice).toMatchObject({ grid: "1/8", family: "straight", moved: [2, 5], movedMs: 100 });
    expect(advice.sentence).toBe("Played in eighths; 1/16 moves 2 hits by 100 ms.");
  });
  test("sixteenths do harm to triplets and to shuffles, with the ms that one hears", () => {
    const triplets = at(...Array.from({ length: 32 }, (_, index) => 320 * index));
    const shuffle = at(...eighths.map((line) => (line % 960 === 480 ? line + 96 : line)));
    expect(description(triplets, "1/16")).toBe("Played in eighth triplets; 1/16 moves 21 hits by 42 ms.");
    expect(description(shuffle, "1/16")).toBe("Played in eighths, swung 60 %; 1/16 moves 12 hits by 50 ms.");
    expect(description(shuffle, "1/8")).toBe("Played in eighths, swung 60 %; 1/8 moves 12 hits by 50 ms.");
  });
  test("32 clean triplets are told at any tempo and in any place; what is right fits", () => {
    for (const tempo of [60, 90, 120, 150, 180])
      for (const shift of [0, 0.5, -3]) {
        const hits = at(...Array.from({ length: 32 }, (_, index) => 320 * index + shift));
        expect(adviseGrid(hits, tempo as Bpm, BAR, on("1/8T"))?.sentence).toBe("Played in eighth triplets; 1/8T fits.");
      }
    expect(description(at(...eighths), "1/16")).toBe("Played in eighths; 1/16 fits.");
    expect(description(at(...eighths), "1/8")).toBe("Played in eighths; 1/8 fits.");
  });
  test("one kick between eighths that are exactly on the grid is a sixteenth; one stray stroke of 25 is no thirty-second", () => {
    expect(description(at(...eighths, 720), "1/16")).toBe("Played in sixteenths; 1/16 fits.");
    expect(description(at(...eighths, 720), "1/8")).toBe("Played in sixteenths; 1/8 moves 1 hit by 125 ms.");
    for (const stray of [600, 570, 60, 2000])
      for (const tempo of [70, 120, 170]) {
        const advice = adviseGrid(at(...eighths, stray), tempo as Bpm, BAR, on("1/8"));
        expect([undefined, "1/8", "1/16"]).toContain(advice?.grid);
      }
  });
  test("a beat of triplets among eighths: both grids, and what sixteenths would do to that beat", () => {
    const fill = [2880, 3200, 3520, 6720, 7040, 7360];
    const hits = at(...eighths.filter((line) => line % 3840 < 2880 && line < 7680), ...fill);
    const advice = adviseGrid(hits, bpm, BAR, on("1/16"))!;
    expect(advice).toMatchObject({ grid: "1/8", mix: ["1/8T"], family: "straight" });
    expect(advice.sentence).toBe("Played in eighths, here and there in eighth triplets; 1/16 moves 4 hits by 42 ms.");
  });
  test("in any meter and tempo, wherever hits are, it answers with figures or not at all", () => {
    const random = seededRandom(9);
    for (let round = 0; round < 60; round++) {
      const meter: Meter = { beats: 1 + Math.floor(32 * random()), unit: ([2, 4, 8, 16] as const)[round % 4]! };
      const bar = barTicks(meter);
      const hits = at(
        ...Array.from({ length: 14 }, () => Math.round((4 * random() - 1) * bar * (round % 3 ? 1 : 1e-3))),
      );
      const advice = adviseGrid(hits, (20 + 280 * random()) as Bpm, bar, bareGrid("1/16", bar));
      const figures = advice && [advice.swingPercent, advice.spreadMs, advice.movedMs];
      expect(figures?.every(Number.isFinite) ?? true).toBe(true);
    }
  });
  test("fewer than twelve hits say nothing, nor do hits that lie anywhere", () => {
    expect(description(at(...eighths.slice(0, 11)), "1/16")).toBeUndefined();
    expect(description(at(...eighths.slice(0, 12)), "1/16")).toBeDefined();
    const random = seededRandom(5);
    const anywhere = Array.from({ length: 200 }, () => at(...Array.from({ length: 16 }, () => 7680 * random())));
    expect(anywhere.filter((hits) => description(hits, "1/16")).length).toBeLessThan(20);
  });
});

describe("advice on a pattern", () => {
  const straight: QuantizeSettings = { grid: "1/16", strength: 1, reach: 1 };
  const shuffled = Array.from({ length: 16 }, (_, index) => 480 * index + (index % 2) * 96);
  const triplets = Array.from({ length: 24 }, (_, index) => 320 * index);
  /** Two passes of a pattern of two bars: the first one in triplets, the second one a shuffle. */
  const beatOf = (quantize: QuantizeSettings, played = [triplets, shuffled]) => {
    const { beat, partId } = addKitPart(newBeat({ id: "b", name: "B" }));
    const place = { partId, patternId: beat.parts.find(({ id }) => id === partId)!.patterns[0]!.id };
    const passes = played.reduce(
      ({ now, ids }, ticks, index) => {
        const { beat: open, passId } = addPass(now, place, { name: `Pass ${index + 1}`, muted: false, quantize });
        const hits = ticks.map((at) => ({
          lane: 8,
          played: { ticks: at as Ticks, velocity: 90 },
          lengthTicks: 100 as Ticks,
        }));
        return { now: addHits(open, place, passId, hits), ids: [...ids, passId] };
      },
      { now: beat, ids: [] as number[] },
    );
    return { beat: passes.now, place, ids: passes.ids };
  };

  test("it speaks of the newest pass, and what it offers changes that one alone", () => {
    const { beat, place, ids } = beatOf(straight);
    const advice = advisePattern(beat, place, undefined)!;
    expect(advice).toMatchObject({ pass: "Pass 2", scope: { kind: "pass", passId: ids[1] } });
    // A swing would move the triplets, too: only where all is swung it is offered.
    expect(advice.take).toBeUndefined();
    const { beat: single, place: only } = beatOf(straight, [shuffled]);
    expect(advisePattern(single, only, undefined)!.take).toEqual({
      quantize: { grid: "1/8", mix: [], adaptive: undefined },
      swing: { ratio: 0.6, unit: "1/8" },
    });
    const thirds = beatOf(straight, [triplets, triplets.filter((ticks) => ticks % 960 !== 320)]);
    expect(advisePattern(thirds.beat, thirds.place, undefined)!.take).toEqual({
      quantize: { grid: "1/8T", mix: [] },
      swing: undefined,
    });
    const other = advisePattern(beat, place, { kind: "pass", passId: ids[0]! })!;
    expect(other).toMatchObject({ grid: "1/8T", pass: "Pass 1", take: { swing: undefined } });
    const taken = setQuantize(beat, place, other.scope, other.take!.quantize);
    expect(advisePattern(taken, place, other.scope)).toMatchObject({ moved: [], take: undefined });
    expect(advisePattern(taken, place, undefined)!.moved).toHaveLength(8);
  });
  test("without a grid it says what was played, and offers it", () => {
    const { beat, place, ids } = beatOf({ ...straight, grid: "off" });
    const advice = advisePattern(beat, place, { kind: "pass", passId: ids[0]! })!;
    expect(advice.sentence).toBe("Played in eighth triplets.");
    expect(advice.take?.quantize.grid).toBe("1/8T");
  });
  test("a swing that is set is wanted: neither the playing it swings nor the one that has it is harmed", () => {
    const { beat, place, ids } = beatOf({ ...straight, grid: "1/8" });
    const swung = setFeel(beat, place, { swing: { ratio: 0.6, unit: "1/8" } });
    expect(advisePattern(swung, place, undefined)).toMatchObject({ moved: [], take: undefined });
    const other = setFeel(beat, place, { swing: { ratio: 0.66, unit: "1/8" } });
    expect(advisePattern(other, place, undefined)!.moved).toHaveLength(8);
    // Triplets are on no eighth, swung or not, and a reach that leaves them alone does no harm.
    expect(advisePattern(swung, place, { kind: "pass", passId: ids[0]! })!.moved.length).toBeGreaterThan(0);
    const near = setQuantize(beat, place, { kind: "all" }, { reach: 0.2 });
    expect(advisePattern(near, place, { kind: "pass", passId: ids[0]! })!.moved).toEqual([]);
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
      return advisePattern(addHits(open, place, passId, hits), place, undefined);
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
      return advisePattern(played, place, { kind: "all" });
    };
    expect(twoHands(addTonalPart(newBeat({ id: "b", name: "B" }), "cabin"))).toBeDefined();
    const keys = addTonalPart(newBeat({ id: "b", name: "B" }), "cabin");
    expect(adviceOn(keys, 11)).toBeUndefined();
    expect(adviceOn(keys, 12)?.grid).toBe("1/8");
    expect(adviceOn(addKitPart(newBeat({ id: "b", name: "B" })), 11)).toBeDefined();
  });
});
