import type { Beat, PatternRef, QuantizeSettings } from "../beat/beat";
import { findPattern } from "../beat/edit";
import type { LoopSpan } from "../time/loop-span";
import { barTicks } from "../time/meter";
import type { Bpm } from "../time/tempo";
import { asTicks, type Ticks } from "../time/ticks";
import { unwarpTicks, warpTicks } from "../time/warp";
import { feelWarp } from "../timing/feel-warp";
import type { TimingView } from "../timing/resolved-hit";
import { openingReachTicks, placeStroke } from "./place-stroke";

/** A stroke, before it is anybody's hit. */
export interface IncomingStroke {
  readonly lane: number;
  /** 1..127 */
  readonly velocity: number;
  readonly masked?: true;
  /** For a stroke that was made on a grid, such as a repeated note: its own, whatever the input grid is. */
  readonly quantize?: QuantizeSettings;
  /** Where it is known already. */
  readonly lengthTicks?: Ticks;
}

/** The stretch of transport in which a stroke was made. */
export interface StrokeSegment {
  readonly segment: number;
  readonly patternRef: PatternRef;
  readonly span: LoopSpan;
  readonly bpm: Bpm;
  /** The transport began with it: nothing was played before its first downbeat. */
  readonly opens: boolean;
  /** What is listened to: only "grooved" is played over the swing and groove. */
  readonly timingView: TimingView;
}

/** A stroke where it belongs: what is recorded of it, and what is remembered. */
export interface PlacedStroke extends IncomingStroke, StrokeSegment {
  /** Below 0 in a pick-up. */
  readonly lap: number;
  readonly playedTicks: Ticks;
  /** The same on the straight grid, for a stroke over a swing or groove. */
  readonly straightTicks?: Ticks;
  readonly downbeatTicks?: Ticks;
}

/**
 * Puts a stroke where it belongs.
 * @param ticks when it was made, from the run's first downbeat; negative before it
 */
export function placeIn(beat: Beat, run: StrokeSegment, stroke: IncomingStroke, ticks: Ticks): PlacedStroke {
  const grid = stroke.quantize?.grid ?? beat.inputQuantize.grid;
  const opening = run.opens ? openingReachTicks(beat.meter, run.bpm) : asTicks(0);
  const at = placeStroke(ticks, run.span, barTicks(beat.meter), grid, opening);
  return { ...stroke, ...run, ...at, ...overFeel(beat, run, stroke, at.playedTicks) };
}

/** Where a stroke was played, and where that is without the swing and groove it was played over. */
function overFeel(
  beat: Beat,
  { patternRef, timingView }: StrokeSegment,
  { lane, quantize }: IncomingStroke,
  ticks: Ticks,
): { readonly playedTicks: Ticks; readonly straightTicks?: Ticks } {
  const pattern = findPattern(beat, patternRef);
  const warp = timingView === "grooved" ? feelWarp(pattern, beat.meter, pattern.padAmounts?.[lane]) : undefined;
  if (!warp) return { playedTicks: ticks };
  // A stroke that was made on a grid comes with its line, and was heard where the groove has that.
  if (quantize) return { playedTicks: warpTicks(warp, ticks), straightTicks: ticks };
  return { playedTicks: ticks, straightTicks: unwarpTicks(warp, ticks) };
}
