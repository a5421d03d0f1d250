import type { Beat, Hit, Lane, PatternRef } from "../beat/beat";
import { findPattern, numberHit } from "../beat/edit";
import { ticksToSeconds } from "../time/tempo";
import { asTicks, type Ticks } from "../time/ticks";
import { unwarpTicks, warpTicks } from "../time/warp";
import { feelOf } from "../timing/feel-of";
import { resolvedHits } from "../timing/resolve-timing";
import type { ResolvedHit } from "../timing/resolved-hit";
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
export function dragTarget(beat: Beat, patternRef: PatternRef, drag: HitDrag): DragTarget | undefined {
  const pattern = findPattern(beat, patternRef);
  const grabbed = heardHit(beat, patternRef, drag.hitId);
  if (!grabbed) return undefined;
  const { warp } = feelOf(pattern, beat.meter)(grabbed.hit.lane);
  const line = pullingLine(beat, patternRef, grabbed, drag);
  const byTicks = (drag.free ? drag.toTicks : warpTicks(warp, line)) - grabbed.ticks;
  const ticks = intoLoop(grabbed.ticks + byTicks, pattern, beat);
  const offTicks = asTicks(grabbed.ticks + byTicks - warpTicks(warp, line));
  return { ticks, byTicks, offMs: ticksToSeconds(offTicks, beat.bpm) * 1000 };
}

/** Lets go of what is dragged; all go as far as the one under the pointer. @returns the ids of what has been moved */
export function dropHits(beat: Beat, patternRef: PatternRef, ids: HitIds, drag: HitDrag): Written {
  const grabbed = heardHit(beat, patternRef, drag.hitId);
  if (!grabbed) return { beat, ids: [...ids] };
  const moving = drag.copy ? copiesInPlace(beat, patternRef, ids) : { beat, ids: [...ids] };
  const moved = new Set(moving.ids);
  const shifted = drag.free
    ? moveHeard(moving.beat, patternRef, moved, drag.toTicks - grabbed.ticks)
    : moveStraight(
        moving.beat,
        patternRef,
        moved,
        pullingLine(beat, patternRef, grabbed, drag) - grabbed.straightTicks,
      );
  const dropped = moveToLanes(shifted, patternRef, moved, drag.laneOf);
  return { beat: drag.copy ? playedThere(dropped, patternRef, moved, moving.beat) : dropped, ids: moving.ids };
}

/** Copies count as played where they were dropped, as early or late as what they are copies of. @param before they were moved */
function playedThere(beat: Beat, patternRef: PatternRef, ids: HitIds, before: Beat): Beat {
  const from = new Map(
    resolvedHits(findPattern(before, patternRef), before.meter).map(({ hit, straightTicks }) => [
      hit.id,
      straightTicks,
    ]),
  );
  const copies = new Map<number, Hit>();
  for (const { hits } of findPattern(beat, patternRef).passes)
    for (const hit of hits) {
      const to = hit.start?.ticks;
      if (!ids.has(hit.id) || to === undefined) continue;
      const { struckLane: _, start, ...copy } = hit;
      const { played } = shiftedHit(hit, to - from.get(hit.id)!);
      copies.set(hit.id, numberHit({ ...copy, ...(start && { start }), played }, hit.id));
    }
  return replaceHits(beat, patternRef, copies);
}

/** The line nearest to where the hit under the pointer is to be heard, on the straight grid. */
function pullingLine(beat: Beat, patternRef: PatternRef, grabbed: ResolvedHit, { toTicks }: HitDrag): Ticks {
  const pattern = findPattern(beat, patternRef);
  const { warp } = feelOf(pattern, beat.meter)(grabbed.hit.lane);
  const straight = unwarpTicks(warp, toTicks);
  const { before, after } = linesBeside(editLines(pattern, beat.meter, beat.inputQuantize), straight);
  return straight - before < after - straight ? before : after;
}

function heardHit(beat: Beat, patternRef: PatternRef, id: number): ResolvedHit | undefined {
  return resolvedHits(findPattern(beat, patternRef), beat.meter).find(({ hit }) => hit.id === id);
}
