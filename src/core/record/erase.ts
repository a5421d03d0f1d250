import type { Beat, PatternRef } from "../beat/beat";
import { removeHits } from "../beat/edits/pass-edit";
import type { LoopSpan } from "../time/loop-span";
import type { Ticks } from "../time/ticks";
import { wrap } from "../time/ticks";
import type { TimingView } from "../timing/resolved-hit";
import { loopHitIds } from "../timing/loop-hits";

/**
 * Takes away what sounded of some pads between two moments of a running loop, whatever pass it is in; silent passes and
 * what lies outside the loop stay. Of several hits that fell together on one line all go, or the covered one would
 * come up.
 * @param pads ids
 * @param fromTicks, toTicks transport positions as heard, half open; a lap or more takes everything of the pads
 * @param timingView what is listened to: hits go from where they are heard
 * @param keepPassId a pass that stays even when it is empty
 */
export function eraseSpan(
  beat: Beat,
  patternRef: PatternRef,
  pads: ReadonlySet<number>,
  fromTicks: Ticks,
  toTicks: Ticks,
  span: LoopSpan,
  timingView: TimingView,
  keepPassId?: number,
): Beat {
  const duration = toTicks - fromTicks;
  const isIn = (ticks: number) => wrap(ticks - fromTicks, span.lengthTicks) < duration;
  const doomed = loopHitIds(beat, patternRef, pads, span, timingView, isIn);
  return doomed.size === 0
    ? beat
    : removeHits(beat, patternRef, ({ id, lane }) => pads.has(lane) && doomed.has(id), keepPassId);
}
