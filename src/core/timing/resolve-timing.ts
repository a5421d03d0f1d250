import { padsOf } from "../beat/lanes";
import type { Part, Pass, Pattern } from "../beat/beat";
import { openPasses } from "../beat/beat";
import type { Meter } from "../time/meter";
import {
  asCovered,
  correctedHits,
  NO_PLACE,
  surroundingsOf,
  type CorrectedHits,
  type Surroundings,
} from "./corrected-hits";
import { remember } from "../remember";
import { levelOf, type ResolvedHit, type TimingView } from "./resolved-hit";

/**
 * Where the hits of a pattern sound: muted passes and masked hits left out, the rest corrected by the settings of their
 * pass or by their own, then swung and grooved. Hits beyond the loop's end are left out. A pure function of its arguments;
 * the order is that of the passes. A hit that sounds as before is the same object as before.
 * @example resolveTiming(pattern, meter).map(({ ticks }) => ticks).slice(0, 3) // [0, 480, 960]
 */
export function resolveTiming(
  pattern: Pattern,
  meter: Meter,
  timingView: TimingView = "grooved",
): readonly ResolvedHit[] {
  const surroundings = surroundingsOf(pattern, meter, timingView);
  const passes = openPasses(pattern);
  const newest = passes.at(-1);
  if (!newest) return [];
  return together(below(passes.slice(0, -1), surroundings), [newest], surroundings).hits;
}

/** Passes on top of each other: of hits of one lane that fall on one line the loudest is heard. */
interface Stack {
  readonly hits: readonly ResolvedHit[];
  /** By lane and line, which of the hits is heard there. */
  readonly onLine: ReadonlyMap<number, number>;
  readonly passes: readonly { readonly from: number; readonly corrected: CorrectedHits }[];
}

const NOTHING: Stack = { hits: [], onLine: new Map(), passes: [] };

const stacks = remember<Pass, Stack>();

/** What lies below the newest pass, which most edits leave as it is: worked out once. */
function below(passes: readonly Pass[], surroundings: Surroundings): Stack {
  const newest = passes.at(-1);
  if (!newest) return NOTHING;
  return stacks(newest, [...passes, ...surroundings.madeOf], () => together(NOTHING, passes, surroundings));
}

/** Puts passes on top of a stack. */
function together(stack: Stack, added: readonly Pass[], surroundings: Surroundings): Stack {
  const hits = stack.hits.slice();
  const passes = [...stack.passes];
  const onLine = new Map<number, number>();
  for (const pass of added) {
    const corrected = correctedHits(pass, surroundings);
    passes.push({ from: hits.length, corrected });
    for (let index = 0; index < corrected.hits.length; index++) {
      const one = corrected.hits[index]!;
      const place = corrected.places[index]!;
      const rival = place === NO_PLACE ? undefined : (onLine.get(place) ?? stack.onLine.get(place));
      const covered = one.duplicateOnLine || (rival !== undefined && levelOf(hits[rival]!.hit) >= levelOf(one.hit));
      if (rival !== undefined && !covered) {
        const its = passes.findLast(({ from }) => from <= rival)!;
        hits[rival] = asCovered(its.corrected, rival - its.from);
      }
      if (place !== NO_PLACE && !covered) onLine.set(place, hits.length);
      hits.push(covered ? asCovered(corrected, index) : one);
    }
  }
  return { hits, onLine, passes };
}

const patterns = remember<Pattern, readonly ResolvedHit[]>();

/**
 * The same, worked out once for a pattern that does not change: the picture, the sound and the figures all ask.
 * @example resolvedHits(pattern, meter) === resolvedHits(pattern, meter) // true
 */
export function resolvedHits(
  pattern: Pattern,
  meter: Meter,
  timingView: TimingView = "grooved",
): readonly ResolvedHit[] {
  return patterns(pattern, [meter, timingView], () => resolveTiming(pattern, meter, timingView));
}

/**
 * What of a pattern reaches the ear: neither covered, nor on a lane that is silent in it or muted, nor beside a soloed one.
 * @example sounding(part, pattern, meter, "played").length // 8
 */
export function sounding(
  part: Part,
  pattern: Pattern,
  meter: Meter,
  timingView: TimingView = "grooved",
): readonly ResolvedHit[] {
  const silenced = silentLanesIn(part, pattern);
  return resolvedHits(pattern, meter, timingView).filter(
    ({ hit, duplicateOnLine }) => !duplicateOnLine && !silenced.has(hit.lane),
  );
}

/** The lanes of which nothing is heard in a pattern: those that are silent in it, and those that are silenced in its part. */
export function silentLanesIn(part: Part, { silentLanes = [] }: Pattern): ReadonlySet<number> {
  return new Set([...silencedLanes(part), ...silentLanes]);
}

/** The pads that are muted, or stand beside a soloed one; of notes there are none. */
export function silencedLanes(part: Part): ReadonlySet<number> {
  const pads = padsOf(part);
  const solo = pads.some(({ soloed }) => soloed);
  return new Set(pads.filter((pad) => (solo ? !pad.soloed : pad.muted)).map(({ id }) => id));
}
