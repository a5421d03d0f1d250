import type { Beat, PatternRef } from "../beat/beat";
import { hitCount, patternLengthTicks } from "../beat/beat";
import { findPattern, setBars, setMeter, setTempo } from "../beat/edit";
import { MAX_BARS } from "../beat/new-beat";
import { addPattern } from "../beat/edits/pattern-edit";
import { barTicks } from "../time/meter";
import { asTicks, TICKS_PER_QUARTER, wrap } from "../time/ticks";
import type { LookbackHit } from "./echo";
import { toHit, withEchoPass, type BroughtBack } from "./echo-pass";
import { quartersAt } from "./pulse/pulse";
import type { Reading } from "./readings/reading";

/** How something comes back that was played without a click. */
export interface FreeRecall {
  readonly kind: "free";
  readonly reading: Reading;
  /** `use`: the beat takes the tempo of the playing, and with it all that is in it; `fit`: the playing takes the beat's. */
  readonly tempo: "use" | "fit";
  /** Follows slow changes of tempo, so that every bar of the playing is as long as a bar of the beat. */
  readonly straighten: boolean;
}

/** What is played so little ahead of the first downbeat is early on it; more is a pick-up. */
const EARLY_TICKS = 120;

/**
 * Brings back what was played free, by a reading. It goes into the pattern of a place where that is empty, else into a new
 * one, as long as the reading says. A beat without hits takes over the reading's meter as well.
 * @throws CoreError "too-large" when all places for patterns are taken
 */
export function bringBackFree(
  beat: Beat,
  at: PatternRef,
  hits: readonly LookbackHit[],
  { reading, tempo, straighten }: FreeRecall,
  quantized: boolean,
): BroughtBack {
  const metered = hitCount(beat) === 0 ? setMeter(beat, reading.meter) : beat;
  const timed = tempo === "use" ? setTempo(metered, Number(reading.bpm.toFixed(2))) : metered;
  const empty = findPattern(timed, at).passes.every((pass) => pass.hits.length === 0);
  const made = empty ? { beat: timed, patternRef: at } : addPattern(timed, at);
  // In another meter than the reading's the loop is as many bars as hold it.
  const bars = Math.ceil((reading.bars * barTicks(reading.meter)) / barTicks(made.beat.meter) - 1e-6);
  const long = setBars(made.beat, made.patternRef, Math.min(MAX_BARS, bars));
  const length = patternLengthTicks(findPattern(long, made.patternRef), long.meter);
  const placed = hits.map((hit) => {
    const ticks = quartersAt(reading, hit.timeMs / 1000, straighten) * TICKS_PER_QUARTER;
    // What leads into the first downbeat sounds at the end of the loop, where it leads into the next one.
    const inLoop = asTicks(ticks < -EARLY_TICKS ? wrap(ticks, length) : ticks);
    return toHit(withoutPlace(hit), inLoop, reading.bpm);
  });
  return { beat: withEchoPass(long, made.patternRef, placed, quantized), patternRef: made.patternRef };
}

function withoutPlace({ along: _, ...hit }: LookbackHit): LookbackHit {
  return hit;
}
