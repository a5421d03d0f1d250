import type { Beat, PatternRef } from "../beat/beat";
import { findPattern } from "../beat/edit";
import { removeHits } from "../beat/pass-edit";
import type { LoopSpan } from "../time/loop-span";
import type { Ticks } from "../time/ticks";
import { wrap } from "../time/ticks";
import type { Monitoring } from "../timing/heard-hit";
import { loopHits } from "../timing/loop-hits";

/**
 * Takes away what sounded of some pads between two moments of a running loop, whatever pass it is in; silent passes and
 * what lies outside the loop stay. Of several hits that fell together on one line all go, or the covered one would
 * come up.
 * @param pads ids
 * @param fromTicks, toTicks transport positions as heard, half open; a lap or more takes everything of the pads
 * @param monitoring what is listened to: hits go from where they are heard
 * @param keepPassId a pass that stays even when it is empty
 */
export function eraseSpan(
  beat: Beat,
  place: PatternRef,
  pads: ReadonlySet<number>,
  fromTicks: Ticks,
  toTicks: Ticks,
  span: LoopSpan,
  monitoring: Monitoring,
  keepPassId?: number,
): Beat {
  const duration = toTicks - fromTicks;
  const doomed = new Set(
    loopHits(findPattern(beat, place), beat.meter, span, beat.inputQuantize.grid, monitoring)
      .filter(({ hit, loopTicks }) => pads.has(hit.lane) && wrap(loopTicks - fromTicks, span.lengthTicks) < duration)
      .map(({ hit }) => hit.id),
  );
  return removeHits(beat, place, ({ id }) => doomed.has(id), keepPassId);
}
