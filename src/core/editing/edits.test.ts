import fc from "fast-check";
import { patternLengthTicks, type Beat } from "../beat/beat";
import { addHits, addPass, findPattern, setFeel } from "../beat/edit";
import { addTonalPart } from "../beat/edits/part-edit";
import { firstPlace, newBeat } from "../beat/new-beat";
import { addPattern, removePattern } from "../beat/edits/pattern-edit";
import { removeHits, soloPass } from "../beat/edits/pass-edit";
import { readBeatFile, writeBeatFile } from "../formats/beat-file";
import { wrap, type Ticks } from "../time/ticks";
import { BUILT_IN_GROOVES } from "../timing/built-in-grooves";
import { resolvedHits, resolveTiming } from "../timing/resolve-timing";
import { levelOf, type ResolvedHit } from "../timing/resolved-hit";
import { keepTiming, returnToPlayed, returnToPoint } from "../timing/keep-timing";
import { setQuantize } from "../beat/edits/quantize-edit";
import { allHits, growHits, hitsInBar, hitsOnLine, hitsWhere, invertHits, nextHit } from "./choose-hits";
import { copyHits, pasteHits } from "./clip";
import { copyBar, doubleLoop, halveLoop, repeatHits } from "./copy-hits";
import { dragTarget, dropHits } from "./drag-hits";
import { changeHits, returnHits } from "./hand-change";
import { flattenHits, moveByBeats, moveByLines, moveHeard, moveToLanes } from "./move-hits";
import { cutAtEnd, endOnLines, setLength, stretchBy } from "./stretch-hits";
import { changeTyped } from "./typed/typed-change";
import { accentHits, compressVelocity, loosenVelocity, rampVelocity, shiftVelocity } from "./weigh-hits";
import { writeHits, WRITTEN } from "./write-hits";

const empty = newBeat({ id: "e", name: "Edits" });
const patternRef = firstPlace(empty);
const at = (ticks: number) => ticks as Ticks;
/** Lane, place and velocity; all in one pass on sixteenths. */
function played(...hits: readonly (readonly [lane: number, ticks: number, velocity?: number])[]): Beat {
  const { beat, passId } = addPass(empty, patternRef, {
    name: "Played",
    muted: false,
    quantize: { grid: "1/16", strength: 1, reach: 1 },
  });
  const strokes = hits.map(([lane, ticks, velocity = 100]) => ({
    lane,
    played: { ticks: at(ticks), velocity },
    lengthTicks: at(60),
  }));
  return addHits(beat, patternRef, passId, strokes);
}
const pattern = (beat: Beat) => findPattern(beat, patternRef);
const soundsAt = (beat: Beat) =>
  resolveTiming(pattern(beat), beat.meter)
    .filter(({ duplicateOnLine }) => !duplicateOnLine)
    .map(({ hit, ticks }) => [hit.lane, ticks])
    .sort((a, b) => a[1]! - b[1]! || a[0]! - b[0]!);
const ids = (beat: Beat) => allHits(beat, patternRef);
const all = (beat: Beat) => new Set(ids(beat));
const velocities = (beat: Beat) => resolvedHits(pattern(beat), beat.meter).map(({ hit }) => levelOf(hit));

test("a hit on the wrong line goes to the next one, stays there whatever grid is set, and returns to where it was played", () => {
  const beat = played([2, 370]);
  expect(soundsAt(beat)).toEqual([[2, 480]]);
  const moved = moveByLines(beat, patternRef, all(beat), -1);
  expect(soundsAt(moved)).toEqual([[2, 240]]);
  const regridded = setQuantize(moved, patternRef, { kind: "all" }, { grid: "1/4", strength: 0.5 });
  expect(soundsAt(regridded)).toEqual([[2, 240]]);
  const returned = returnHits(moved, patternRef, all(beat));
  expect(returned.parts).toEqual(beat.parts);
  expect(soundsAt(returnToPlayed(regridded, patternRef))).toEqual([[2, 370]]);
});

test("a velocity by hand leaves the place to the grid; both return together", () => {
  const beat = played([2, 250, 40]);
  const louder = shiftVelocity(beat, patternRef, all(beat), 60);
  expect(velocities(louder)).toEqual([100]);
  expect(soundsAt(setQuantize(louder, patternRef, { kind: "all" }, { grid: "1/4" }))).toEqual([[2, 0]]);
  const both = moveHeard(louder, patternRef, all(beat), 12);
  expect(soundsAt(both)).toEqual([[2, 252]]);
  expect(velocities(both)).toEqual([100]);
  expect(returnHits(both, patternRef, all(beat)).parts).toEqual(beat.parts);
  expect(velocities(shiftVelocity(beat, patternRef, all(beat), 500))).toEqual([127]);
});

test("moves go round the loop's ends; a little before its start is early on the downbeat", () => {
  const beat = played([0, 0], [1, 7440]);
  expect(soundsAt(moveByLines(beat, patternRef, all(beat), 1))).toEqual([
    [1, 0],
    [0, 240],
  ]);
  expect(soundsAt(moveByLines(beat, patternRef, all(beat), -1))).toEqual([
    [1, 7200],
    [0, 7440],
  ]);
  expect(soundsAt(moveByBeats(beat, patternRef, all(beat), 1))).toEqual([
    [1, 720],
    [0, 960],
  ]);
  expect(soundsAt(moveHeard(beat, patternRef, all(beat), -10))).toEqual([
    [0, -10],
    [1, 7430],
  ]);
});

test("what is put on a line shares it with what the grid pulls there: the louder one sounds", () => {
  const beat = played([2, 235, 90], [2, 480, 60], [3, 480, 60]);
  const onto = moveByLines(beat, patternRef, new Set([ids(beat)[1]!]), -1);
  expect(soundsAt(onto)).toEqual([
    [2, 240],
    [3, 480],
  ]);
  const lane = moveToLanes(beat, patternRef, new Set([ids(beat)[2]!]), () => 2);
  expect(soundsAt(lane)).toHaveLength(2);
  expect(pattern(lane).passes[0]!.hits[2]).toMatchObject({ lane: 2, struckLane: 3 });
  expect(returnHits(lane, patternRef, all(lane)).parts).toEqual(beat.parts);
});

test("under swing and groove a hit is moved as it is heard, and what is flattened stays on its line", () => {
  const swung = setFeel(played([2, 240], [2, 960]), patternRef, { swing: { ratio: 2 / 3, unit: "1/16" } });
  expect(soundsAt(swung)[0]).toEqual([2, 320]);
  const [first] = soundsAt(moveHeard(swung, patternRef, all(swung), 15));
  expect(first![1]).toBeCloseTo(335, 9);
  const flat = flattenHits(swung, patternRef, all(swung));
  expect(soundsAt(setQuantize(flat, patternRef, { kind: "all" }, { grid: "1/2" }))).toEqual(soundsAt(swung));
});

test("keep takes along what hands made, and a point is gone back to exactly", () => {
  const beat = setLength(moveHeard(played([2, 250]), patternRef, new Set([4]), 7), patternRef, new Set([4]), at(500));
  const kept = keepTiming(beat, patternRef, "Mine");
  const after = (one: Beat) =>
    resolveTiming(pattern(one), one.meter).map(({ ticks, lengthTicks, velocity }) => [ticks, lengthTicks, velocity]);
  expect(after(kept)).toEqual(after(beat));
  const further = moveByBeats(kept, patternRef, all(kept), 1);
  expect(after(returnToPoint(further, patternRef, pattern(kept).points![0]!.id))).toEqual(after(beat));
});

test("velocities are typed, pressed together, loosened, ramped, and accented by the lines of the bar", () => {
  const beat = played([2, 0, 40], [2, 240, 80], [2, 480, 120], [2, 3840, 60]);
  const four = all(beat);
  expect(velocities(changeTyped(beat, patternRef, four, "velocity", "50%"))).toEqual([20, 40, 60, 30]);
  expect(velocities(changeTyped(beat, patternRef, four, "velocity", "62"))).toEqual([62, 62, 62, 62]);
  expect(velocities(compressVelocity(beat, patternRef, four, 0.5))).toEqual([58, 78, 98, 68]);
  const loose = velocities(loosenVelocity(beat, patternRef, four, 10, 7));
  expect(loose).not.toEqual(velocities(beat));
  expect(velocities(loosenVelocity(beat, patternRef, four, 10, 7))).toEqual(loose);
  loose.forEach((velocity, index) => expect(Math.abs(velocity - velocities(beat)[index]!)).toBeLessThanOrEqual(10));
  const ramp = rampVelocity(beat, patternRef, four, { ticks: at(480), velocity: 100 }, { ticks: at(0), velocity: 20 });
  expect(velocities(ramp)).toEqual([20, 60, 100, 60]);
  expect(velocities(accentHits(beat, patternRef, four, [110, undefined, 90]))).toEqual([110, 80, 90, 110]);
});

test("lengths are set, stretched, ended on lines, and cut at the loop's end", () => {
  const lengths = (one: Beat) => resolveTiming(pattern(one), one.meter).map(({ lengthTicks }) => lengthTicks);
  const beat = played([2, 0], [2, 7440]);
  expect(lengths(setLength(beat, patternRef, all(beat), at(300)))).toEqual([300, 300]);
  expect(lengths(stretchBy(beat, patternRef, all(beat), -100))).toEqual([1, 1]);
  expect(lengths(endOnLines(setLength(beat, patternRef, all(beat), at(370)), patternRef, all(beat)))).toEqual([
    480, 480,
  ]);
  expect(lengths(cutAtEnd(setLength(beat, patternRef, all(beat), at(370)), patternRef, all(beat)))).toEqual([370, 240]);
});

test("hits are chosen by what they are", () => {
  const beat = played([0, 0, 100], [2, 260, 30], [2, 480, 100], [1, 3835, 90], [1, 3860, 50]);
  const [kick, soft, hat, early, covered] = ids(beat) as [number, number, number, number, number];
  const where = (one: Parameters<typeof hitsWhere>[2]) => hitsWhere(beat, patternRef, one);
  expect(where({ lanes: new Set([2]) })).toEqual([soft, hat]);
  expect(where({ upTo: 50 })).toEqual([soft, covered]);
  expect(where({ from: 100, lanes: new Set([2]) })).toEqual([hat]);
  // At 100 BPM 20 ticks are 12.5 ms.
  expect(where({ offByMs: 12.4 })).toEqual([soft, covered]);
  expect(where({ offByMs: 12.6 })).toEqual([]);
  expect(where({ silent: "covered" })).toEqual([covered]);
  expect(where({ grid: "off" })).toEqual([]);
  expect(hitsOnLine(beat, patternRef, at(3700))).toEqual([]);
  expect(hitsOnLine(beat, patternRef, at(3900))).toEqual([early, covered]);
  expect(hitsInBar(beat, patternRef, 1)).toEqual([early, covered]);
  expect(invertHits(beat, patternRef, new Set([kick, hat]))).toEqual([soft, early, covered]);
  expect(new Set(growHits(beat, patternRef, new Set([soft])))).toEqual(new Set([soft, hat]));
  expect(nextHit(beat, patternRef, "soft", kick)).toBe(soft);
  expect(nextHit(beat, patternRef, "late", soft)).toBe(covered);
  expect(nextHit(beat, patternRef, "late", covered)).toBe(soft);
  expect(nextHit(beat, patternRef, "double", undefined)).toBeUndefined();
});

test("a bar is copied onto the others, a figure repeated until the loop is full, a loop doubled and halved", () => {
  const bar = played([0, 3], [2, 250], [1, 4800]);
  expect(soundsAt(copyBar(bar, patternRef, 0).beat)).toEqual([
    [0, 0],
    [2, 240],
    [0, 3840],
    [2, 4080],
  ]);
  const figure = played([2, 0, 90], [2, 250, 50], [2, 5000], [0, 5000]);
  const repeated = repeatHits(figure, patternRef, new Set(ids(figure).slice(0, 2))).beat;
  const hats = soundsAt(repeated).filter(([lane]) => lane === 2);
  expect(hats.map(([, ticks]) => ticks)).toEqual(Array.from({ length: 8 }, (_, n) => [960 * n, 960 * n + 240]).flat());
  expect(soundsAt(repeated).filter(([lane]) => lane === 0)).toEqual([[0, 5040]]);
  const doubled = doubleLoop(bar, patternRef);
  expect(pattern(doubled).bars).toBe(4);
  const twice = [...soundsAt(bar), ...soundsAt(bar).map(([lane, ticks]) => [lane!, ticks! + 7680])];
  expect(soundsAt(doubled)).toEqual(twice);
  expect(soundsAt(halveLoop(doubled, patternRef))).toEqual(soundsAt(bar));
  expect(halveLoop(halveLoop(bar, patternRef), patternRef)).toEqual(halveLoop(bar, patternRef));
});

test("what is written goes into a pass of its own, which sounds beside soloed ones, and follows the swing", () => {
  const soloed = soloPass(played([0, 0]), patternRef, pattern(played([0, 0])).passes[0]!.id, true);
  const beat = setFeel(soloed, patternRef, { swing: { ratio: 2 / 3, unit: "1/16" } });
  const hit = { lane: 2, ticks: at(240), velocity: 80, lengthTicks: at(240) };
  const once = writeHits(beat, patternRef, [hit]);
  const again = writeHits(once.beat, patternRef, [{ ...hit, ticks: at(480) }]);
  expect(pattern(again.beat).passes.map(({ name, hits }) => [name, hits.length])).toEqual([
    ["Played", 1],
    [WRITTEN, 2],
  ]);
  expect(soundsAt(again.beat)).toEqual([
    [0, 0],
    [2, 320],
    [2, 480],
  ]);
  expect(pattern(returnHits(again.beat, patternRef, new Set(again.ids))).passes[1]!.hits[1]!.start).toBeUndefined();
});

// ---- whatever is done

const strokes = fc.array(
  fc.record({
    lane: fc.integer({ min: 0, max: 3 }),
    ticks: fc.integer({ min: -100 * 8, max: 7600 * 8 }).map((eighths) => at(eighths / 8)),
    velocity: fc.integer({ min: 1, max: 127 }),
  }),
  { minLength: 1, maxLength: 25 },
);
const feels = fc.record({
  groove: fc.constantFrom(...BUILT_IN_GROOVES),
  swing: fc.double({ min: 0.5, max: 0.7, noNaN: true }),
});
const anyBeat = fc.tuple(strokes, feels).map(([hits, { groove, swing }]) =>
  setFeel(played(...hits.map(({ lane, ticks, velocity }) => [lane, ticks, velocity] as const)), patternRef, {
    swing: { ratio: swing, unit: "1/16" },
    groove: { groove, timing: 0.7, velocity: 0.6 },
    looseness: undefined,
  }),
);
type Edit = (beat: Beat, chosen: ReadonlySet<number>, by: number) => Beat;
const EDITS: Readonly<Record<string, Edit>> = {
  lines: (beat, chosen, by) => moveByLines(beat, patternRef, chosen, by),
  beats: (beat, chosen, by) => moveByBeats(beat, patternRef, chosen, by),
  heard: (beat, chosen, by) => moveHeard(beat, patternRef, chosen, by * 1.7),
  lanes: (beat, chosen, by) => moveToLanes(beat, patternRef, chosen, (lane) => (lane + Math.abs(by)) % 4),
  velocity: (beat, chosen, by) => shiftVelocity(beat, patternRef, chosen, by * 9),
  accents: (beat, chosen, by) => accentHits(beat, patternRef, chosen, [100 + by, undefined, 50]),
  length: (beat, chosen, by) => stretchBy(beat, patternRef, chosen, by * 50),
  ends: (beat, chosen) => endOnLines(beat, patternRef, chosen),
  flatten: (beat, chosen) => flattenHits(beat, patternRef, chosen),
  return: (beat, chosen) => returnHits(beat, patternRef, chosen),
  remove: (beat, chosen) => removeHits(beat, patternRef, ({ id }) => chosen.has(id)),
  paste: (beat, chosen, by) => {
    const clip = copyHits(beat, patternRef, chosen);
    return clip ? pasteHits(beat, patternRef, clip, at(240 * Math.abs(by))).beat : beat;
  },
  repeat: (beat, chosen) => repeatHits(beat, patternRef, chosen).beat,
  copyBar: (beat, _, by) => copyBar(beat, patternRef, Math.abs(by) % pattern(beat).bars).beat,
  keep: (beat) => keepTiming(beat, patternRef, "Kept"),
};
const anyEdits = fc.array(
  fc.tuple(fc.constantFrom(...Object.keys(EDITS)), fc.integer({ min: -9, max: 9 }), fc.integer({ min: 1, max: 4 })),
  { minLength: 1, maxLength: 12 },
);

test("any edits leave a beat that can be read, every stroke as it was played, and one sounding hit a lane and place", () =>
  fc.assert(
    fc.property(anyBeat, anyEdits, (start, edits) => {
      const strokesOf = (beat: Beat) =>
        new Map(pattern(beat).passes.flatMap(({ hits }) => hits.map((hit) => [hit.id, hit.played] as const)));
      let beat = start;
      for (const [name, by, every] of edits) {
        const before = strokesOf(beat);
        beat = EDITS[name]!(beat, new Set(ids(beat).filter((_, index) => index % every === 0)), by);
        for (const [id, stroke] of strokesOf(beat)) if (before.has(id)) expect(stroke).toEqual(before.get(id));
      }
      expect(readBeatFile(writeBeatFile(beat)).parts).toBeDefined();
      const length = patternLengthTicks(pattern(beat), beat.meter);
      const places = resolveTiming(pattern(beat), beat.meter)
        .filter(({ duplicateOnLine, hit }) => !duplicateOnLine && hit.start?.by !== "keep")
        .map(({ hit, straightTicks }) => `${hit.lane} ${wrap(Math.round(straightTicks), length)}`);
      const together = places.length - new Set(places).size;
      // Hits that no grid pulls are not on a line; only what shares one to the tick counts.
      const isFree = ({ hit, line }: ResolvedHit) => line === undefined && hit.start?.ticks === undefined;
      const free = resolveTiming(pattern(beat), beat.meter).filter(isFree).length;
      expect(together).toBeLessThanOrEqual(free);
    }),
    { numRuns: 150 },
  ));

test("cut and paste keeps distances to the tick, in other patterns and other beats, and tells what does not fit", () =>
  fc.assert(
    fc.property(anyBeat, fc.integer({ min: 0, max: 31 }), (beat, line) => {
      const clip = copyHits(beat, patternRef, all(beat))!;
      const from = clip.hits.map(({ lane, start }) => [lane, start!.ticks!] as const);
      const other = addPattern(newBeat({ id: "o", name: "Other" }), patternRef);
      const same = pasteHits(other.beat, other.patternRef, clip);
      const placed = findPattern(same.beat, other.patternRef).passes[0]!.hits.map(({ lane, start }) => [
        lane,
        start!.ticks!,
      ]);
      expect(placed).toEqual(from);
      expect(removePattern(same.beat, other.patternRef).parts).toEqual(
        removePattern(other.beat, other.patternRef).parts,
      );
      const moved = pasteHits(other.beat, other.patternRef, clip, at(240 * line));
      const hits = findPattern(moved.beat, other.patternRef).passes[0]!.hits;
      const far = wrap(hits[0]!.start!.ticks! - from[0]![1], 7680);
      hits.forEach(({ start }, index) => expect(wrap(start!.ticks! - from[index]![1], 7680)).toBeCloseTo(far, 9));
    }),
    { numRuns: 60 },
  ));

test("hits of a kit do not go to a part with pitch, nor to pads that are not there", () => {
  const tonal = addTonalPart(played([2, 0], [15, 240]), "keel");
  const keel = { partId: tonal.beat.parts[1]!.id, patternId: tonal.beat.parts[1]!.patterns[0]!.id };
  const clip = copyHits(tonal.beat, patternRef, all(tonal.beat))!;
  expect(pasteHits(tonal.beat, keel, clip)).toMatchObject({ beat: tonal.beat, ids: [], left: 2 });
  const lacking = { ...clip, hits: clip.hits.map((hit, index) => (index ? { ...hit, lane: 90 } : hit)) };
  expect(pasteHits(tonal.beat, patternRef, lacking)).toMatchObject({ left: 1 });
});

test("hits are dragged along by one of them, pulled to lines or free, round the end, and copies count as played where they went", () => {
  const beat = played([0, 250, 90], [2, 500, 60]);
  const [kick] = ids(beat) as [number, number];
  const drag = { hitId: kick, free: false, copy: false, laneOf: () => undefined };
  const to = (one: Partial<Parameters<typeof dropHits>[3]>) =>
    dropHits(beat, patternRef, all(beat), { ...drag, toTicks: at(500), ...one });
  expect(soundsAt(to({}).beat)).toEqual([
    [0, 480],
    [2, 720],
  ]);
  expect(soundsAt(to({ free: true }).beat)).toEqual([
    [0, 500],
    [2, 740],
  ]);
  expect(soundsAt(to({ toTicks: at(7640) }).beat)).toEqual([
    [0, 0],
    [2, 240],
  ]);
  expect(soundsAt(to({ laneOf: (lane) => lane + 1 }).beat)).toEqual([
    [1, 480],
    [3, 720],
  ]);
  // At 100 BPM 20 ticks are 12.5 ms.
  expect(dragTarget(beat, patternRef, { ...drag, toTicks: at(500), free: true })).toEqual({
    ticks: 500,
    byTicks: 260,
    offMs: 12.5,
  });
  const copied = to({ copy: true, laneOf: (lane: number) => lane + 1 });
  expect(soundsAt(copied.beat)).toHaveLength(4);
  const back = returnHits(copied.beat, patternRef, new Set(copied.ids));
  expect(soundsAt(back)).toEqual(soundsAt(copied.beat));
  expect(pattern(back).passes[0]!.hits.map(({ played: { ticks } }) => ticks)).toEqual([250, 500, 490, 740]);
});

test("a change that changes nothing is none", () => {
  const beat = played([2, 240]);
  expect(changeHits(beat, patternRef, all(beat), () => ({ velocity: 100, lengthTicks: at(60), lane: 2 }))).toBe(beat);
  expect(moveByLines(beat, patternRef, new Set(), 1)).toBe(beat);
});
