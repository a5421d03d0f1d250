import type { Hit, Pass, Pattern, QuantizeSettings } from "../beat/beat";
import { patternLengthTicks } from "../beat/beat";
import { remember } from "../remember";
import { sameQuantize } from "../beat/quantize-settings";
import { GRID_TICKS, lineAfter, lineBefore } from "../time/grid";
import type { Meter } from "../time/meter";
import { barTicks, beatTicks } from "../time/meter";
import { asTicks, type Ticks } from "../time/ticks";
import { warpTicks } from "../time/warp";
import { feelOf, type PadFeel } from "./feel-of";
import { feelGrid } from "./groove-lines";
import { isBeyond, isPlacedByHand, levelOf, startOf, type ResolvedHit, type TimingView } from "./resolved-hit";
import { gridMisses, gridsOf, isTripletLine, quantizer, type GridSurroundings, type Quantizer } from "./quantize";

/** The hits of a pass with the places where they sound, as if it were alone. */
export interface CorrectedHits {
  readonly hits: readonly ResolvedHit[];
  /** For each its lane and line as one number, by which hits that fall together are found; -1 where it is on none. */
  readonly places: Int32Array;
  /** The same hits as covered ones, each made when it is needed first. */
  readonly asCovered: (ResolvedHit | undefined)[];
}

/** On none of the lines. */
export const NO_PLACE = -1;

/** What of a pattern decides where the hits of its passes sound. */
export interface Surroundings extends GridSurroundings {
  readonly timingView: TimingView;
  readonly feels: (lane: number) => PadFeel;
  /** What all of it is made of. */
  readonly madeOf: readonly unknown[];
}

export function surroundingsOf(pattern: Pattern, meter: Meter, timingView: TimingView): Surroundings {
  const lengthTicks = patternLengthTicks(pattern, meter);
  const { swing, groove, looseness, padAmounts } = pattern;
  return {
    timingView,
    feels: feelOf(timingView === "grooved" ? pattern : {}, meter),
    barTicks: barTicks(meter),
    beatTicks: beatTicks(meter),
    lengthTicks,
    feelGrid: feelGrid(pattern),
    madeOf: [timingView, meter, lengthTicks, swing, groove, looseness, padAmounts],
  };
}

/** For hits that no grid moves. */
const UNMOVED: QuantizeSettings = { grid: "off", strength: 1, reach: 1 };

const corrections = remember<Pass, CorrectedHits>();

/**
 * The hits of a pass as they sound, masked ones and those beyond the loop's end left out. Worked out once for a pass that
 * does not change: with every stroke only the pass that is being recorded is another one.
 */
export function correctedHits(pass: Pass, surroundings: Surroundings): CorrectedHits {
  return corrections(pass, surroundings.madeOf, () => correct(pass, surroundings));
}

function correct(pass: Pass, surroundings: Surroundings): CorrectedHits {
  const { lengthTicks: length, timingView, feels } = surroundings;
  const timings = timingsOf(pass, surroundings);
  const passTiming = timings(pass.quantize);
  const unmoved = timings(UNMOVED);
  const places = new Int32Array(pass.hits.length).fill(NO_PLACE);
  const hits: ResolvedHit[] = [];
  for (const hit of pass.hits) {
    if (isBeyond(hit, length) || hit.masked) continue;
    if (timingView === "played") {
      const { played, lengthTicks } = hit;
      const { ticks, velocity } = played;
      const straightTicks = played.straightTicks ?? ticks;
      hits.push({
        hit,
        passId: pass.id,
        ticks,
        straightTicks,
        line: undefined,
        duplicateOnLine: false,
        velocity,
        lengthTicks,
      });
      continue;
    }
    const byHand = isPlacedByHand(hit);
    const timing = byHand ? unmoved : hit.quantize ? timings(hit.quantize) : passTiming;
    const start = startOf(hit);
    const { ticks, line } = timing.correct(start, hit.start?.ticks === undefined ? hit.downbeatTicks : undefined);
    if (line !== undefined) places[hits.length] = linePlace(line, length, hit.lane);
    // What was put on a line shares it with what the grid pulls there.
    else if (byHand) places[hits.length] = linePlace(Math.round(ticks), length, hit.lane);
    const feel = feels(hit.lane);
    hits.push({
      hit,
      passId: pass.id,
      ticks: inLoop(moved(inLoop(ticks, length), line, timing, feel, hit.id, surroundings.barTicks), length),
      straightTicks: inLoop(ticks, length),
      line,
      duplicateOnLine: hit.start?.covered === true,
      velocity: feel.velocity(levelOf(hit), ticks, hit.id),
      lengthTicks: heardLength(hit, start, ticks, timing, surroundings),
    });
  }
  return { hits, places, asCovered: new Array<ResolvedHit | undefined>(hits.length) };
}

/** One of the hits, as it is beside a louder one on its line. */
export function asCovered({ hits, asCovered }: CorrectedHits, index: number): ResolvedHit {
  const one = hits[index]!;
  if (one.duplicateOnLine) return one;
  const { hit, passId, ticks, straightTicks, line, velocity, lengthTicks } = one;
  return (asCovered[index] ??= {
    hit,
    passId,
    ticks,
    straightTicks,
    line,
    duplicateOnLine: true,
    velocity,
    lengthTicks,
  });
}

function inLoop(ticks: Ticks, length: Ticks): Ticks {
  return asTicks(ticks >= length ? ticks - length : ticks);
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
  return asTicks(warpTicks(unswung ? feel.unswung : feel.warp, ticks) + feel.shiftTicks(hitId));
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
  const end = asTicks(start + lengthTicks);
  const oldEnd = asTicks(Math.max(1, end - ticks));
  if (ends === "played" || grids.length === 0) return oldEnd;
  // The nearest line after the start.
  const step = asTicks(Math.min(...grids.map((name) => GRID_TICKS[name])));
  const first = lineAfter(lineBefore(ticks, step, barTicks), step, barTicks);
  const before = lineBefore(end, step, barTicks);
  const after = lineAfter(before, step, barTicks);
  return asTicks(Math.max(first, end - before < after - end ? before : after) - ticks);
}

/** A pad and a line on the circle of the loop as one small whole number, which a map finds fastest. */
function linePlace(line: number, length: number, lane: number): number {
  const onCircle = line < 0 ? line + length : line >= length ? line - length : line;
  return (onCircle * 128 + lane) | 0;
}
