import type { Beat, Part, PatternRef } from "../beat/beat";
import { findPart, findPattern, type NewHit } from "../beat/edit";
import { findLane } from "../beat/lanes";
import { asTicks, type Ticks } from "../time/ticks";
import { resolvedHits } from "../timing/resolve-timing";
import { levelOf } from "../timing/resolved-hit";
import { shiftedHit } from "./copy-hits";
import { editLines, nearestLine } from "./edit-lines";
import { intoLoop, type HitIds } from "./hand-change";
import { addByHand, type Written } from "./write-hits";

/** Hits that were copied, each where it is corrected to, as by hand: they may go into another pattern, part or beat. */
export interface Clip {
  readonly kind: Part["kind"];
  readonly hits: readonly NewHit[];
}

/**
 * @returns undefined where none of the ids is heard
 * @example copyHits(beat, patternRef, ids).hits.length // 8
 */
export function copyHits(beat: Beat, patternRef: PatternRef, ids: HitIds): Clip | undefined {
  const chosen = resolvedHits(findPattern(beat, patternRef), beat.meter).filter(({ hit }) => ids.has(hit.id));
  const hits = chosen.map(({ hit, straightTicks, lengthTicks }) => {
    const { quantize: _, downbeatTicks: __, start: ___, ...stroke } = shiftedHit(hit, 0);
    const velocity = levelOf(hit) !== hit.played.velocity && { velocity: levelOf(hit) };
    const long = lengthTicks !== hit.lengthTicks && { lengthTicks };
    return { ...stroke, start: { ticks: straightTicks, ...velocity, ...long, by: "hand" as const } };
  });
  return hits.length > 0 ? { kind: findPart(beat, patternRef.partId).kind, hits } : undefined;
}

export interface Pasted extends Written {
  /** Hits for whose lanes there is none here. */
  readonly left: number;
}

/**
 * Adds copied hits to a pattern, with the distances they had: where they were, or from a place on, round the loop's end.
 * @param atTicks on the straight grid, where the line of the first one is to be
 * @returns none of them, where a kit's are to go to a part with pitch or the other way round
 */
export function pasteHits(beat: Beat, patternRef: PatternRef, clip: Clip, atTicks?: Ticks): Pasted {
  const part = findPart(beat, patternRef.partId);
  const pattern = findPattern(beat, patternRef);
  const fitting = part.kind === clip.kind ? clip.hits.filter(({ lane }) => findLane(part, lane)) : [];
  const lines = editLines(pattern, beat.meter, beat.inputQuantize);
  const first = asTicks(Math.min(...clip.hits.map(({ start }) => start!.ticks!)));
  const by = atTicks === undefined ? 0 : atTicks - nearestLine(lines, first);
  const hits = fitting.map((hit) => {
    const from = hit.start!.ticks!;
    const to = atTicks === undefined ? from : intoLoop(from + by, pattern, beat);
    return shiftedHit({ ...hit, id: 0 }, to - from);
  });
  return { ...addByHand(beat, patternRef, hits), left: clip.hits.length - fitting.length };
}
