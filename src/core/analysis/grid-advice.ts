import { median } from "simple-statistics";
import { GRID_TICKS, type LineGridName } from "../time/grid";
import { ticksToSeconds, type Bpm } from "../time/tempo";
import { asTicks, type Ticks } from "../time/ticks";
import { quantize } from "../timing/quantize";
import { SWUNG_FROM } from "./best-swing";
import { fitGrids, type GridFit } from "./grid-fit";

/** A hit as far as a grid is found for it. */
export interface AdvisedHit {
  readonly id: number;
  /** Where it was played, from the loop start or the first downbeat. */
  readonly ticks: Ticks;
}

/** The correction that is set now. */
export interface SetGrid {
  /** Name of the grid; undefined where none is set. */
  readonly name: string | undefined;
  /** The line that pulls a hit, and where the pattern's swing or groove puts that; undefined where none does. */
  readonly lineOf: (hit: AdvisedHit) => { readonly line: Ticks; readonly felt: Ticks } | undefined;
  /** By how much of the way, 0..1. */
  readonly strength: number;
}

export interface GridAdvice {
  readonly grid: LineGridName;
  /** Triplets that some beats were played in: one grid beside the first, else none. */
  readonly mix: readonly LineGridName[];
  readonly family: "straight" | "swung" | "triplet";
  /** Where the middle of two steps was played; 50 on triplet grids and where there is nothing to tell it by. */
  readonly swingPercent: number;
  readonly swingUnit: "1/8" | "1/16" | undefined;
  /** The player's spread round the lines. */
  readonly spreadMs: number;
  /** Hits that what is set puts where they were not meant, and how far from there: the middle of them. */
  readonly moved: readonly number[];
  readonly movedMs: number;
  readonly sentence: string;
  /** The line that a hit was meant for; undefined for a slip. */
  readonly lineOf: (ticks: Ticks) => number | undefined;
}

/** A grid alone, all the way, for strokes of no pattern. */
export function bareGrid(name: LineGridName, barTicks: Ticks): SetGrid {
  return {
    name,
    strength: 1,
    lineOf({ ticks }) {
      const line = quantize(ticks, [asTicks(GRID_TICKS[name])], { strength: 1, reach: 1 }, barTicks).line!;
      return { line, felt: line };
    },
  };
}

/** Fewer say too little. */
export const MIN_ADVISED_HITS = 12;
/** Distance from the meant place that a drummer hears (common practice, no source). */
const HEARD_MS = 12;
/** In spreads of the player: how far apart lines must be to be told from one another. */
const DISTINCT_SPREADS = { usual: 4, hardlyPlayed: 6 };
/** So sure must it be whether what is set does harm. */
const SURE = 0.9;
/** Readings that are less likely are not asked. */
const ASKED_SHARE = 0.003;
/** Strokes on no line; with more of them nothing is called harmless. */
const STRAYS = { least: 1, share: 0.03 };

/**
 * Which grid some hits were played on, and what the one that is set does to them. Harm is a hit whose fitted line and the line
 * that pulls it are further apart than a drummer hears. All likely readings are asked: where they differ on that, nothing is said.
 * @param strokes where a hand came down: of the notes of a chord once
 * @returns undefined for fewer than twelve strokes, and where it can't be told
 * @example with 24 hits on eighth triplets and { name: "1/16", … }: "Played in eighth triplets; 1/16 moves 16 hits by 42 ms."
 */
export function adviseGrid(
  hits: readonly AdvisedHit[],
  bpm: Bpm,
  barTicks: Ticks,
  set: SetGrid,
  strokes: readonly Ticks[] = hits.map(({ ticks }) => ticks),
): GridAdvice | undefined {
  if (strokes.length < MIN_ADVISED_HITS) return undefined;
  const msPerTick = ticksToSeconds(asTicks(1), bpm) * 1000;
  const fits = fitGrids(strokes, bpm, barTicks);
  const [best] = fits;
  // Lines that the playing does not tell from one another are not what was played on.
  if (!isDistinct(best!, msPerTick)) return undefined;
  const harm = ({ lineOf }: GridFit) => movedBy(hits, lineOf, set, bpm);
  const asked = fits.filter(({ share }) => share > ASKED_SHARE);
  const harmful = asked.reduce((sum, fit) => sum + (harm(fit).length > 0 ? fit.share : 0), 0);
  const strays = strokes.filter((ticks) => best!.lineOf(ticks) === undefined).length;
  const harmless = harmful < 1 - SURE && strays <= Math.max(STRAYS.least, STRAYS.share * strokes.length);
  if (!harmless && harmful < SURE) return undefined;
  const moved = harm(best!);
  const { grid, triplets, ratio, spreadMs, lineOf } = best!;
  const swung = ratio >= SWUNG_FROM;
  const movedMs = moved.length === 0 ? 0 : Math.round(median(moved.map(({ ms }) => ms)));
  return {
    grid,
    mix: triplets ? [triplets] : [],
    family: grid.endsWith("T") ? "triplet" : swung ? "swung" : "straight",
    swingPercent: Math.round(1000 * ratio) / 10,
    swingUnit: grid === "1/8" || grid === "1/16" ? grid : undefined,
    spreadMs: Math.round(spreadMs * 10) / 10,
    moved: moved.map(({ id }) => id),
    movedMs,
    sentence: `${playedIn(best!)}${whatItDoes(set.name, moved.length, movedMs)}.`,
    lineOf,
  };
}

function isDistinct({ grid, triplets, spreadMs }: GridFit, msPerTick: number): boolean {
  const step = GRID_TICKS[triplets ?? grid];
  const spreads = step < GRID_TICKS["1/16"] ? DISTINCT_SPREADS.hardlyPlayed : DISTINCT_SPREADS.usual;
  return step * msPerTick > spreads * spreadMs;
}

/**
 * The hits that are pulled to another place than they were meant for. A swing or groove that is set is wanted: where the straight
 * line is the right one, what it does to that is no harm, and where it puts the line where the hit was played, neither.
 */
export function movedBy(
  hits: readonly AdvisedHit[],
  meantOf: GridAdvice["lineOf"],
  { lineOf, strength }: SetGrid,
  bpm: Bpm,
): readonly { readonly id: number; readonly ms: number }[] {
  const msPerTick = ticksToSeconds(asTicks(1), bpm) * 1000;
  return hits.flatMap((hit) => {
    const meant = meantOf(hit.ticks);
    const pulled = lineOf(hit);
    if (meant === undefined || !pulled) return [];
    const ms = strength * msPerTick * Math.min(Math.abs(pulled.line - meant), Math.abs(pulled.felt - meant));
    return ms > HEARD_MS ? [{ id: hit.id, ms }] : [];
  });
}

const NAMES: Partial<Record<LineGridName, string>> = {
  "1/4": "quarters",
  "1/8": "eighths",
  "1/16": "sixteenths",
  "1/32": "thirty-seconds",
  "1/8T": "eighth triplets",
  "1/16T": "sixteenth triplets",
};

function playedIn({ grid, triplets, ratio }: GridFit): string {
  const swung = ratio >= SWUNG_FROM ? `, swung ${Math.round(100 * ratio)} %` : "";
  return `Played in ${NAMES[grid]}${swung}${triplets ? `, here and there in ${NAMES[triplets]}` : ""}`;
}

function whatItDoes(name: string | undefined, moved: number, movedMs: number): string {
  if (!name) return "";
  if (moved === 0) return `; ${name} fits`;
  return `; ${name} moves ${moved === 1 ? "1 hit" : `${moved} hits`} by ${movedMs} ms`;
}
