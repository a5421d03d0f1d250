import type { Beat, PatternRef } from "../beat/beat";
import { addHits, addPass, type NewHit } from "../beat/edit";
import { STROKE_LENGTH_TICKS } from "../record/record-stroke";
import { secondsToTicks } from "../time/tempo";
import { asTicks, asSeconds, type Ticks } from "../time/ticks";
import type { LookbackHit } from "./echo";

export interface BroughtBack {
  readonly beat: Beat;
  readonly patternRef: PatternRef;
}

/** What the pass of an echo is called. */
export const ECHO_PASS_NAME = "Echo";

/** @param playedTicks from the pattern's start, where it is not where the stroke was played in its own lap. @param bpm how fast it was played */
export function toHit(
  { pad, velocity, masked, lengthMs, along }: LookbackHit,
  playedTicks = along?.playedTicks,
  bpm = along?.bpm,
): NewHit {
  const moved = (playedTicks ?? 0) - (along?.playedTicks ?? 0);
  return {
    lane: pad,
    played: {
      ticks: asTicks(playedTicks ?? 0),
      ...(along?.straightTicks !== undefined && { straightTicks: asTicks(along.straightTicks + moved) }),
      velocity,
    },
    lengthTicks: lengthOf(lengthMs, bpm),
    ...(masked && { masked }),
    ...(along?.downbeatTicks !== undefined && { downbeatTicks: asTicks(along.downbeatTicks + moved) }),
    ...(along && along.lap >= 0 && { lap: along.lap }),
  };
}

function lengthOf(lengthMs: number | undefined, bpm: number | undefined): Ticks {
  if (lengthMs === undefined || bpm === undefined) return STROKE_LENGTH_TICKS;
  return asTicks(Math.max(STROKE_LENGTH_TICKS, secondsToTicks(asSeconds(lengthMs / 1000), bpm)));
}

/** Adds a pass: as it was played, unless it is to be corrected. */
export function withEchoPass(
  beat: Beat,
  patternRef: PatternRef,
  hits: readonly NewHit[],
  quantized: boolean,
  more: { readonly name?: string; readonly take?: number } = {},
): Beat {
  const quantize = quantized ? beat.inputQuantize : ({ ...beat.inputQuantize, grid: "off" } as const);
  const added = addPass(beat, patternRef, { name: ECHO_PASS_NAME, muted: false, quantize, ...more });
  return addHits(added.beat, patternRef, added.passId, hits);
}
