import type { Hit, Part, Pattern } from "../beat/beat";
import { patternLengthTicks } from "../beat/beat";
import { gridTicks } from "../time/grid";
import type { Meter } from "../time/meter";
import { barTicks } from "../time/meter";
import type { Ticks } from "../time/ticks";
import { quantizeToStep } from "./quantize";

/** A hit with the place where it sounds. */
export interface HeardHit {
  readonly hit: Hit;
  readonly passId: number;
  /**
   * Where it sounds, before the loop's end; negative when it sounds ahead of the downbeat, which in a running loop is the
   * end of the lap before.
   */
  readonly ticks: Ticks;
  /** True when a louder hit of the same pad was corrected to the same line; then it is kept but does not sound. */
  readonly covered: boolean;
}

/**
 * Where the hits of a pattern sound: muted passes left out, the rest corrected by the settings of their pass.
 * Hits beyond the loop's end are left out. A pure function of its arguments; the order is that of the passes.
 */
export function heard(pattern: Pattern, meter: Meter): readonly HeardHit[] {
  const bar = barTicks(meter);
  const length = patternLengthTicks(pattern, meter);
  const result: HeardHit[] = [];
  const onLine = new Map<number, number>();
  for (const pass of pattern.passes) {
    if (pass.muted) continue;
    const { grid, strength, reach } = pass.quantize;
    const step = gridTicks(grid);
    for (const hit of pass.hits) {
      if (hit.playedTicks >= length) continue;
      const { ticks, line } = quantizeToStep(hit.playedTicks, step, strength, reach, bar);
      const place = line === undefined ? undefined : linePlace(line, length, hit.pad);
      const rival = place === undefined ? undefined : onLine.get(place);
      const covered = rival !== undefined && result[rival].hit.velocity >= hit.velocity;
      if (rival !== undefined && !covered) result[rival] = { ...result[rival], covered: true };
      if (place !== undefined && !covered) onLine.set(place, result.length);
      result.push({ hit, passId: pass.id, ticks: (ticks >= length ? ticks - length : ticks) as Ticks, covered });
    }
  }
  return result;
}

/** What of a pattern reaches the ear: neither covered, nor on a muted pad, nor beside a soloed one. */
export function sounding(part: Part, pattern: Pattern, meter: Meter): readonly HeardHit[] {
  const solo = part.pads.some(({ soloed }) => soloed);
  const open = new Set(part.pads.filter((pad) => (solo ? pad.soloed : !pad.muted)).map(({ id }) => id));
  return heard(pattern, meter).filter(({ hit, covered }) => !covered && open.has(hit.pad));
}

/** A pad and a line on the circle of the loop as one small whole number, which a map finds fastest. */
function linePlace(line: number, length: number, pad: number): number {
  const onCircle = line < 0 ? line + length : line >= length ? line - length : line;
  return (onCircle * 128 + pad) | 0;
}
