import type { Beat, PatternRef } from "../beat/beat";
import { findPattern } from "../beat/edit";
import { asTicks, type Ticks } from "../time/ticks";
import { editLines, linesBeside } from "./edit-lines";
import { changeHits, type HitIds } from "./hand-change";

/**
 * All to one length, at least a tick.
 * @example findPattern(setLength(beat, patternRef, ids, 240), patternRef).passes[0].hits[0].start // { by: "hand", lengthTicks: 240 }
 */
export function setLength(beat: Beat, patternRef: PatternRef, ids: HitIds, lengthTicks: Ticks): Beat {
  return changeHits(beat, patternRef, ids, () => ({ lengthTicks }));
}

/** Each so much longer, or shorter where negative, down to a tick. */
export function stretchBy(beat: Beat, patternRef: PatternRef, ids: HitIds, byTicks: number): Beat {
  return changeHits(beat, patternRef, ids, ({ lengthTicks }) => ({ lengthTicks: asTicks(lengthTicks + byTicks) }));
}

/** Each to the line of the input grid that is nearest to its end, and behind its start. */
export function endOnLines(beat: Beat, patternRef: PatternRef, ids: HitIds): Beat {
  const lines = editLines(findPattern(beat, patternRef), beat.meter, beat.inputQuantize);
  return changeHits(beat, patternRef, ids, ({ straightTicks: start, lengthTicks }) => {
    const end = asTicks(start + lengthTicks);
    const { before, after } = linesBeside(lines, end);
    const first = linesBeside(lines, start).after;
    const nearest = end - before < after - end ? before : after;
    return { lengthTicks: asTicks(Math.max(first, nearest) - start) };
  });
}

/** What goes on behind the loop's end ends there. */
export function cutAtEnd(beat: Beat, patternRef: PatternRef, ids: HitIds): Beat {
  const { lengthTicks: end } = editLines(findPattern(beat, patternRef), beat.meter, beat.inputQuantize);
  return changeHits(beat, patternRef, ids, ({ ticks, lengthTicks }) =>
    ticks + lengthTicks > end ? { lengthTicks: asTicks(end - ticks) } : undefined,
  );
}
