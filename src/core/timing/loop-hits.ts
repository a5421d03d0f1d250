import type { Beat, Lane, Pattern, PatternRef } from "../beat/beat";
import { patternLengthTicks } from "../beat/beat";
import { findPattern } from "../beat/edit";
import { earlyReachTicks, type GridName } from "../time/grid";
import type { LoopSpan } from "../time/loop-span";
import type { Meter } from "../time/meter";
import { barTicks } from "../time/meter";
import { asTicks, type Ticks } from "../time/ticks";
import { wrap } from "../time/ticks";
import { resolvedHits } from "./resolve-timing";
import type { ResolvedHit, TimingView } from "./resolved-hit";

/**
 * Where hits of a pattern lie in a stretch of it that goes round: undefined for those that it does not have. A hit goes with
 * its line; one without a line belongs to a stretch from half a grid step before its start to as much before its end, as
 * recording has it.
 */
export function loopPlaces(
  pattern: Pattern,
  meter: Meter,
  span: LoopSpan,
  grid: GridName,
): (hit: ResolvedHit) => Ticks | undefined {
  const length = patternLengthTicks(pattern, meter);
  if (span.lengthTicks === length) return ({ ticks }) => ticks;
  const early = earlyReachTicks(grid, barTicks(meter), asTicks(span.startTicks || length));
  return (hit) => inSpan(hit, span, length, early);
}

/**
 * The ids of the hits on some lanes that a loop over a stretch of a pattern has, covered ones included.
 * @param isIn says of a place in the loop whether its hits are meant; all are where it is left out
 * @example loopHitIds(beat, patternRef, new Set([8]), wholeSpan(pattern, meter), "grooved").size // 8
 */
export function loopHitIds(
  beat: Beat,
  patternRef: PatternRef,
  lanes: ReadonlySet<Lane>,
  span: LoopSpan,
  timingView: TimingView,
  isIn: (loopTicks: Ticks) => boolean = () => true,
): ReadonlySet<number> {
  const { meter, inputQuantize } = beat;
  const pattern = findPattern(beat, patternRef);
  const placeOf = loopPlaces(pattern, meter, span, inputQuantize.grid);
  const ids = new Set<number>();
  // No list of hits in between: while erase is held this is done forty times a second, maybe for a hundred thousand.
  for (const one of resolvedHits(pattern, meter, timingView)) {
    if (!lanes.has(one.hit.lane)) continue;
    const loopTicks = placeOf(one);
    if (loopTicks !== undefined && isIn(loopTicks)) ids.add(one.hit.id);
  }
  return ids;
}

function inSpan({ ticks, line }: ResolvedHit, span: LoopSpan, length: Ticks, early: Ticks): Ticks | undefined {
  const from = line === undefined ? span.startTicks - early : span.startTicks;
  const place = line ?? ticks;
  const inside = wrap(place - from, length);
  if (inside >= span.lengthTicks) return undefined;
  // The way from its line to where it sounds, the short way round.
  const pulled = wrap(ticks - place + length / 2, length) - length / 2;
  return asTicks(inside + from - span.startTicks + pulled);
}
