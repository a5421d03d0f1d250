import type { Beat, Lane, PatternRef } from "../beat/beat";
import { openPasses } from "../beat/beat";
import { addHits, addPass, findPattern, type NewHit } from "../beat/edit";
import type { Ticks } from "../time/ticks";
import { warpTicks } from "../time/warp";
import { feelOf } from "../timing/feel-of";

/** A hit that is written and not played. */
export interface WrittenHit {
  readonly lane: Lane;
  /** On the straight grid, from the loop's start. */
  readonly ticks: Ticks;
  /** 1..127 */
  readonly velocity: number;
  readonly lengthTicks: Ticks;
}

export interface Written {
  readonly beat: Beat;
  /** Of the hits that were added, in their order. */
  readonly ids: readonly number[];
}

/** What is written goes into passes of this name. */
export const WRITTEN = "Written";

/** Adds hits where somebody wrote them: no grid moves them, swing and groove do. They count as played there. */
export function writeHits(beat: Beat, patternRef: PatternRef, hits: readonly WrittenHit[]): Written {
  const feels = feelOf(findPattern(beat, patternRef), beat.meter);
  const written = hits.map(({ lane, ticks, velocity, lengthTicks }): NewHit => {
    const played = warpTicks(feels(lane).warp, ticks);
    const straight = played !== ticks && { straightTicks: ticks };
    return { lane, played: { ticks: played, ...straight, velocity }, start: { ticks, by: "hand" }, lengthTicks };
  });
  return addByHand(beat, patternRef, written);
}

/** Puts hits into the newest pass of what is written that sounds, or into a new one on top, which sounds. */
export function addByHand(beat: Beat, patternRef: PatternRef, hits: readonly NewHit[]): Written {
  if (hits.length === 0) return { beat, ids: [] };
  const pattern = findPattern(beat, patternRef);
  const known = openPasses(pattern).findLast(({ name }) => name === WRITTEN);
  const solo = pattern.passes.some(({ soloed }) => soloed) && ({ soloed: true } as const);
  const target = known
    ? { beat, passId: known.id }
    : addPass(beat, patternRef, { name: WRITTEN, muted: false, ...solo, quantize: beat.inputQuantize });
  const ids = hits.map((_, index) => target.beat.nextId + index);
  return { beat: addHits(target.beat, patternRef, target.passId, hits), ids };
}
