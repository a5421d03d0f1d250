import fc from "fast-check";
import { demoBeat } from "../demo/demo-beats";
import { demoEchoes } from "../demo/demo-echoes";
import type { Beat, Hit } from "../beat/beat";
import { addHits, addPass, findPattern, removePass } from "../beat/edit";
import { firstPlace, newBeat } from "../beat/new-beat";
import { mergePassDown } from "../beat/edits/pass-edit";
import { readBeatFile, writeBeatFile } from "../formats/beat-file";
import type { Bpm } from "../time/tempo";
import type { Ticks } from "../time/ticks";
import { alongHits, bringBack } from "./bring-back";
import { LAP_FOLDS, type AlongRecall } from "./bring-back-along";
import type { FreeRecall } from "./bring-back-free";
import { isMissed, missingHits } from "./missing-hits";
import { findReadings } from "./readings/readings";
import { forgottenCount, LOOKBACK, splitEchoes, type Echo, type LookbackHit } from "./echo";

const beat = newBeat({ id: "b", name: "B", bpm: 120 as Bpm });
const patternRef = firstPlace(beat);
const free = (timeMs: number, pad = 0, velocity = 90): LookbackHit => ({
  timeMs,
  pad,
  note: 36,
  velocity,
  device: "k",
  beatId: "b",
  partId: patternRef.partId,
});
const along = (lap: number, playedTicks: number, pad = 0, velocity = 90, segment = 1): LookbackHit => ({
  ...free(lap * 4000 + playedTicks / 1.92, pad, velocity),
  along: {
    patternId: patternRef.patternId,
    run: segment,
    lap,
    lapTicks: 7680 as Ticks,
    bpm: 120,
    playedTicks: playedTicks as Ticks,
  },
});
const STEADY = { from: 0, times: [10, 10.6, 11.2, 11.8] };
const sizes = (echoes: readonly Echo[]) => echoes.map(({ hits }) => hits.length);

describe("phrases", () => {
  const steady = (count: number, everyMs: number, from = 0) =>
    Array.from({ length: count }, (_, index) => free(from + index * everyMs));
  test.each([
    ["a pause under 1.2 s is none", [...steady(4, 250), ...steady(4, 250, 1900)], [8]],
    ["a longer one parts two phrases", [...steady(4, 250), ...steady(4, 250, 2000)], [4, 4]],
    ["at a slow pulse it must be two beats", [...steady(8, 450), ...steady(4, 450, 3150 + 1700)], [12]],
    ["at a fast one it need not", [...steady(8, 200), ...steady(4, 200, 1400 + 1700)], [8, 4]],
    ["slow strokes are one phrase from the first on", steady(6, 1500), [6]],
    ["one stroke and then fast ones are two", [free(0), ...steady(8, 200, 1500)], [1, 8]],
    ["nothing is no phrase", [], []],
    ["a very long one is cut", steady(700, 100), [600, 100]],
  ])("%s", (_, hits, expected) => expect(sizes(splitEchoes(hits))).toEqual(expected));
  test("joined, a phrase goes on the one before it", () => {
    const hits = [...steady(4, 250), ...steady(4, 250, 3000), ...steady(2, 250, 9000)];
    expect(sizes(splitEchoes(hits, 1, new Set([3000])))).toEqual([8, 2]);
  });
  test("20,000 hits and an hour are kept, whichever is more, and never more than 100,000", () => {
    const every = (count: number, ms: number) => Array.from({ length: count }, (_, index) => index * ms);
    const forgotten = (times: readonly number[]) => forgottenCount(times, times.at(-1)!);
    expect(forgotten(every(20_000, 5000))).toBe(0);
    expect(forgotten(every(20_010, 5000))).toBe(10);
    expect(forgotten(every(40_000, 80))).toBe(0);
    expect(forgotten(every(60_000, 80))).toBe(60_000 - LOOKBACK.ms / 80);
    expect(forgotten(every(120_000, 10))).toBe(20_000);
    expect(forgotten([])).toBe(0);
  });
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

const MERGED = { kind: "along", fold: "merged", into: "same", quantized: false } as const;

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
  const back = (fold: AlongRecall["fold"], more: Partial<AlongRecall> & { quantized?: boolean } = {}) => {
    const made = bringBack(beat, patternRef, echo, { kind: "along", fold, into: "same", quantized: false, ...more });
    expect(readBeatFile(writeBeatFile(made.beat))).toEqual(made.beat);
    return { ...made, pattern: findPattern(made.beat, made.patternRef) };
  };
  const ticksOf = (own: readonly Hit[]) => own.map(({ lane, played }) => [lane, played.ticks, played.velocity]);

  test("merged: the same stroke of several laps once, at its median time and velocity, not corrected", () => {
    const [pass] = back("merged").pattern.passes;
    expect(ticksOf(pass!.hits)).toEqual([
      [0, 4, 90],
      [1, 960, 95],
      [2, 2000, 60],
    ]);
    expect(pass!.quantize.grid).toBe("off");
  });
  test("the last lap that was played through", () =>
    expect(ticksOf(back("last").pattern.passes[0]!.hits)).toEqual([
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
    const { pattern, patternRef: at } = back("unrolled");
    expect(at).not.toEqual(patternRef);
    expect(pattern.bars).toBe(6);
    expect(pattern.passes[0]!.hits.map(({ played: { ticks } }) => ticks)).toEqual([4, 970, 7674, 8630, 9680, 15368]);
  });
  test("one lap, by its number; one in which nothing was played is refused", () => {
    expect(ticksOf(back("one", { lap: 0 }).pattern.passes[0]!.hits)).toEqual([
      [0, 4, 80],
      [1, 970, 90],
    ]);
    expect(() => back("one", { lap: 7 })).toThrow("Nothing of this echo was played in lap 8.");
  });
  test("into a new pattern, and corrected by the input grid, if that is wanted", () => {
    const { pattern, patternRef: at } = back("merged", { into: "new", quantized: true });
    expect(at).not.toEqual(patternRef);
    expect(pattern.bars).toBe(2);
    expect(pattern.passes[0]!.quantize).toEqual(beat.inputQuantize);
  });
  test("what two parts played comes back to each of them", () => {
    const kit = beat.parts[0]!;
    const second = { ...kit, id: 80, patterns: kit.patterns.map((one) => ({ ...one, id: 81, passes: [] })) };
    const two = { ...beat, nextId: 100, parts: [kit, second] };
    const other = { ...along(0, 480), partId: 80 };
    const both = { hits: [...hits, { ...other, along: { ...other.along!, patternId: 81 } }] };
    const made = bringBack(two, patternRef, both, MERGED);
    expect(made.patternRef).toEqual(patternRef);
    expect(findPattern(made.beat, patternRef).passes[0]!.hits).toHaveLength(3);
    expect(findPattern(made.beat, { partId: 80, patternId: 81 }).passes[0]!.hits[0]!.played.ticks).toBe(480);
    const loose = both.hits.map(({ along: _, ...hit }) => hit);
    const reading = {
      bpm: 120,
      downbeat: 0,
      bars: 4,
      meter: beat.meter,
      perQuarter: 4,
      confidence: 1,
      reasons: [],
      pulse: STEADY,
    };
    const freely = bringBack(
      two,
      patternRef,
      { hits: loose },
      { kind: "free", reading, tempo: "use", straighten: false, quantized: false },
    );
    expect(freely.beat.parts.map(({ patterns }) => patterns[0]!.passes[0]!.hits.length)).toEqual([6, 1]);
  });
  describe("what the beat has does not come twice", () => {
    const recorded = hits.map((hit) => ({ ...hit, along: { ...hit.along!, recorded: true as const } }));
    const withPass = (own: readonly LookbackHit[]) => {
      const added = addPass(beat, patternRef, { name: "Pass 1", muted: false, quantize: beat.inputQuantize });
      const written = own.map(({ pad, velocity, along: at }) => ({
        lane: pad,
        played: { velocity, ticks: at!.playedTicks },
        lengthTicks: 60 as Ticks,
      }));
      return { ...added, beat: addHits(added.beat, patternRef, added.passId, written) };
    };
    const missed = (now: Beat, own: readonly LookbackHit[] = recorded) => missingHits({ hits: own }, now).length;

    test("hits that were recorded are looked for in the beat: undone or deleted, they are missing again", () => {
      const { beat: full, passId } = withPass(recorded);
      expect([missed(full), missed(beat), missed(removePass(full, patternRef, passId))]).toEqual([0, 6, 6]);
      // The same stroke that was not recorded is another one.
      expect(missed(full, hits)).toBe(6);
      const { beat: half } = withPass(recorded.slice(0, 2));
      expect([missed(half), isMissed({ hits: recorded }, half)]).toEqual([4, true]);
      expect(isMissed({ hits: recorded }, withPass(recorded.slice(0, 4)).beat)).toBe(false);
      const back = bringBack(half, patternRef, { hits: recorded }, MERGED);
      expect(findPattern(back.beat, patternRef).passes.map((pass) => pass.hits.length)).toEqual([2, 3]);
      expect(missed(back.beat)).toBe(0);
      // Recorded in another beat, it is in that one.
      expect(
        missed(
          full,
          recorded.map((hit) => ({ ...hit, beatId: "another" })),
        ),
      ).toBe(0);
    });

    test("what came back is there, whatever it was folded to, merged, or written to a file, until its pass goes", () => {
      for (const fold of LAP_FOLDS) {
        const back = bringBack(beat, patternRef, { hits }, { ...MERGED, fold, lap: 1 });
        expect([fold, missed(readBeatFile(writeBeatFile(back.beat)), hits)]).toEqual([fold, 0]);
      }
      const { beat: under } = withPass(recorded.slice(0, 1));
      const back = bringBack(under, patternRef, { hits: hits.slice(1) }, MERGED);
      const [, echoPass] = findPattern(back.beat, patternRef).passes;
      expect(missed(mergePassDown(back.beat, patternRef, echoPass!.id), hits.slice(1))).toBe(0);
      expect(missed(removePass(back.beat, patternRef, echoPass!.id), hits.slice(1))).toBe(5);
      // Merged again and again, a beat still fits into a file.
      let many = back.beat;
      for (let more = 0; more < 120; more++) {
        many = bringBack(many, patternRef, { hits: [along(0, 10 + more), along(0, 20 + more)] }, MERGED).beat;
        many = mergePassDown(many, patternRef, findPattern(many, patternRef).passes.at(-1)!.id);
      }
      expect(readBeatFile(writeBeatFile(many))).toEqual(many);
      // Its ends were left out on purpose.
      const trimmed = bringBack(beat, patternRef, { hits: hits.slice(2, 4) }, MERGED, { hits });
      expect(missed(trimmed.beat, hits)).toBe(0);
    });
  });

  test("strokes of different laps are one where they lie less than half a sixteenth apart", () => {
    const merged = (apart: number) =>
      findPattern(
        bringBack(beat, patternRef, { hits: [along(0, 1000), along(1, 1000 + apart)] }, MERGED).beat,
        patternRef,
      ).passes[0]!.hits;
    expect([merged(119).length, merged(119.9).length, merged(120).length]).toEqual([1, 1, 2]);
    expect(merged(100)[0]!.played.ticks).toBe(1050);
  });

  test("the last full lap is the last with at least half as many strokes as the fullest", () => {
    const strokes = (lap: number, count: number) =>
      Array.from({ length: count }, (_, index) => along(lap, 100 + 200 * index));
    const lastOf = (...counts: number[]) =>
      findPattern(
        bringBack(
          beat,
          patternRef,
          { hits: counts.flatMap((count, lap) => strokes(lap, count)) },
          { ...MERGED, fold: "last" },
        ).beat,
        patternRef,
      ).passes[0]!.hits.length;
    expect([lastOf(8, 4), lastOf(8, 3), lastOf(3, 8, 5, 1), lastOf(2)]).toEqual([4, 8, 5, 2]);
  });

  test("one after the other, the laps of a region lie a lap's length apart, and those of a second run after the first's", () => {
    const half = (lap: number, playedTicks: number, segment = 1): LookbackHit => {
      const hit = along(lap, playedTicks, 0, 90, segment);
      return { ...hit, along: { ...hit.along!, lapTicks: 1920 as Ticks, startTicks: 1920 as Ticks } };
    };
    const own = [half(0, 1920), half(1, 1930), half(2, 2400), half(0, 1925, 2), half(1, 1921, 2)];
    const back = bringBack(beat, patternRef, { hits: own }, { ...MERGED, fold: "unrolled" });
    const pattern = findPattern(back.beat, back.patternRef);
    expect([pattern.bars, pattern.passes[0]!.hits.map(({ played: { ticks } }) => ticks)]).toEqual([
      3,
      [1920, 3850, 6240, 7685, 9601],
    ]);
    expect(alongHits({ hits: own }, beat).map((hit) => hit.along.lap)).toEqual([0, 1, 2, 3, 4]);
    // Two joined runs are five laps to be folded, not three.
    const takes = bringBack(beat, patternRef, { hits: own }, { ...MERGED, fold: "takes" });
    expect(findPattern(takes.beat, patternRef).passes).toHaveLength(5);
  });

  test("what was played with another beat comes back at the tempo it is known to have", () => {
    const elsewhere = hits.map((hit) => ({
      ...hit,
      beatId: "another",
      along: {
        ...hit.along!,
        bpm: 90,
        lapTicks: 3360 as Ticks,
        meter: { beats: 7, unit: 8 } as const,
        beatName: "Tide",
      },
    }));
    const use = bringBack(beat, patternRef, { hits: elsewhere }, { ...MERGED, tempo: "use" });
    expect([use.beat.bpm, use.beat.meter, findPattern(use.beat, patternRef).bars]).toEqual([
      90,
      { beats: 7, unit: 8 },
      1,
    ]);
    expect(findPattern(use.beat, patternRef).passes[0]!.hits).toHaveLength(3);
    // Into a beat with something in it: a pattern of its own, at the tempo that is asked for.
    const { beat: busy } = bringBack(beat, patternRef, { hits }, MERGED);
    const fit = bringBack(busy, patternRef, { hits: elsewhere }, { ...MERGED, tempo: "fit" });
    expect([fit.beat.bpm, fit.beat.meter, fit.patternRef.patternId === patternRef.patternId]).toEqual([
      120,
      beat.meter,
      false,
    ]);
    // So does what was played with a pattern that was deleted since.
    const gone = hits.map((hit) => ({ ...hit, along: { ...hit.along!, patternId: 99 } }));
    expect(
      findPattern(bringBack(beat, patternRef, { hits: gone }, MERGED).beat, patternRef).passes[0]!.hits,
    ).toHaveLength(3);
  });

  test("nothing that was played along says so plainly", () =>
    expect(() => bringBack(beat, patternRef, { hits: [free(0)] }, MERGED)).toThrow("Nothing of this echo"));
});

describe("what was played free comes back", () => {
  const echo: Echo = { id: 10_000, hits: [free(9400), free(10_000), free(10_600, 1), free(11_200)], endMs: 11_200 };
  const reading = {
    bpm: 100,
    downbeat: 10,
    bars: 1,
    meter: beat.meter,
    perQuarter: 4,
    confidence: 1,
    reasons: [],
    pulse: STEADY,
  };
  const way = (change: Partial<FreeRecall> = {}) =>
    ({ kind: "free", reading, tempo: "use", straighten: false, quantized: false, ...change }) as const;
  test("an empty beat takes its tempo and length; a pick-up leads into the next lap", () => {
    const made = bringBack(beat, patternRef, echo, way());
    const pattern = findPattern(made.beat, made.patternRef);
    expect([made.beat.bpm, pattern.bars, made.patternRef]).toEqual([100, 1, patternRef]);
    expect(pattern.passes[0]!.hits.map(({ played: { ticks } }) => Math.round(ticks))).toEqual([2880, 0, 960, 1920]);
  });
  test("up to half a sixteenth ahead of the downbeat is early on it, what is more is a pick-up", () => {
    const tickMs = 60_000 / (100 * 960);
    const lead = (ticks: number) => {
      const own = { ...echo, hits: [free(10_000 - ticks * tickMs), ...echo.hits.slice(1)] };
      return Math.round(
        findPattern(bringBack(beat, patternRef, own, way()).beat, patternRef).passes[0]!.hits[0]!.played.ticks,
      );
    };
    expect([lead(119), lead(121)]).toEqual([-119, 3840 - 121]);
  });
  test("a beat with hits keeps its tempo, and the echo is fitted to it in a pattern of its own", () => {
    const added = addPass(beat, patternRef, { name: "P", muted: false, quantize: beat.inputQuantize });
    const full = addHits(added.beat, patternRef, added.passId, [
      { lane: 0, played: { velocity: 90, ticks: 0 as Ticks }, lengthTicks: 60 as Ticks },
    ]);
    const made = bringBack(full, patternRef, echo, way({ tempo: "fit" }));
    expect(made.beat.bpm).toBe(120);
    expect(made.patternRef).not.toEqual(patternRef);
    expect(findPattern(made.beat, patternRef)).toEqual(findPattern(full, patternRef));
    expect(findPattern(made.beat, made.patternRef).passes[0]!.hits[2]!.played.ticks).toBeCloseTo(960, 6);
  });
  test("a reading in another meter: an empty beat takes it, another one keeps its own and is as long as it must be", () => {
    const three = { ...reading, bars: 2, meter: { beats: 3, unit: 4 } as const };
    expect(bringBack(beat, patternRef, echo, way({ reading: three })).beat.meter).toEqual(three.meter);
    const added = addPass(beat, patternRef, { name: "P", muted: false, quantize: beat.inputQuantize });
    const full = addHits(added.beat, patternRef, added.passId, [
      { lane: 0, played: { velocity: 90, ticks: 0 as Ticks }, lengthTicks: 60 as Ticks },
    ]);
    const made = bringBack(full, patternRef, echo, way({ reading: three, tempo: "use" }));
    expect([made.beat.meter, made.beat.bpm, findPattern(made.beat, made.patternRef).bars]).toEqual([
      beat.meter,
      100,
      2,
    ]);
  });
});

test("the demo's three echoes: read as they are written, and laps that come back merged", () => {
  const echoes = splitEchoes(demoEchoes(1_000_000_000));
  expect(sizes(echoes)).toHaveLength(3);
  const lantern = demoBeat("Lantern Room");
  const read = ({ hits }: Echo) => {
    const free = hits.map(({ timeMs, note, velocity }) => ({ time: timeMs / 1000, note, velocity }));
    const { bpm, bars, meter } = findReadings(free, [lantern.meter])[0]!;
    return [Math.round(bpm), bars, meter.beats];
  };
  expect([read(echoes[0]!), read(echoes[2]!)]).toEqual([
    [92, 4, 4],
    [121, 2, 4],
  ]);
  const at = firstPlace(lantern);
  const { beat: back } = bringBack(lantern, at, echoes[1]!, MERGED);
  expect(findPattern(back, at).passes.at(-1)!.hits).toHaveLength(22);
});
