import type { Beat, Hit, Lane, PatternRef } from "../beat/beat";
import { findPattern, numberHit } from "../beat/edit";
import { ticksToSeconds } from "../time/tempo";
import type { Ticks } from "../time/ticks";
import { unwarpTicks, warpTicks } from "../time/warp";
import { feelOf } from "../timing/feel-of";
import { cachedHeard } from "../timing/heard";
import type { HeardHit } from "../timing/heard-hit";
import { copiesInPlace, shiftedHit } from "./copy-hits";
import { editLines, linesBeside } from "./edit-lines";
import { intoLoop, replaceHits, type HitIds } from "./hand-change";
import { moveHeard, moveStraight, moveToLanes } from "./move-hits";
import type { Written } from "./write-hits";

/** Hits that are drawn along by one of them. */
export interface HitDrag {
  /** The one under the pointer. */
  readonly hitId: number;
  /** Where it is to be heard, if lines did not pull it. */
  readonly toTicks: Ticks;
  /** Lines do not pull. */
  readonly free: boolean;
  /** The lane that each one goes to. */
  readonly laneOf: (lane: Lane) => Lane | undefined;
  /** They stay, and copies of them go. */
  readonly copy: boolean;
}

/** Where a drag brings the hit under the pointer, for the picture. */
export interface DragTarget {
  /** Where it will be heard, within the loop. */
  readonly ticks: Ticks;
  /** How far that is from where it is heard now. */
  readonly byTicks: number;
  /** From the nearest line, as it is heard; late is positive. */
  readonly offMs: number;
}

/** @returns undefined where the hit is gone */
export function dragTarget(beat: Beat, place: PatternRef, drag: HitDrag): DragTarget | undefined {
  const pattern = findPattern(beat, place);
  const grabbed = heardHit(beat, place, drag.hitId);
  if (!grabbed) return undefined;
  const { warp } = feelOf(pattern, beat.meter)(grabbed.hit.lane);
  const line = pullingLine(beat, place, grabbed, drag);
  const byTicks = (drag.free ? drag.toTicks : warpTicks(warp, line)) - grabbed.ticks;
  const ticks = intoLoop(grabbed.ticks + byTicks, pattern, beat);
  const offTicks = (grabbed.ticks + byTicks - warpTicks(warp, line)) as Ticks;
  return { ticks, byTicks, offMs: ticksToSeconds(offTicks, beat.bpm) * 1000 };
}

/** Lets go of what is dragged; all go as far as the one under the pointer. @returns the ids of what has been moved */
export function dropHits(beat: Beat, place: PatternRef, ids: HitIds, drag: HitDrag): Written {
  const grabbed = heardHit(beat, place, drag.hitId);
  if (!grabbed) return { beat, ids: [...ids] };
  const moving = drag.copy ? copiesInPlace(beat, place, ids) : { beat, ids: [...ids] };
  const moved = new Set(moving.ids);
  const shifted = drag.free
    ? moveHeard(moving.beat, place, moved, drag.toTicks - grabbed.ticks)
    : moveStraight(moving.beat, place, moved, pullingLine(beat, place, grabbed, drag) - grabbed.straightTicks);
  const dropped = moveToLanes(shifted, place, moved, drag.laneOf);
  return { beat: drag.copy ? playedThere(dropped, place, moved, moving.beat) : dropped, ids: moving.ids };
}

/** Copies count as played where they were dropped, as early or late as what they are copies of. @param before they were moved */
function playedThere(beat: Beat, place: PatternRef, ids: HitIds, before: Beat): Beat {
  const from = new Map(
    cachedHeard(findPattern(before, place), before.meter).map(({ hit, straightTicks }) => [hit.id, straightTicks]),
  );
  const copies = new Map<number, Hit>();
  for (const { hits } of findPattern(beat, place).passes)
    for (const hit of hits) {
      const to = hit.start?.ticks;
      if (!ids.has(hit.id) || to === undefined) continue;
      const { struckLane: _, start, ...copy } = hit;
      const { played } = shiftedHit(hit, to - from.get(hit.id)!);
      copies.set(hit.id, numberHit({ ...copy, ...(start && { start }), played }, hit.id));
    }
  return replaceHits(beat, place, copies);
}

/** The line nearest to where the hit under the pointer is to be heard, on the straight grid. */
function pullingLine(beat: Beat, place: PatternRef, grabbed: HeardHit, { toTicks }: HitDrag): Ticks {
  const pattern = findPattern(beat, place);
  const { warp } = feelOf(pattern, beat.meter)(grabbed.hit.lane);
  const straight = unwarpTicks(warp, toTicks);
  const { before, after } = linesBeside(editLines(pattern, beat.meter, beat.inputQuantize), straight);
  return straight - before < after - straight ? before : after;
}

function heardHit(beat: Beat, place: PatternRef, id: number): HeardHit | undefined {
  return cachedHeard(findPattern(beat, place), beat.meter).find(({ hit }) => hit.id === id);
}
