import type { Beat, Lane, PatternRef } from "../beat/beat";
import { findPattern } from "../beat/edit";
import { beatTicks } from "../time/meter";
import { asTicks } from "../time/ticks";
import { unwarpTicks } from "../time/warp";
import { feelOf } from "../timing/feel-of";
import type { ResolvedHit } from "../timing/resolved-hit";
import { editLines, lineAway } from "./edit-lines";
import { changeHits, intoLoop, type HitIds } from "./hand-change";

/**
 * Each hit so many lines of the input grid on; what lies between lines goes to the next one.
 * @param by negative goes back
 * @example findPattern(moveByLines(beat, patternRef, ids, 1), patternRef).passes[0].hits[0].start // { by: "hand", ticks: 240 }
 */
export function moveByLines(beat: Beat, patternRef: PatternRef, ids: HitIds, by: number): Beat {
  const lines = editLines(findPattern(beat, patternRef), beat.meter, beat.inputQuantize);
  return changeHits(beat, patternRef, ids, ({ straightTicks }) => ({ ticks: lineAway(lines, straightTicks, by) }));
}

/**
 * By so many written beats, round the loop's ends.
 * @param by negative goes back
 * @example findPattern(moveByBeats(beat, patternRef, ids, 1), patternRef).passes[0].hits[0].start // { by: "hand", ticks: 960 }
 */
export function moveByBeats(beat: Beat, patternRef: PatternRef, ids: HitIds, by: number): Beat {
  return moveStraight(beat, patternRef, ids, by * beatTicks(beat.meter));
}

/**
 * By so many ticks on the straight grid, round the loop's ends: hits on lines that far apart are on lines again.
 * @example findPattern(moveStraight(beat, patternRef, ids, 240), patternRef).passes[0].hits[0].start // { by: "hand", ticks: 240 }
 */
export function moveStraight(beat: Beat, patternRef: PatternRef, ids: HitIds, byTicks: number): Beat {
  const pattern = findPattern(beat, patternRef);
  return changeHits(beat, patternRef, ids, ({ straightTicks }) => ({
    ticks: intoLoop(straightTicks + byTicks, pattern, beat),
  }));
}

/** By so much of what is heard, whatever swing and groove do there, round the loop's ends. */
export function moveHeard(beat: Beat, patternRef: PatternRef, ids: HitIds, byTicks: number): Beat {
  return moveHeardTo(beat, patternRef, ids, ({ ticks }) => ticks + byTicks);
}

/** To where each hit is to be heard. @param target in ticks from the loop's start; undefined where the hit stays */
export function moveHeardTo(
  beat: Beat,
  patternRef: PatternRef,
  ids: HitIds,
  target: (heard: ResolvedHit) => number | undefined,
): Beat {
  const pattern = findPattern(beat, patternRef);
  const feels = feelOf(pattern, beat.meter);
  return changeHits(beat, patternRef, ids, (heard) => {
    const ticks = target(heard);
    if (ticks === undefined) return undefined;
    const { warp, shiftTicks } = feels(heard.hit.lane);
    return { ticks: unwarpTicks(warp, asTicks(intoLoop(ticks, pattern, beat) - shiftTicks(heard.hit.id))) };
  });
}

/**
 * To other lanes; a hit without a target stays.
 * @example findPattern(moveToLanes(beat, patternRef, ids, () => 10), patternRef).passes[0].hits[0].lane // 10
 */
export function moveToLanes(
  beat: Beat,
  patternRef: PatternRef,
  ids: HitIds,
  target: (lane: Lane) => Lane | undefined,
): Beat {
  return changeHits(beat, patternRef, ids, ({ hit: { lane } }) => {
    const to = target(lane);
    return to === undefined ? undefined : { lane: to };
  });
}

/** Hits start from where they are corrected to: what becomes of their pass's grid leaves them there. */
export function flattenHits(beat: Beat, patternRef: PatternRef, ids: HitIds): Beat {
  return changeHits(beat, patternRef, ids, ({ straightTicks }) => ({ ticks: straightTicks }));
}
