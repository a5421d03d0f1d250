import type { Beat, Pattern } from "../beat/beat";
import { GRID_TICKS } from "../time/grid";
import { barTicks } from "../time/meter";
import { ticksToSeconds } from "../time/tempo";
import type { Ticks } from "../time/ticks";
import { missOf } from "../timing/early-late";
import { feelOf } from "../timing/feel-of";
import { feelGrid } from "../timing/groove-lines";
import { isPlacedByHand, type HeardHit } from "../timing/heard-hit";
import { gridsOf, quantize } from "../timing/quantize";

/**
 * How far hits of a pattern lie from the lines that are meant, in ms; late is positive. What was put somewhere by hand is
 * measured there, all else where it was played, by the grid that corrects it, or sixteenths where that is off.
 */
export function hitOffsets(beat: Beat, pattern: Pattern): (heard: HeardHit) => number {
  const bar = barTicks(beat.meter);
  const feels = feelOf(pattern, beat.meter);
  const passes = new Map(pattern.passes.map((pass) => [pass.id, pass.quantize]));
  return ({ hit, passId, straightTicks }) => {
    const grids = gridsOf(hit.quantize ?? passes.get(passId) ?? beat.inputQuantize, feelGrid(pattern));
    const steps = (grids.length > 0 ? grids : (["1/16"] as const)).map((name) => GRID_TICKS[name] as Ticks);
    const offTicks = isPlacedByHand(hit)
      ? straightTicks - quantize(straightTicks, steps, { strength: 1, reach: 1 }, bar).line!
      : missOf(hit, steps, bar, feels(hit.lane).warp).missTicks;
    return ticksToSeconds(offTicks as Ticks, beat.bpm) * 1000;
  };
}
