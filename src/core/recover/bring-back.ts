import { median } from "simple-statistics";
import type { Beat, PatternPlace } from "../beat/beat";
import { hitCount, patternLengthTicks } from "../beat/beat";
import { addHits, addPass, findPattern, setBars, setTempo, type NewHit } from "../beat/edit";
import { MAX_BARS } from "../beat/new-beat";
import { addPattern } from "../beat/pattern-edit";
import { chooseTake } from "../beat/takes";
import { CoreError } from "../core-error";
import { groupBy } from "../group-by";
import { STROKE_LENGTH_TICKS } from "../record/record-stroke";
import type { Ticks } from "../time/ticks";
import { TICKS_PER_QUARTER } from "../time/ticks";
import type { Echo, LookbackHit, PlayedAlong } from "./echo";
import type { Reading } from "./readings";

/** How several laps of one loop come back. */
export const FOLDS = ["merged", "last", "takes", "unrolled"] as const;
export type Fold = (typeof FOLDS)[number];

export interface BroughtBack {
  readonly beat: Beat;
  readonly place: PatternPlace;
}

type AlongHit = LookbackHit & { readonly along: PlayedAlong };

/** Strokes of one pad in several laps that lie nearer than this are the same stroke: half a sixteenth. */
const SAME_STROKE_TICKS = 120;
const NAME = "Echo";

/** The strokes of an echo that were played along with a pattern, and are not in it already. */
export function alongHits({ hits }: Echo, beatId: string): readonly AlongHit[] {
  return hits.filter((hit): hit is AlongHit => hit.along?.beatId === beatId && !hit.along.recorded);
}

/**
 * Brings back what was played along with a pattern, exactly where it was played: all laps merged (the same stroke in
 * several laps becomes one, with its median time and velocity), the last lap that was played through, every lap as a take,
 * or all laps one after the other in a pattern of their own.
 * @throws CoreError "bad-value" where there is nothing to bring back, or it would be too long; "unknown-id" where the
 *   pattern is gone
 */
export function bringBackAlong(beat: Beat, echo: Echo, fold: Fold): BroughtBack {
  const hits = alongHits(echo, beat.id);
  if (hits.length === 0) throw new CoreError("bad-value", "Nothing of this echo was played along with this beat.");
  const { partId, patternId } = hits[0].along;
  const place = { partId, patternId };
  const own = hits.filter(({ along }) => along.patternId === patternId);
  const laps = byLap(own);
  switch (fold) {
    case "merged":
      return { place, beat: withPass(beat, place, NAME, laps.length === 1 ? own.map(toHit) : merged(own)) };
    case "last":
      return { place, beat: withPass(beat, place, NAME, lastFull(laps).map(toHit)) };
    case "takes":
      return { place, beat: withTakes(beat, place, laps) };
    case "unrolled":
      return unrolled(beat, place, own);
  }
}

/**
 * Brings back what was played free, by a reading: an empty beat takes its tempo, another one keeps its own and the playing
 * is fitted to it. It goes into the open pattern where that is empty, else into a new one, as long as the reading says.
 * @throws CoreError "too-large" when all places for patterns are taken
 */
export function bringBackFree(beat: Beat, open: PatternPlace, echo: Echo, reading: Reading): BroughtBack {
  const fresh = hitCount(beat) === 0;
  const timed = fresh ? setTempo(beat, Number(reading.bpm.toFixed(2))) : beat;
  const empty = findPattern(timed, open).passes.every(({ hits }) => hits.length === 0);
  const made = empty ? { beat: timed, place: open } : addPattern(timed, open);
  const long = setBars(made.beat, made.place, Math.min(MAX_BARS, reading.bars));
  const length = patternLengthTicks(findPattern(long, made.place), long.meter);
  const ticksPerMs = (reading.bpm * TICKS_PER_QUARTER) / 60_000;
  const hits = echo.hits.map((hit): NewHit => {
    const ticks = (hit.timeMs - reading.downbeat * 1000) * ticksPerMs;
    return { ...toHit(hit), playedTicks: wrapPickup(ticks, length) };
  });
  return { beat: withPass(long, made.place, NAME, hits), place: made.place };
}

/** What leads into the first downbeat sounds at the end of the loop, where it leads into the next one. */
function wrapPickup(ticks: number, length: number): Ticks {
  return (ticks < -SAME_STROKE_TICKS ? ((ticks % length) + length) % length : ticks) as Ticks;
}

function toHit({ pad, velocity, masked, along }: LookbackHit): NewHit {
  return {
    pad,
    velocity,
    playedTicks: along?.playedTicks ?? (0 as Ticks),
    ...(along?.straightTicks !== undefined && { straightTicks: along.straightTicks }),
    lengthTicks: STROKE_LENGTH_TICKS,
    ...(masked && { masked }),
    ...(along && { lap: along.lap }),
  };
}

/** As it was played: quantize is there to be chosen, not imposed. */
function withPass(beat: Beat, place: PatternPlace, name: string, hits: readonly NewHit[], more = {}): Beat {
  const quantize = { ...beat.inputQuantize, grid: "off" } as const;
  const added = addPass(beat, place, { name, muted: false, quantize, ...more });
  return addHits(added.beat, place, added.passId, hits);
}

function byLap(hits: readonly AlongHit[]): readonly (readonly AlongHit[])[] {
  const laps = groupBy(hits, ({ along }) => along.lap);
  return [...laps].sort(([a], [b]) => a - b).map(([, own]) => own);
}

/** The last lap with at least half as many strokes as the fullest one. */
function lastFull(laps: readonly (readonly AlongHit[])[]): readonly AlongHit[] {
  const most = Math.max(...laps.map(({ length }) => length));
  return laps.findLast(({ length }) => length * 2 >= most)!;
}

function merged(hits: readonly AlongHit[]): NewHit[] {
  const groups: AlongHit[][] = [];
  const inPlace = hits.toSorted((a, b) => a.pad - b.pad || a.along.playedTicks - b.along.playedTicks);
  for (const hit of inPlace) {
    const group = groups.at(-1);
    const first = group?.[0];
    const same =
      first?.pad === hit.pad &&
      hit.along.playedTicks - first.along.playedTicks < SAME_STROKE_TICKS &&
      !group!.some(({ along }) => along.lap === hit.along.lap);
    if (same) group!.push(hit);
    else groups.push([hit]);
  }
  return groups.map((group) => {
    const [first] = group;
    const { straightTicks: _, lap: __, ...hit } = toHit(first);
    const middle = (value: (one: AlongHit) => number) => median(group.map(value));
    const straight = group.every(({ along }) => along.straightTicks !== undefined);
    return {
      ...hit,
      playedTicks: middle(({ along }) => along.playedTicks) as Ticks,
      ...(straight && { straightTicks: middle(({ along }) => along.straightTicks!) as Ticks }),
      velocity: Math.round(middle(({ velocity }) => velocity)),
    };
  });
}

function withTakes(start: Beat, place: PatternPlace, laps: readonly (readonly AlongHit[])[]): Beat {
  const take = start.nextId;
  let beat = start;
  let newest = start.nextId;
  laps.forEach((hits, index) => {
    newest = beat.nextId;
    beat = withPass(beat, place, `Take ${index + 1}`, hits.map(toHit), { take });
  });
  return chooseTake(beat, place, newest);
}

function unrolled(start: Beat, like: PatternPlace, hits: readonly AlongHit[]): BroughtBack {
  const { bars } = findPattern(start, like);
  const firstLap = hits.reduce((least, { along }) => Math.min(least, along.lap), Infinity);
  const laps = hits.reduce((most, { along }) => Math.max(most, along.lap), 0) - firstLap + 1;
  if (laps * bars > MAX_BARS)
    throw new CoreError("bad-value", `Unrolled this echo is ${laps * bars} bars long; ${MAX_BARS} are the most.`);
  const { beat, place } = addPattern(start, like);
  const length = patternLengthTicks(findPattern(start, like), start.meter);
  const long = setBars(beat, place, laps * bars);
  const moved = hits.map((hit) => {
    const by = (hit.along.lap - firstLap) * length;
    const { playedTicks, straightTicks, ...rest } = toHit(hit);
    return {
      ...rest,
      playedTicks: (playedTicks + by) as Ticks,
      ...(straightTicks !== undefined && { straightTicks: (straightTicks + by) as Ticks }),
    };
  });
  return { beat: withPass(long, place, NAME, moved), place };
}
