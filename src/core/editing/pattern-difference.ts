import type { Lane, Pattern } from "../beat/beat";
import { groupBy } from "../group-by";
import { remember } from "../remember";
import { beatTicks, type Meter } from "../time/meter";
import { resolvedHits } from "../timing/resolve-timing";
import type { ResolvedHit } from "../timing/resolved-hit";

/** How what is heard of a pattern differs from what is heard of another one. */
export interface PatternDifference {
  readonly added: readonly ResolvedHit[];
  /** Hits of the other one. */
  readonly gone: readonly ResolvedHit[];
  readonly moved: readonly MovedHit[];
  /** In their places, but softer or louder. */
  readonly weighed: readonly MovedHit[];
  /** Lanes that are silent in it, and not in the other one; and the other way round. */
  readonly silenced: readonly Lane[];
  readonly unsilenced: readonly Lane[];
}

export interface MovedHit {
  readonly from: ResolvedHit;
  readonly to: ResolvedHit;
}

const differences = remember<Pattern, PatternDifference>();

/**
 * Compares what is heard of two patterns: a hit that is the same stroke, or lies at the same place in its lane, is the same
 * one; what else lies in one lane within a beat was moved, the nearest first; all that is left was added or is gone. Hits on
 * silent lanes count like all others.
 */
export function patternDifference(from: Pattern, to: Pattern, meter: Meter): PatternDifference {
  return differences(to, [from, meter], () => {
    const audible = (pattern: Pattern) =>
      resolvedHits(pattern, meter).filter(({ duplicateOnLine }) => !duplicateOnLine);
    const [before = [], now = []] = [from.silentLanes, to.silentLanes];
    return {
      ...hitDifference(audible(from), audible(to), beatTicks(meter)),
      silenced: now.filter((lane) => !before.includes(lane)),
      unsilenced: before.filter((lane) => !now.includes(lane)),
    };
  });
}

type HitDifference = Omit<PatternDifference, "silenced" | "unsilenced">;

function hitDifference(from: readonly ResolvedHit[], to: readonly ResolvedHit[], beatLong: number): HitDifference {
  const pairs: MovedHit[] = [];
  const same = matched(from, to, strokeKey, pairs);
  const placed = matched(same.from, same.to, placeKey, pairs);
  const near = nearest(placed.from, placed.to, beatLong, pairs);
  const isMoved = (pair: MovedHit) => placeKey(pair.from) !== placeKey(pair.to);
  return {
    added: near.to,
    gone: near.from,
    moved: pairs.filter(isMoved),
    weighed: pairs.filter((pair) => !isMoved(pair) && pair.from.velocity !== pair.to.velocity),
  };
}

/** What hands did is never changed, so a copied hit is known by it, wherever it was put. */
function strokeKey({ hit: { lane, struckLane = lane, played } }: ResolvedHit): string {
  return `${struckLane} ${played.ticks} ${played.velocity}`;
}

/** To the tick, as a file would have it. */
function placeKey({ hit, ticks }: ResolvedHit): string {
  return `${hit.lane} ${Math.round(ticks)}`;
}

interface Unmatched {
  readonly from: readonly ResolvedHit[];
  readonly to: readonly ResolvedHit[];
}

/** Pairs hits with the same key, in their order. @param pairs is added to */
function matched(
  from: readonly ResolvedHit[],
  to: readonly ResolvedHit[],
  keyOf: (hit: ResolvedHit) => string,
  pairs: MovedHit[],
): Unmatched {
  const waiting = new Map([...groupBy(from, keyOf)].map(([key, hits]) => [key, hits.toReversed()]));
  const left = to.filter((one) => {
    const mate = waiting.get(keyOf(one))?.pop();
    if (mate) pairs.push({ from: mate, to: one });
    return !mate;
  });
  return { from: [...waiting.values()].flat(), to: left };
}

/** Pairs hits of one lane less than a beat apart, the nearest first. @param pairs is added to */
function nearest(
  from: readonly ResolvedHit[],
  to: readonly ResolvedHit[],
  beatLong: number,
  pairs: MovedHit[],
): Unmatched {
  const lanes = groupBy(from, ({ hit }) => hit.lane);
  const candidates = to.flatMap((one) =>
    (lanes.get(one.hit.lane) ?? [])
      .map((mate) => ({ from: mate, to: one, apart: Math.abs(mate.ticks - one.ticks) }))
      .filter(({ apart }) => apart < beatLong),
  );
  const taken = new Set<ResolvedHit>();
  for (const pair of candidates.sort((a, b) => a.apart - b.apart)) {
    if (taken.has(pair.from) || taken.has(pair.to)) continue;
    taken.add(pair.from).add(pair.to);
    pairs.push({ from: pair.from, to: pair.to });
  }
  return { from: from.filter((one) => !taken.has(one)), to: to.filter((one) => !taken.has(one)) };
}
