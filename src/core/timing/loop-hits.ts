import type { Pattern } from "../beat/beat";
import { patternLengthTicks } from "../beat/beat";
import { earlyReachTicks, type GridName } from "../time/grid";
import type { LoopSpan } from "../time/loop-span";
import type { Meter } from "../time/meter";
import { barTicks } from "../time/meter";
import type { Ticks } from "../time/ticks";
import { wrap } from "../time/ticks";
import { cachedHeard } from "./heard";
import type { HeardHit, Monitoring } from "./heard-hit";

/** A hit of the stretch that goes round. */
export interface LoopHit extends HeardHit {
  /** Where it sounds, from the start of the stretch; negative when it sounds ahead of the downbeat it belongs to. */
  readonly loopTicks: Ticks;
}

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
): (hit: HeardHit) => Ticks | undefined {
  const length = patternLengthTicks(pattern, meter);
  if (span.lengthTicks === length) return ({ ticks }) => ticks;
  const early = earlyReachTicks(grid, barTicks(meter), (span.startTicks || length) as Ticks);
  return (hit) => inSpan(hit, span, length, early);
}

/** The hits that a loop over a stretch of a pattern has, covered ones included. */
export function loopHits(
  pattern: Pattern,
  meter: Meter,
  span: LoopSpan,
  grid: GridName,
  monitoring: Monitoring = "grooved",
): readonly LoopHit[] {
  const placeOf = loopPlaces(pattern, meter, span, grid);
  return cachedHeard(pattern, meter, monitoring).flatMap((hit) => {
    const loopTicks = placeOf(hit);
    return loopTicks === undefined ? [] : [atLoopTicks(hit, loopTicks)];
  });
}

/** Written out, because copying thousands of objects by spread makes them slow to read. */
function atLoopTicks(from: HeardHit, loopTicks: Ticks): LoopHit {
  const { hit, passId, ticks, straightTicks, line, covered, velocity, lengthTicks } = from;
  return { hit, passId, ticks, straightTicks, line, covered, velocity, lengthTicks, loopTicks };
}

function inSpan({ ticks, line }: HeardHit, span: LoopSpan, length: Ticks, early: Ticks): Ticks | undefined {
  const from = line === undefined ? span.startTicks - early : span.startTicks;
  const place = line ?? ticks;
  const inside = wrap(place - from, length);
  if (inside >= span.lengthTicks) return undefined;
  // The way from its line to where it sounds, the short way round.
  const pulled = wrap(ticks - place + length / 2, length) - length / 2;
  return (inside + from - span.startTicks + pulled) as Ticks;
}
