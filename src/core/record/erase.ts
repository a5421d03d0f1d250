import type { Beat, PatternRef } from "../beat/beat";
import { removeHits } from "../beat/pass-edit";
import type { LoopSpan } from "../time/loop-span";
import type { Ticks } from "../time/ticks";
import { wrap } from "../time/ticks";
import type { Monitoring } from "../timing/heard-hit";
import { loopHitIds } from "../timing/loop-hits";

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
  const isIn = (ticks: number) => wrap(ticks - fromTicks, span.lengthTicks) < duration;
  const doomed = loopHitIds(beat, place, pads, span, monitoring, isIn);
  return doomed.size === 0
    ? beat
    : removeHits(beat, place, ({ id, lane }) => pads.has(lane) && doomed.has(id), keepPassId);
}
