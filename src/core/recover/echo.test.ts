import fc from "fast-check";
import { addHits, addPass, findPattern } from "../beat/edit";
import { firstPlace, newBeat } from "../beat/new-beat";
import { readBeatFile, writeBeatFile } from "../formats/beat-file";
import type { Bpm } from "../time/tempo";
import type { Ticks } from "../time/ticks";
import { bringBackAlong, bringBackFree } from "./bring-back";
import { splitEchoes, type Echo, type LookbackHit } from "./echo";

const beat = newBeat({ id: "b", name: "B", bpm: 120 as Bpm });
const place = firstPlace(beat);
const free = (timeMs: number, pad = 0, velocity = 90): LookbackHit => ({
  timeMs,
  pad,
  note: 36,
  velocity,
  device: "k",
});
const along = (lap: number, playedTicks: number, pad = 0, velocity = 90, run = 1): LookbackHit => ({
  ...free(lap * 4000 + playedTicks / 1.92, pad, velocity),
  along: { beatId: "b", ...place, run, lap, playedTicks: playedTicks as Ticks },
});
const sizes = (echoes: readonly Echo[]) => echoes.map(({ hits }) => hits.length);

describe("phrases", () => {
  const steady = (count: number, everyMs: number, from = 0) =>
    Array.from({ length: count }, (_, index) => free(from + index * everyMs));
  test.each([
    ["a pause under 1.2 s is none", [...steady(4, 250), ...steady(4, 250, 1900)], [8]],
    ["a longer one parts two phrases", [...steady(4, 250), ...steady(4, 250, 2000)], [4, 4]],
    ["at a slow pulse it must be two beats", [...steady(8, 450), ...steady(4, 450, 3150 + 1700)], [12]],
    ["at a fast one it need not", [...steady(8, 200), ...steady(4, 200, 1400 + 1700)], [8, 4]],
    ["nothing is no phrase", [], []],
    ["a very long one is cut", steady(700, 100), [600, 100]],
  ])("%s", (_, hits, expected) => expect(sizes(splitEchoes(hits))).toEqual(expected));
  test("the transport's start and stop part phrases, and so does another run", () => {
    const hits = [free(0), free(200), along(0, 600), along(0, 900), { ...along(0, 1500, 0, 90, 2) }, free(1000)];
    expect(sizes(splitEchoes(hits))).toEqual([2, 2, 1, 1]);
  });
  test("patience joins, and every hit is in one phrase, in order", () =>
    fc.assert(
      fc.property(
        fc.array(fc.integer({ min: 0, max: 4000 }), { maxLength: 200 }),
        fc.double({ min: 0.5, max: 5, noNaN: true }),
        (gaps, patience) => {
          let timeMs = 0;
          const hits = gaps.map((gap) => free((timeMs += gap)));
          const echoes = splitEchoes(hits, patience);
          expect(echoes.flatMap((echo) => echo.hits)).toEqual(hits);
          if (patience >= 1) expect(echoes.length).toBeLessThanOrEqual(splitEchoes(hits).length);
        },
      ),
    ));
});

describe("what was played along comes back", () => {
  // Two pads over three laps of two bars, the last lap broken off.
  const hits = [
    along(0, 4, 0, 80),
    along(0, 970, 1, 90),
    along(1, -6, 0, 90),
    along(1, 950, 1, 100),
    along(1, 2000, 2, 60),
    along(2, 8, 0, 100),
  ];
  const echo: Echo = { id: 0, hits, endMs: 9000 };
  const back = (fold: Parameters<typeof bringBackAlong>[2]) => {
    const made = bringBackAlong(beat, echo, fold);
    expect(readBeatFile(writeBeatFile(made.beat))).toEqual(made.beat);
    return { ...made, pattern: findPattern(made.beat, made.place) };
  };
  const ticksOf = (own: readonly { pad: number; playedTicks: number; velocity: number }[]) =>
    own.map(({ pad, playedTicks, velocity }) => [pad, playedTicks, velocity]);

  test("merged: the same stroke of several laps once, at its median time and velocity, not corrected", () => {
    const [pass] = back("merged").pattern.passes;
    expect(ticksOf(pass.hits)).toEqual([
      [0, 4, 90],
      [1, 960, 95],
      [2, 2000, 60],
    ]);
    expect(pass.quantize.grid).toBe("off");
  });
  test("the last lap that was played through", () =>
    expect(ticksOf(back("last").pattern.passes[0].hits)).toEqual([
      [0, -6, 90],
      [1, 950, 100],
      [2, 2000, 60],
    ]));
  test("every lap as a take, of which the newest sounds", () => {
    const { passes } = back("takes").pattern;
    expect(passes.map(({ hits: own, muted }) => [own.length, muted])).toEqual([
      [2, true],
      [3, true],
      [1, false],
    ]);
    expect(new Set(passes.map(({ take }) => take)).size).toBe(1);
  });
  test("unrolled: a pattern of all laps, each stroke where it was", () => {
    const { pattern, place: at } = back("unrolled");
    expect(at).not.toEqual(place);
    expect(pattern.bars).toBe(6);
    expect(pattern.passes[0].hits.map(({ playedTicks }) => playedTicks)).toEqual([4, 970, 7674, 8630, 9680, 15368]);
  });
  test("what was recorded does not come twice, and nothing is said plainly", () => {
    const recorded = hits.map((hit) => ({ ...hit, along: { ...hit.along!, recorded: true as const } }));
    expect(() => bringBackAlong(beat, { ...echo, hits: recorded }, "merged")).toThrow("Nothing of this echo");
    const gone = hits.map((hit) => ({ ...hit, along: { ...hit.along!, patternId: 99 } }));
    expect(() => bringBackAlong(beat, { ...echo, hits: gone }, "merged")).toThrow("There is no pattern 99");
  });
});

describe("what was played free comes back", () => {
  const echo: Echo = { id: 10_000, hits: [free(9400), free(10_000), free(10_600, 1), free(11_200)], endMs: 11_200 };
  const reading = { bpm: 100, downbeat: 10, bars: 1, meter: beat.meter, perQuarter: 4, confidence: 1 };
  test("an empty beat takes its tempo and length; a pick-up leads into the next lap", () => {
    const made = bringBackFree(beat, place, echo, reading);
    const pattern = findPattern(made.beat, made.place);
    expect([made.beat.bpm, pattern.bars, made.place]).toEqual([100, 1, place]);
    expect(pattern.passes[0].hits.map(({ playedTicks }) => Math.round(playedTicks))).toEqual([2880, 0, 960, 1920]);
  });
  test("a beat with hits keeps its tempo, and the echo is fitted to it in a pattern of its own", () => {
    const added = addPass(beat, place, { name: "P", muted: false, quantize: beat.inputQuantize });
    const full = addHits(added.beat, place, added.passId, [
      { pad: 0, velocity: 90, playedTicks: 0 as Ticks, lengthTicks: 60 as Ticks },
    ]);
    const made = bringBackFree(full, place, echo, reading);
    expect(made.beat.bpm).toBe(120);
    expect(made.place).not.toEqual(place);
    expect(findPattern(made.beat, place)).toEqual(findPattern(full, place));
    expect(findPattern(made.beat, made.place).passes[0].hits[2].playedTicks).toBeCloseTo(960, 6);
  });
});
