import type { Beat, Pattern } from "../beat/beat";
import { GRID_TICKS } from "../time/grid";
import { barTicks } from "../time/meter";
import { ticksToSeconds } from "../time/tempo";
import { asTicks } from "../time/ticks";
import { warpTicks } from "../time/warp";
import { missOf } from "../timing/early-late";
import { feelOf } from "../timing/feel-of";
import { feelGrid } from "../timing/groove-lines";
import { isPlacedByHand, type ResolvedHit } from "../timing/resolved-hit";
import { gridsOf, quantize } from "../timing/quantize";

/** How far hits of a pattern lie from the lines that are meant, in ms; late is positive. */
export interface HitOffsets {
  /** Where they were played, by the grid that corrects them, or sixteenths; what was put somewhere by hand is measured there. */
  readonly ms: (heard: ResolvedHit) => number;
  /** Where they are heard, from where swing and groove have the line. */
  readonly heardMs: (heard: ResolvedHit) => number;
}

export function hitOffsets(beat: Beat, pattern: Pattern): HitOffsets {
  const bar = barTicks(beat.meter);
  const feels = feelOf(pattern, beat.meter);
  const passes = new Map(pattern.passes.map((pass) => [pass.id, pass.quantize]));
  const stepsOf = ({ hit, passId }: ResolvedHit) => {
    const grids = gridsOf(hit.quantize ?? passes.get(passId) ?? beat.inputQuantize, feelGrid(pattern));
    return (grids.length > 0 ? grids : (["1/16"] as const)).map((name) => asTicks(GRID_TICKS[name]));
  };
  const lineOf = (heard: ResolvedHit) =>
    quantize(heard.straightTicks, stepsOf(heard), { strength: 1, reach: 1 }, bar).line!;
  const toMs = (ticks: number) => ticksToSeconds(asTicks(ticks), beat.bpm) * 1000;
  return {
    ms: (heard) =>
      toMs(
        isPlacedByHand(heard.hit)
          ? warpTicks(feels(heard.hit.lane).warp, heard.straightTicks) -
              warpTicks(feels(heard.hit.lane).warp, lineOf(heard))
          : missOf(heard.hit, stepsOf(heard), bar, feels(heard.hit.lane).warp).missTicks,
      ),
    heardMs: (heard) => toMs(heard.ticks - warpTicks(feels(heard.hit.lane).warp, lineOf(heard))),
  };
}
