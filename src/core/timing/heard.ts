import type { Hit, Part, Pattern } from "../beat/beat";
import { openPasses, patternLengthTicks } from "../beat/beat";
import { gridTicks } from "../time/grid";
import type { Meter } from "../time/meter";
import { barTicks } from "../time/meter";
import type { Ticks } from "../time/ticks";
import { warpTicks } from "../time/warp";
import { quantize, quantizeToStep } from "./quantize";
import { swingWarp } from "./swing";

/** A hit with the place where it sounds. */
export interface HeardHit {
  readonly hit: Hit;
  readonly passId: number;
  /**
   * Where it sounds, before the loop's end; negative when it sounds ahead of the downbeat, which in a running loop is the
   * end of the lap before.
   */
  readonly ticks: Ticks;
  /** The line that pulled it, on the straight grid; undefined where it stays as played. */
  readonly line: Ticks | undefined;
  /** True when a louder hit of the same pad was corrected to the same line; then it is kept but does not sound. */
  readonly covered: boolean;
}

/**
 * Where the hits of a pattern sound: muted passes and masked hits left out, the rest corrected by the settings of their
 * pass or by their own, then swung. Hits beyond the loop's end are left out. A pure function of its arguments; the order
 * is that of the passes.
 */
export function heard(pattern: Pattern, meter: Meter): readonly HeardHit[] {
  const bar = barTicks(meter);
  const length = patternLengthTicks(pattern, meter);
  const warp = swingWarp(pattern.swing, meter);
  const result: HeardHit[] = [];
  const onLine = new Map<number, number>();
  for (const pass of openPasses(pattern)) {
    const { grid, strength, reach } = pass.quantize;
    const step = gridTicks(grid);
    for (const hit of pass.hits) {
      if (hit.playedTicks >= length || hit.masked) continue;
      const { ticks, line } = hit.quantize
        ? quantize(hit.playedTicks, hit.quantize, bar)
        : quantizeToStep(hit.playedTicks, step, strength, reach, bar);
      const place = line === undefined ? undefined : linePlace(line, length, hit.pad);
      const rival = place === undefined ? undefined : onLine.get(place);
      const covered = rival !== undefined && result[rival].hit.velocity >= hit.velocity;
      if (rival !== undefined && !covered) result[rival] = { ...result[rival], covered: true };
      if (place !== undefined && !covered) onLine.set(place, result.length);
      const inLoop = (ticks >= length ? ticks - length : ticks) as Ticks;
      result.push({ hit, passId: pass.id, ticks: warp ? warpTicks(warp, inLoop) : inLoop, line, covered });
    }
  }
  return result;
}

const remembered = new WeakMap<Pattern, { readonly meter: Meter; readonly hits: readonly HeardHit[] }>();

/** The same, worked out once for a pattern that does not change: the picture, the sound and the figures all ask. */
export function heardOnce(pattern: Pattern, meter: Meter): readonly HeardHit[] {
  const known = remembered.get(pattern);
  if (known?.meter === meter) return known.hits;
  const hits = heard(pattern, meter);
  remembered.set(pattern, { meter, hits });
  return hits;
}

/** What of a pattern reaches the ear: neither covered, nor on a muted pad, nor beside a soloed one. */
export function sounding(part: Part, pattern: Pattern, meter: Meter): readonly HeardHit[] {
  const open = openPads(part);
  return heardOnce(pattern, meter).filter(({ hit, covered }) => !covered && open.has(hit.pad));
}

/** The pads that are not silenced: not muted, and soloed where any is. */
export function openPads({ pads }: Part): ReadonlySet<number> {
  const solo = pads.some(({ soloed }) => soloed);
  return new Set(pads.filter((pad) => (solo ? pad.soloed : !pad.muted)).map(({ id }) => id));
}

/** A pad and a line on the circle of the loop as one small whole number, which a map finds fastest. */
function linePlace(line: number, length: number, pad: number): number {
  const onCircle = line < 0 ? line + length : line >= length ? line - length : line;
  return (onCircle * 128 + pad) | 0;
}
