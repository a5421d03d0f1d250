import type { Beat, Hit, Lane, Pattern, PatternRef, HitOverride } from "../beat/beat";
import { patternLengthTicks } from "../beat/beat";
import { editPattern, findPart, findPattern, numberHit } from "../beat/edit";
import { earlyReachTicks } from "../time/grid";
import { barTicks } from "../time/meter";
import { asTicks, type Ticks } from "../time/ticks";
import { wrap } from "../time/ticks";
import { resolvedHits } from "../timing/resolve-timing";
import { isPlacedByHand, levelOf, type ResolvedHit } from "../timing/resolved-hit";
import { onStruckLane } from "../timing/keep-timing";

/** What somebody makes of a hit; what is left out stays. */
export interface HandChange {
  /** On the straight grid, from the loop's start; from then on it is there, whatever the grid, also where it was before. */
  readonly ticks?: Ticks;
  /** Rounded, and kept within 1..127. */
  readonly velocity?: number;
  /** At least 1. */
  readonly lengthTicks?: Ticks;
  readonly lane?: Lane;
}

export type HitIds = ReadonlySet<number>;

/**
 * Changes hits by hand: what was played stays, and is what they return to. A place that is given here is theirs, no grid
 * moves it on; a velocity or a length alone leaves the place to the grid.
 * @param change by what is heard of a hit: undefined where it stays as it is. Double triggers and hits behind the loop's end
 *   are not heard, and stay.
 */
export function changeHits(
  beat: Beat,
  patternRef: PatternRef,
  ids: HitIds,
  change: (heard: ResolvedHit) => HandChange | undefined,
): Beat {
  const pattern = findPattern(beat, patternRef);
  const changed = new Map<number, Hit>();
  for (const one of resolvedHits(pattern, beat.meter)) {
    const by = ids.has(one.hit.id) ? change(one) : undefined;
    const hit = by && changeHit(one, by);
    if (hit && hit !== one.hit) changed.set(hit.id, hit);
  }
  return replaceHits(beat, patternRef, changed);
}

/** Puts hits in place of those with the same ids; without any the beat stays the same. */
export function replaceHits(beat: Beat, patternRef: PatternRef, by: ReadonlyMap<number, Hit>): Beat {
  if (by.size === 0) return beat;
  return editPattern(beat, patternRef, (pattern) => ({
    ...pattern,
    passes: pattern.passes.map((pass) =>
      pass.hits.some(({ id }) => by.has(id)) ? { ...pass, hits: pass.hits.map((hit) => by.get(hit.id) ?? hit) } : pass,
    ),
  }));
}

function changeHit({ hit, lengthTicks: heardLong }: ResolvedHit, change: HandChange): Hit {
  const { lane = hit.lane } = change;
  const velocity = change.velocity === undefined ? undefined : clampVelocity(change.velocity);
  const { ticks, lengthTicks } = change;
  const moved = ticks !== undefined && !(isPlacedByHand(hit) && hit.start!.ticks === ticks);
  const weighed = velocity !== undefined && velocity !== levelOf(hit);
  const stretched = lengthTicks !== undefined && lengthTicks !== heardLong;
  if (!moved && !weighed && !stretched && lane === hit.lane) return hit;
  const { start, struckLane = hit.lane, ...rest } = hit;
  const { covered: _, ...before } = start ?? { by: "hand" as const };
  // A place by hand has no grid that its end could go by.
  const long = stretched
    ? asTicks(Math.max(1, lengthTicks))
    : moved && heardLong !== hit.lengthTicks
      ? heardLong
      : undefined;
  const next: HitOverride = {
    ...before,
    ...(moved && { ticks, by: "hand" }),
    ...(weighed && { velocity }),
    ...(long !== undefined && { lengthTicks: long }),
  };
  return numberHit(
    {
      ...rest,
      lane,
      ...(Object.keys(next).length > 1 && { start: next }),
      ...(lane !== struckLane && { struckLane }),
    },
    hit.id,
  );
}

/**
 * @returns a whole velocity, 1..127
 * @example clampVelocity(140.2) // 127
 */
export function clampVelocity(velocity: number): number {
  return Math.max(1, Math.min(127, Math.round(velocity)));
}

/**
 * Takes back what was made of hits, by hand or by keeping their timing: they are as they were played, as their pass corrects them.
 * @example returnHits(beat, patternRef, ids) === beat // true
 */
export function returnHits(beat: Beat, patternRef: PatternRef, ids: HitIds): Beat {
  const part = findPart(beat, patternRef.partId);
  const changed = new Map<number, Hit>();
  for (const { hits } of findPattern(beat, patternRef).passes)
    for (const hit of hits) {
      if (!ids.has(hit.id) || (!hit.start && hit.struckLane === undefined)) continue;
      const { start: _, ...played } = hit;
      changed.set(hit.id, onStruckLane(numberHit(played, hit.id), part));
    }
  return replaceHits(beat, patternRef, changed);
}

/** Double triggers sound after all. */
export function unmaskHits(beat: Beat, patternRef: PatternRef, ids: HitIds): Beat {
  const masked = findPattern(beat, patternRef).passes.flatMap(({ hits }) =>
    hits.filter((hit) => ids.has(hit.id) && hit.masked),
  );
  return replaceHits(
    beat,
    patternRef,
    new Map(masked.map(({ masked: _, ...hit }) => [hit.id, numberHit(hit, hit.id)])),
  );
}

/**
 * A place within a loop: what lies less than half a step before its start is early on its downbeat, all else goes round.
 * @returns -half a step <= it < the loop's length
 * @example intoLoop(7700, pattern, beat) // 20
 */
export function intoLoop(ticks: number, pattern: Pattern, { meter, inputQuantize: { grid } }: Beat): Ticks {
  const length = patternLengthTicks(pattern, meter);
  const early = earlyReachTicks(grid, barTicks(meter), length);
  return asTicks(ticks >= -early && ticks < 0 ? ticks : wrap(ticks, length));
}
