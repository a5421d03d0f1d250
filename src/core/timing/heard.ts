import { padsOf } from "../beat/lanes";
import type { Hit, Part, Pass, Pattern, QuantizeSettings } from "../beat/beat";
import { openPasses, patternLengthTicks } from "../beat/beat";
import { sameQuantize } from "../beat/quantize-settings";
import { GRID_TICKS, lineAfter, lineBefore } from "../time/grid";
import type { Meter } from "../time/meter";
import { barTicks, beatTicks } from "../time/meter";
import type { Ticks } from "../time/ticks";
import { warpTicks } from "../time/warp";
import { feelOf, type PadFeel } from "./feel-of";
import { feelGrid } from "./groove-lines";
import { gridMisses, gridsOf, isTripletLine, quantizer, type GridSurroundings, type Quantizer } from "./quantize";

/** What is listened to: all of it, without swing and groove, or just what was played. */
export const HEARINGS = ["grooved", "corrected", "played"] as const;
export type Hearing = (typeof HEARINGS)[number];

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
  /** 1..127, with the accents of the groove. */
  readonly velocity: number;
  readonly lengthTicks: Ticks;
}

/** Where a hit's timing starts from, on the straight grid: its start, or what was played without the feel of then. */
export function startOf({ start, played }: Hit): Ticks {
  return start?.ticks ?? played.straightTicks ?? played.ticks;
}

/** How loud a hit is to begin with: as it was kept, or as it was struck. */
function levelOf({ start, played }: Hit): number {
  return start?.velocity ?? played.velocity;
}

/**
 * Where the hits of a pattern sound: muted passes and masked hits left out, the rest corrected by the settings of their
 * pass or by their own, then swung and grooved. Hits beyond the loop's end are left out. A pure function of its arguments;
 * the order is that of the passes.
 */
export function heard(pattern: Pattern, meter: Meter, hearing: Hearing = "grooved"): readonly HeardHit[] {
  const length = patternLengthTicks(pattern, meter);
  const inLoop = (ticks: Ticks) => (ticks >= length ? ticks - length : ticks) as Ticks;
  const played = hearing === "played";
  const feels = feelOf(hearing === "grooved" ? pattern : {}, meter);
  const surroundings: GridSurroundings = {
    barTicks: barTicks(meter),
    beatTicks: beatTicks(meter),
    lengthTicks: length,
    feelGrid: feelGrid(pattern),
  };
  const result: HeardHit[] = [];
  const onLine = new Map<number, number>();
  for (const pass of openPasses(pattern)) {
    const timings = timingsOf(pass, surroundings);
    const passTiming = timings(pass.quantize);
    for (const hit of pass.hits) {
      if (hit.played.ticks >= length || hit.masked) continue;
      if (played) {
        const {
          played: { ticks, velocity },
          lengthTicks,
        } = hit;
        result.push({ hit, passId: pass.id, ticks, line: undefined, covered: false, velocity, lengthTicks });
        continue;
      }
      const timing = hit.quantize ? timings(hit.quantize) : passTiming;
      const start = startOf(hit);
      const { ticks, line } = timing.correct(start, hit.start ? undefined : hit.downbeatTicks);
      const place = line === undefined ? undefined : linePlace(line, length, hit.lane);
      const rival = place === undefined ? undefined : onLine.get(place);
      const keptSilent = hit.start?.covered === true;
      const covered = keptSilent || (rival !== undefined && levelOf(result[rival]!.hit) >= levelOf(hit));
      if (rival !== undefined && !covered) result[rival] = { ...result[rival]!, covered: true };
      if (place !== undefined && !covered) onLine.set(place, result.length);
      const feel = feels(hit.lane);
      result.push({
        hit,
        passId: pass.id,
        ticks: inLoop(moved(inLoop(ticks), line, timing, feel, hit.id, surroundings.barTicks)),
        line,
        covered,
        velocity: feel.velocity(levelOf(hit), ticks, hit.id),
        lengthTicks: heardLength(hit, start, ticks, timing, surroundings),
      });
    }
  }
  return result;
}

/** The settings of some hits, made ready. */
interface Timing {
  readonly settings: QuantizeSettings;
  readonly grids: ReturnType<typeof gridsOf>;
  readonly mixed: boolean;
  readonly correct: Quantizer;
}

/** Settings that were used last; hits that were made on a grid come with equal ones, but not always the same object. */
const TIMINGS_KEPT = 8;

/** @returns what makes settings ready for the hits of a pass, once for all that are equal */
function timingsOf(pass: Pass, surroundings: GridSurroundings): (settings: QuantizeSettings) => Timing {
  const starts = () => pass.hits.filter(({ masked }) => !masked).map(startOf);
  const misses = gridMisses(starts, surroundings);
  const kept: Timing[] = [];
  let oldest = 0;
  return (wanted) => {
    for (const timing of kept) if (sameQuantize(timing.settings, wanted)) return timing;
    const grids = gridsOf(wanted, surroundings.feelGrid);
    const correct = quantizer(wanted, surroundings, misses);
    const timing = { settings: wanted, grids, mixed: grids.length > 1, correct };
    kept[oldest] = timing;
    oldest = (oldest + 1) % TIMINGS_KEPT;
    return timing;
  };
}

/** From the straight grid to where swing, groove and chance put it. */
function moved(
  ticks: Ticks,
  line: Ticks | undefined,
  { mixed, grids }: Timing,
  feel: PadFeel,
  hitId: number,
  barTicks: Ticks,
): Ticks {
  const unswung = mixed && line !== undefined && isTripletLine(line, grids, barTicks);
  return (warpTicks(unswung ? feel.unswung : feel.warp, ticks) + feel.shiftTicks(hitId)) as Ticks;
}

function heardLength(
  hit: Hit,
  start: Ticks,
  ticks: Ticks,
  { settings: { ends }, grids }: Timing,
  { barTicks }: GridSurroundings,
): Ticks {
  const lengthTicks = hit.start?.lengthTicks ?? hit.lengthTicks;
  if (ends === undefined) return lengthTicks;
  if (typeof ends === "number") return ends;
  const end = (start + lengthTicks) as Ticks;
  const oldEnd = Math.max(1, end - ticks) as Ticks;
  if (ends === "played" || grids.length === 0) return oldEnd;
  // The nearest line after the start.
  const step = Math.min(...grids.map((name) => GRID_TICKS[name])) as Ticks;
  const first = lineAfter(lineBefore(ticks, step, barTicks), step, barTicks);
  const before = lineBefore(end, step, barTicks);
  const after = lineAfter(before, step, barTicks);
  return (Math.max(first, end - before < after - end ? before : after) - ticks) as Ticks;
}

const remembered = new WeakMap<
  Pattern,
  { readonly meter: Meter; readonly hearing: Hearing; readonly hits: readonly HeardHit[] }
>();

/** The same, worked out once for a pattern that does not change: the picture, the sound and the figures all ask. */
export function cachedHeard(pattern: Pattern, meter: Meter, hearing: Hearing = "grooved"): readonly HeardHit[] {
  const known = remembered.get(pattern);
  if (known?.meter === meter && known.hearing === hearing) return known.hits;
  const hits = heard(pattern, meter, hearing);
  remembered.set(pattern, { meter, hearing, hits });
  return hits;
}

/** What of a pattern reaches the ear: neither covered, nor on a muted pad, nor beside a soloed one. */
export function sounding(
  part: Part,
  pattern: Pattern,
  meter: Meter,
  hearing: Hearing = "grooved",
): readonly HeardHit[] {
  const silenced = silencedLanes(part);
  return cachedHeard(pattern, meter, hearing).filter(({ hit, covered }) => !covered && !silenced.has(hit.lane));
}

/** The pads that are muted, or stand beside a soloed one; of notes there are none. */
export function silencedLanes(part: Part): ReadonlySet<number> {
  const pads = padsOf(part);
  const solo = pads.some(({ soloed }) => soloed);
  return new Set(pads.filter((pad) => (solo ? !pad.soloed : pad.muted)).map(({ id }) => id));
}

/** A pad and a line on the circle of the loop as one small whole number, which a map finds fastest. */
function linePlace(line: number, length: number, pad: number): number {
  const onCircle = line < 0 ? line + length : line >= length ? line - length : line;
  return (onCircle * 128 + pad) | 0;
}
