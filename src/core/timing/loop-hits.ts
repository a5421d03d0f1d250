import type { Pattern } from "../beat/beat";
import { patternLengthTicks } from "../beat/beat";
import { earlyReachTicks, type GridName } from "../time/grid";
import type { LoopSpan } from "../time/loop-span";
import type { Meter } from "../time/meter";
import { barTicks } from "../time/meter";
import type { Ticks } from "../time/ticks";
import { wrap } from "../time/ticks";
import { cachedHeard, type HeardHit, type Hearing } from "./heard";

/** A hit of the stretch that goes round. */
export interface LoopHit extends HeardHit {
  /** Where it sounds, from the start of the stretch; negative when it sounds ahead of the downbeat it belongs to. */
  readonly loopTicks: Ticks;
}

/**
 * The hits that a loop over a stretch of a pattern has, covered ones included. A hit goes with its line; one without a
 * line belongs to a stretch from half a grid step before its start to as much before its end, as recording has it.
 */
export function loopHits(
  pattern: Pattern,
  meter: Meter,
  span: LoopSpan,
  grid: GridName,
  hearing: Hearing = "grooved",
): readonly LoopHit[] {
  const length = patternLengthTicks(pattern, meter);
  const all = cachedHeard(pattern, meter, hearing);
  if (span.lengthTicks === length) return all.map((hit) => atLoopTicks(hit, hit.ticks));
  const early = earlyReachTicks(grid, barTicks(meter), (span.startTicks || length) as Ticks);
  return all.flatMap((hit) => {
    const loopTicks = inSpan(hit, span, length, early);
    return loopTicks === undefined ? [] : [atLoopTicks(hit, loopTicks)];
  });
}

/** Written out, because copying thousands of objects by spread makes them slow to read. */
function atLoopTicks(from: HeardHit, loopTicks: Ticks): LoopHit {
  const { hit, passId, ticks, line, covered, velocity, lengthTicks } = from;
  return { hit, passId, ticks, line, covered, velocity, lengthTicks, loopTicks };
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
