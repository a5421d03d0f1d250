import type { Beat, PatternRef } from "./beat";
import { findPattern } from "./edit";
import { MAX_BARS } from "./new-beat";
import { CoreError } from "../core-error";
import { barTicks } from "../time/meter";
import { asTicks, leastCommonMultiple, type Ticks } from "../time/ticks";

/**
 * After how long patterns that began together do so again.
 * @throws CoreError "too-large" over 2000 bars
 * @example commonLapTicks(beat, [patternRef]) // 7680
 */
export function commonLapTicks(beat: Beat, places: readonly PatternRef[]): Ticks {
  const bars = places.reduce((all, patternRef) => leastCommonMultiple(all, findPattern(beat, patternRef).bars), 1);
  if (bars > MAX_BARS)
    throw new CoreError("too-large", `These patterns come together after ${bars} bars only; ${MAX_BARS} are the most.`);
  return asTicks(bars * barTicks(beat.meter));
}
