import type { Beat, PatternRef } from "../beat/beat";
import { findPattern } from "../beat/edit";
import { seededRandom } from "../random";
import { asTicks, type Ticks } from "../time/ticks";
import { wrap } from "../time/ticks";
import { resolvedHits } from "../timing/resolve-timing";
import { levelOf, type ResolvedHit } from "../timing/resolved-hit";
import { editLines, nearestLine } from "./edit-lines";
import { changeHits, type HitIds } from "./hand-change";

/**
 * Each so much louder, or softer where negative; none leaves 1..127.
 * @example findPattern(shiftVelocity(beat, patternRef, ids, 10), patternRef).passes[0].hits[0].start // { by: "hand", velocity: 100 }
 */
export function shiftVelocity(beat: Beat, patternRef: PatternRef, ids: HitIds, by: number): Beat {
  return changeHits(beat, patternRef, ids, ({ hit }) => ({ velocity: levelOf(hit) + by }));
}

/** Towards the middle of them. @param share of the way, 0..1 */
export function compressVelocity(beat: Beat, patternRef: PatternRef, ids: HitIds, share: number): Beat {
  const levels = resolvedHits(findPattern(beat, patternRef), beat.meter)
    .filter(({ hit }) => ids.has(hit.id))
    .map(({ hit }) => levelOf(hit));
  if (levels.length === 0) return beat;
  const middle = levels.reduce((sum, level) => sum + level, 0) / levels.length;
  return changeHits(beat, patternRef, ids, ({ hit }) => ({ velocity: levelOf(hit) + share * (middle - levelOf(hit)) }));
}

/** By chance, mostly little. @param by the most, 0..126 @param seed the same seed gives the same chances */
export function loosenVelocity(beat: Beat, patternRef: PatternRef, ids: HitIds, by: number, seed: number): Beat {
  return changeHits(beat, patternRef, ids, ({ hit }) => {
    const random = seededRandom(Math.imul(hit.id, 0x9e3779b1) ^ seed);
    return { velocity: levelOf(hit) + by * (random() + random() - 1) };
  });
}

/** A straight line through time, by where hits sound. @param from the velocity at a place, @param to at another one */
export function rampVelocity(
  beat: Beat,
  patternRef: PatternRef,
  ids: HitIds,
  from: { readonly ticks: Ticks; readonly velocity: number },
  to: { readonly ticks: Ticks; readonly velocity: number },
): Beat {
  const [first, last] = from.ticks <= to.ticks ? [from, to] : [to, from];
  const wide = last.ticks - first.ticks;
  const velocityAt = ({ ticks }: ResolvedHit) =>
    wide === 0 ? last.velocity : first.velocity + ((ticks - first.ticks) / wide) * (last.velocity - first.velocity);
  return changeHits(beat, patternRef, ids, (heard) =>
    heard.ticks < first.ticks || heard.ticks > last.ticks ? undefined : { velocity: velocityAt(heard) },
  );
}

/**
 * Accents by the lines of the bar: each hit takes the step of the line that it is nearest to.
 * @param steps velocities, which go round from each bar's first line of the input grid on; undefined leaves a hit as it is
 * @example hitRows(accentHits(beat, patternRef, ids, [110, 70, 90, 70]), patternRef).map(({ velocity }) => velocity) // [110, 90, 110, 90, 110, 90, 110, 90]
 */
export function accentHits(
  beat: Beat,
  patternRef: PatternRef,
  ids: HitIds,
  steps: readonly (number | undefined)[],
): Beat {
  const pattern = findPattern(beat, patternRef);
  const lines = editLines(pattern, beat.meter, beat.inputQuantize);
  const bar = lines.lengthTicks / pattern.bars;
  const inBar = lines.at.filter((line) => line < bar);
  return changeHits(beat, patternRef, ids, ({ straightTicks }) => {
    const velocity = steps[inBar.indexOf(asTicks(wrap(nearestLine(lines, straightTicks), bar))) % steps.length];
    return velocity === undefined ? undefined : { velocity };
  });
}
