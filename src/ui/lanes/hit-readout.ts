import type { Beat, Pattern } from "@/core/beat/beat";
import { GRID_TICKS } from "@/core/time/grid";
import { barTicks } from "@/core/time/meter";
import { formatPosition } from "@/core/time/position";
import { ticksToSeconds } from "@/core/time/tempo";
import type { Ticks } from "@/core/time/ticks";
import { missOf } from "@/core/timing/early-late";
import { feelWarp } from "@/core/timing/feel-warp";
import { feelGrid } from "@/core/timing/groove-lines";
import { cachedHeard } from "@/core/timing/heard";
import type { Monitoring } from "@/core/timing/heard-hit";
import { gridsOf } from "@/core/timing/quantize";

/** A hit in words: where it sounds, how early or late it was played, how hard, in which pass. */
export function readHit(beat: Beat, pattern: Pattern, hitId: number, monitoring: Monitoring): string | undefined {
  const mark = cachedHeard(pattern, beat.meter, monitoring).find(({ hit }) => hit.id === hitId);
  if (!mark) return undefined;
  const { hit, ticks, velocity, covered, passId } = mark;
  const pass = pattern.passes.find(({ id }) => id === passId);
  const grids = gridsOf(hit.quantize ?? pass?.quantize ?? beat.inputQuantize, feelGrid(pattern));
  const steps = (grids.length > 0 ? grids : (["1/16"] as const)).map((name) => GRID_TICKS[name] as Ticks);
  const warp = feelWarp(pattern, beat.meter, pattern.padAmounts?.[hit.lane]);
  const { missTicks } = missOf(hit, steps, barTicks(beat.meter), warp);
  const ms = ticksToSeconds(missTicks as Ticks, beat.bpm) * 1000;
  const late = Math.abs(ms) < 0.5 ? "on the line" : `${Math.abs(ms).toFixed(0)} ms ${ms < 0 ? "early" : "late"}`;
  const level =
    velocity === hit.played.velocity ? `velocity ${velocity}` : `velocity ${hit.played.velocity}, heard ${velocity}`;
  const place = ticks < 0 ? "before 1.1.000" : formatPosition(ticks, beat.meter);
  return [place, late, level, pass?.name ?? "", ...(covered ? ["covered by a louder hit"] : [])].join(" · ");
}
