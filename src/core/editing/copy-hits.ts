import { patternLengthTicks, type Beat, type Hit, type Pass, type PatternRef } from "../beat/beat";
import { editPattern, findPattern, numberHit, setBars, type NewHit } from "../beat/edit";
import { removeHits } from "../beat/edits/pass-edit";
import { barTicks, beatTicks, type Meter } from "../time/meter";
import { asTicks, type Ticks } from "../time/ticks";
import { resolvedHits } from "../timing/resolve-timing";
import { isBeyond, type ResolvedHit } from "../timing/resolved-hit";
import type { HitIds } from "./hand-change";
import type { Written } from "./write-hits";

/**
 * The same stroke so much later, with all that corrects it. Which lap it was played in no longer means anything.
 * @example shiftedHit(pattern.passes[0].hits[0], 960).played.ticks // 967
 */
export function shiftedHit(hit: Hit, byTicks: number): NewHit {
  const { id: _, lap: __, played, start, downbeatTicks, ...rest } = hit;
  const later = (ticks: Ticks) => asTicks(ticks + byTicks);
  const { ticks, straightTicks, velocity } = played;
  return {
    ...rest,
    played: {
      ticks: later(ticks),
      ...(straightTicks !== undefined && { straightTicks: later(straightTicks) }),
      velocity,
    },
    ...(start && { start: start.ticks === undefined ? start : { ...start, ticks: later(start.ticks) } }),
    ...(downbeatTicks !== undefined && { downbeatTicks: later(downbeatTicks) }),
  };
}

/** Copies hits within their passes, so that the same grids correct them. @param shifts how much later, for each hit that is copied */
function copyInPasses(beat: Beat, patternRef: PatternRef, shifts: ReadonlyMap<number, readonly number[]>): Written {
  let nextId = beat.nextId;
  const ids: number[] = [];
  const copiesIn = (pass: Pass) =>
    pass.hits.flatMap((hit) =>
      (shifts.get(hit.id) ?? []).map((by) => {
        ids.push(nextId);
        return numberHit(shiftedHit(hit, by), nextId++);
      }),
    );
  const next = editPattern(beat, patternRef, (pattern) => ({
    ...pattern,
    passes: pattern.passes.map((pass) => {
      const copies = copiesIn(pass);
      return copies.length > 0 ? { ...pass, hits: [...pass.hits, ...copies] } : pass;
    }),
  }));
  return ids.length > 0 ? { beat: { ...next, nextId }, ids } : { beat, ids };
}

/** The same hits once more, in the same places: what is done with the copies leaves these as they are. */
export function copiesInPlace(beat: Beat, patternRef: PatternRef, ids: HitIds): Written {
  return copyInPasses(beat, patternRef, new Map([...ids].map((id) => [id, [0]])));
}

/**
 * Repeats hits behind themselves until the loop is full, in place of what their lanes have there. They come again after the
 * shortest of a beat, two beats, a bar, two bars and so on that they fit into.
 */
export function repeatHits(beat: Beat, patternRef: PatternRef, ids: HitIds): Written {
  const pattern = findPattern(beat, patternRef);
  const all = resolvedHits(pattern, beat.meter);
  const chosen = all.filter(({ hit }) => ids.has(hit.id));
  if (chosen.length === 0) return { beat, ids: [] };
  const length = pattern.bars * barTicks(beat.meter);
  const places = chosen.map(({ straightTicks }) => Math.max(0, straightTicks));
  const beatLong = beatTicks(beat.meter);
  const first = Math.floor(Math.min(...places) / beatLong) * beatLong;
  const period = periodOf(Math.max(...places) - first, beat.meter);
  const lanes = new Set(chosen.map(({ hit }) => hit.lane));
  const behind = all.filter(
    ({ hit, straightTicks }) => lanes.has(hit.lane) && !ids.has(hit.id) && straightTicks >= first + period,
  );
  const cleared = withoutHits(beat, patternRef, behind);
  const times = Math.ceil((length - first) / period);
  const shifts = chosen.map(({ hit, straightTicks }) => {
    const all = Array.from({ length: times - 1 }, (_, index) => (index + 1) * period);
    return [hit.id, all.filter((by) => straightTicks + by < length)] as const;
  });
  return copyInPasses(cleared, patternRef, new Map(shifts));
}

/** @param extentTicks from the first beat line to the last hit @returns what is longer than that */
function periodOf(extentTicks: number, meter: Meter): number {
  const bar = barTicks(meter);
  const beats = [1, ...(meter.beats % 2 === 0 ? [2] : [])].map((count) => count * beatTicks(meter));
  const short = beats.find((ticks) => ticks > extentTicks && ticks < bar);
  if (short) return short;
  let bars = 1;
  while (bars * bar <= extentTicks) bars *= 2;
  return bars * bar;
}

/**
 * Makes all bars of a loop like one of them.
 * @param bar from 0
 * @example hitCount(copyBar(beat, patternRef, 0).beat) // 16
 */
export function copyBar(beat: Beat, patternRef: PatternRef, bar: number): Written {
  const pattern = findPattern(beat, patternRef);
  const long = barTicks(beat.meter);
  const all = resolvedHits(pattern, beat.meter);
  const inBar = ({ straightTicks }: ResolvedHit) => Math.max(0, Math.floor(straightTicks / long)) === bar;
  const others = all.filter((one) => !inBar(one));
  const shifts = Array.from({ length: pattern.bars }, (_, index) => (index - bar) * long).filter((by) => by !== 0);
  const cleared = withoutHits(beat, patternRef, others);
  return copyInPasses(cleared, patternRef, new Map(all.filter(inBar).map(({ hit }) => [hit.id, shifts])));
}

/**
 * Twice as long, and what it has once more behind.
 * @throws CoreError "bad-value" above 2000 bars
 * @example hitCount(doubleLoop(beat, patternRef)) // 16
 */
export function doubleLoop(beat: Beat, patternRef: PatternRef): Beat {
  const pattern = findPattern(beat, patternRef);
  const length = patternLengthTicks(pattern, beat.meter);
  const longer = setBars(beat, patternRef, pattern.bars * 2);
  // What was silent behind the end makes room for the copy.
  const behind = pattern.passes.flatMap(({ hits }) => hits).filter((hit) => isBeyond(hit, length));
  const gone = new Set(behind.map(({ id }) => id));
  const cleared = removeHits(longer, patternRef, ({ id }) => gone.has(id));
  const kept = findPattern(cleared, patternRef).passes.flatMap(({ hits }) => hits);
  return copyInPasses(cleared, patternRef, new Map(kept.map(({ id }) => [id, [length]]))).beat;
}

/**
 * Half as long; what lies behind the new end is kept, and silent.
 * @returns the same beat for an odd number of bars
 * @example findPattern(halveLoop(beat, patternRef), patternRef).bars // 1
 */
export function halveLoop(beat: Beat, patternRef: PatternRef): Beat {
  const { bars } = findPattern(beat, patternRef);
  return bars % 2 === 1 ? beat : setBars(beat, patternRef, bars / 2);
}

function withoutHits(beat: Beat, patternRef: PatternRef, hits: readonly ResolvedHit[]): Beat {
  const gone = new Set(hits.map(({ hit }) => hit.id));
  // Passes that lose all their hits are not filled again, so they may go.
  return removeHits(beat, patternRef, ({ id }) => gone.has(id));
}
