import { median } from "simple-statistics";
import type { Groove, GrooveGrid, GrooveLine } from "../beat/feel";
import { CoreError } from "../core-error";
import { groupBy } from "../group-by";
import { GRID_TICKS } from "../time/grid";
import { asTicks, type Ticks } from "../time/ticks";
import { wrap } from "../time/ticks";
import { unwarpTicks, type Warp } from "../time/warp";
import { linesPerBar } from "./groove-lines";
import { quantize } from "./quantize";
import { fitSwing } from "./fit-swing";

/** A stroke as far as a groove is made of it. */
export interface TimedStroke {
  readonly ticks: Ticks;
  readonly pad: number;
  /** 1..127 */
  readonly velocity: number;
}

export interface GrooveFrame {
  readonly name: string;
  readonly grid: GrooveGrid;
  readonly bars: 1 | 2;
  readonly barTicks: Ticks;
}

/** How well a groove stands for what it was made of. */
export interface GrooveFit {
  readonly hits: number;
  /** Lines on which something was played, of all. */
  readonly playedLines: number;
  readonly lines: number;
  /** The middle distance of a hit from where the groove has its line. */
  readonly missTicks: number;
  /** The share of the hits that are nearer to that than half as far as from the straight line, or than `NEAR_TICKS`. */
  readonly share: number;
}

export interface ExtractedGroove {
  readonly groove: Groove;
  readonly fit: GrooveFit;
}

/** Nobody hears less: about 5 ms at 120 BPM (common practice, no source). */
const NEAR_TICKS = 10;
const FACTOR = { min: 0.5, max: 1.5 };

/**
 * The groove in some strokes: for every line the median of how late they are, and the median of how hard beside the
 * middle stroke of the same pad. A median is not moved by a few slips. Lines without strokes lie straight between their
 * neighbours and are marked.
 * @param strokes from the first downbeat on, over any number of bars
 * @throws CoreError "bad-value" without strokes
 */
export function extractGroove(strokes: readonly TimedStroke[], frame: GrooveFrame): ExtractedGroove {
  if (strokes.length === 0) throw new CoreError("bad-value", "There is nothing here to make a groove of: no hit.");
  const { grid, bars, barTicks: bar } = frame;
  const perBar = linesPerBar(frame);
  const step = asTicks(GRID_TICKS[grid]);
  // A heavy swing lies nearer to the next line than to its own.
  const swung = fitSwing(
    strokes.map(({ ticks }) => ticks),
    grid,
    bar,
  );
  const placed = strokes.map((stroke) => placeOf(stroke.ticks, step, bar, bars, perBar, swung));
  const usual = medianVelocities(strokes);
  const hits = strokes.map((stroke, at) => ({ ...placed[at]!, loud: stroke.velocity / usual.get(stroke.pad)! }));
  const byLine = groupBy(hits, ({ index }) => index);
  const played = Array.from({ length: bars * perBar }, (_, index) => {
    const own = byLine.get(index);
    return own && { offset: median(own.map(({ offset }) => offset)), velocity: median(own.map(({ loud }) => loud)) };
  });
  const lines = played.map((_, index) => lineAt(played, index));
  const misses = placed.map(({ index, offset }) => Math.abs(offset - lines[index]!.offsetTicks));
  return {
    groove: { ...frame, description: "", lines },
    fit: {
      hits: strokes.length,
      playedLines: byLine.size,
      lines: lines.length,
      missTicks: median(misses),
      share:
        misses.filter((miss, at) => miss <= Math.max(NEAR_TICKS, Math.abs(placed[at]!.offset) / 2)).length /
        misses.length,
    },
  };
}

function placeOf(ticks: Ticks, step: Ticks, bar: Ticks, bars: number, perBar: number, swung: Warp | undefined) {
  const { line } = quantize(unwarpTicks(swung, ticks), [step], { strength: 1, reach: 1 }, bar);
  const inCycle = wrap(line!, bars * bar);
  return { index: Math.floor(inCycle / bar) * perBar + (inCycle % bar) / step, offset: ticks - line! };
}

function medianVelocities(strokes: readonly TimedStroke[]): ReadonlyMap<number, number> {
  const byLane = groupBy(strokes, ({ pad }) => pad);
  return new Map([...byLane].map(([pad, own]) => [pad, median(own.map(({ velocity }) => velocity))]));
}

type PlayedLine = { readonly offset: number; readonly velocity: number } | undefined;

function lineAt(played: readonly PlayedLine[], index: number): GrooveLine {
  const own = played[index];
  if (own) return toLine(own.offset, own.velocity);
  const count = played.length;
  const back = Array.from({ length: count }, (_, by) => by + 1).find((by) => played[wrap(index - by, count)])!;
  const on = Array.from({ length: count }, (_, by) => by + 1).find((by) => played[(index + by) % count])!;
  const before = played[wrap(index - back, count)]!;
  const after = played[(index + on) % count]!;
  const share = back / (back + on);
  const between = (a: number, b: number) => a + share * (b - a);
  return {
    ...toLine(between(before.offset, after.offset), between(before.velocity, after.velocity)),
    interpolated: true,
  };
}

function toLine(offsetTicks: number, velocity: number): GrooveLine {
  return { offsetTicks, velocity: Math.max(FACTOR.min, Math.min(FACTOR.max, velocity)) };
}
