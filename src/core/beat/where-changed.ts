import { asTicks, type Ticks } from "../time/ticks";
import type { Beat, Hit, Part, Pattern, PatternRef } from "./beat";

/** The first difference between two states of a beat. */
export interface ChangedPlace {
  readonly partId: number;
  /** Set if a pattern changed. */
  readonly patternId?: number;
  /** The earliest hit that came, went or changed. */
  readonly ticks?: Ticks;
  /** Hits that are new or changed. */
  readonly hitIds: readonly number[];
}

/**
 * The first part, and in it the first pattern, that another state of a beat has otherwise. What both have by reference is passed over.
 * @param shown is looked at first: where something happened there, too, nobody need go anywhere
 * @returns undefined where it is about the beat as a whole, or something that is gone
 */
export function whereChanged(before: Beat, after: Beat, shown: PatternRef): ChangedPlace | undefined {
  for (const part of first(after.parts, shown.partId)) {
    const known = before.parts.find(({ id }) => id === part.id);
    if (part === known) continue;
    return { partId: part.id, hitIds: [], ...patternChange(known, part, shown) };
  }
  return undefined;
}

function first<T extends { readonly id: number }>(items: readonly T[], id: number): readonly T[] {
  return items.toSorted((a, b) => Number(b.id === id) - Number(a.id === id));
}

function patternChange(before: Part | undefined, { patterns }: Part, { patternId }: PatternRef) {
  for (const pattern of first(patterns, patternId)) {
    const known = before?.patterns.find(({ id }) => id === pattern.id);
    if (pattern !== known) return { patternId: pattern.id, ...hitChange(known, pattern) };
  }
  return undefined;
}

function hitChange(before: Pattern | undefined, after: Pattern) {
  const [now, then] = [changedHits(after, before), changedHits(before, after)];
  const places = [...now, ...then].map(({ start, played }) => start?.ticks ?? played.ticks);
  const ticks = places.reduce((first, one) => Math.min(first, one), Infinity);
  return { hitIds: now.map(({ id }) => id), ...(places.length > 0 && { ticks: asTicks(ticks) }) };
}

/** The hits of a pattern that another state of it has not, or otherwise. */
function changedHits(pattern: Pattern | undefined, other: Pattern | undefined): readonly Hit[] {
  return (pattern?.passes ?? []).flatMap((pass) => {
    const known = other?.passes.find(({ id }) => id === pass.id);
    if (known?.hits === pass.hits) return [];
    const others = new Set(known?.hits);
    return pass.hits.filter((hit) => !others.has(hit));
  });
}
