import type { LoopSpan } from "./loop-span";
import type { Meter } from "./meter";
import { barTicks, beatTicks } from "./meter";
import type { Ticks } from "./ticks";

/** What of a pattern is looked at. */
export interface ViewRange {
  readonly startTicks: Ticks;
  readonly shownTicks: Ticks;
  /** Of the whole pattern. */
  readonly lengthTicks: Ticks;
}

/**
 * @param zoom all of the pattern where there is none, or where the pattern has become shorter
 * @example viewRange({ startTicks: 960, lengthTicks: 1920 }, 7680) // { startTicks: 960, shownTicks: 1920, lengthTicks: 7680 }
 */
export function viewRange(zoom: LoopSpan | undefined, lengthTicks: Ticks): ViewRange {
  if (!zoom || zoom.startTicks + zoom.lengthTicks > lengthTicks)
    return { startTicks: 0 as Ticks, shownTicks: lengthTicks, lengthTicks };
  return { startTicks: zoom.startTicks, shownTicks: zoom.lengthTicks, lengthTicks };
}

/**
 * A stretch shown larger or smaller around a place that stays where it is, down to one beat and up to all.
 * @param factor below 1 shows less
 * @param atTicks the place
 * @returns undefined for all of the pattern
 */
export function zoomed(
  { startTicks, shownTicks, lengthTicks }: ViewRange,
  factor: number,
  atTicks: Ticks,
  meter: Meter,
): LoopSpan | undefined {
  const shown = Math.max(beatTicks(meter), Math.min(lengthTicks, shownTicks * factor));
  if (shown >= lengthTicks * 0.99) return undefined;
  const share = (atTicks - startTicks) / shownTicks;
  return { startTicks: keptInside(atTicks - share * shown, shown, lengthTicks), lengthTicks: shown as Ticks };
}

/** The same stretch further on. @param byShare of what is shown; negative goes back */
export function panned({ startTicks, shownTicks, lengthTicks }: ViewRange, byShare: number): LoopSpan | undefined {
  if (shownTicks >= lengthTicks) return undefined;
  return {
    startTicks: keptInside(startTicks + byShare * shownTicks, shownTicks, lengthTicks),
    lengthTicks: shownTicks,
  };
}

/** The page of the zoomed lanes on which a place lies. */
export function pageOf({ shownTicks, lengthTicks }: ViewRange, ticks: Ticks): LoopSpan {
  const page = Math.floor(ticks / shownTicks) * shownTicks;
  return { startTicks: keptInside(page, shownTicks, lengthTicks), lengthTicks: shownTicks };
}

/** From the whole pattern to a bar, to a beat, and back. */
export function zoomStep({ shownTicks, lengthTicks }: ViewRange, closer: boolean, meter: Meter): number {
  const stops = [lengthTicks, 2 * barTicks(meter), barTicks(meter), 2 * beatTicks(meter), beatTicks(meter)]
    .filter((ticks) => ticks <= lengthTicks)
    .sort((a, b) => a - b);
  const next = closer
    ? stops.findLast((ticks) => ticks < shownTicks - 1)
    : stops.find((ticks) => ticks > shownTicks + 1);
  return (next ?? shownTicks) / shownTicks;
}

function keptInside(start: number, shown: number, lengthTicks: number): Ticks {
  return Math.max(0, Math.min(lengthTicks - shown, start)) as Ticks;
}
