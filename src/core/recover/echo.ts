import { median } from "simple-statistics";
import type { Meter } from "../time/meter";
import type { Ticks } from "../time/ticks";

/** Where in a running loop something was played. */
export interface PlayedAlong {
  readonly patternId: number;
  /** Tells one start of the transport from another. */
  readonly run: number;
  /** Below 0 in a count-in. */
  readonly lap: number;
  /** How long a lap was, and how fast. */
  readonly lapTicks: Ticks;
  readonly bpm: number;
  /** Where the loop began in its pattern; at its start where it is left out. */
  readonly startTicks?: Ticks;
  /** The beat it was played with, for when that is not the one it comes back to. */
  readonly meter?: Meter;
  readonly beatName?: string;
  /** From the pattern's start; negative when it was early on the downbeat. */
  readonly playedTicks: Ticks;
  readonly straightTicks?: Ticks;
  readonly downbeatTicks?: Ticks;
  /** It became a hit of a pass as well. */
  readonly recorded?: true;
}

/** A stroke as the memory keeps it. */
export interface LookbackHit {
  /** Milliseconds since 1970, with their fraction. */
  readonly timeMs: number;
  readonly pad: number;
  /** Of a kit its General MIDI percussion key, else the note. */
  readonly note: number;
  /** 1..127 */
  readonly velocity: number;
  readonly device: string;
  /** What was open when it was played. */
  readonly beatId: string;
  readonly partId: number;
  readonly masked?: true;
  /** How long a note was held; strokes of kits, and what was not let go, have none. */
  readonly lengthMs?: number;
  /** Absent where the transport was stopped. */
  readonly along?: PlayedAlong;
}

/** A phrase that was played. */
export interface Echo {
  /** The time of its first hit: what it is known by. */
  readonly id: number;
  readonly hits: readonly LookbackHit[];
  readonly endMs: number;
}

/** So much is remembered at least, whichever is more, and never more than the last; the oldest go first. */
export const LOOKBACK = { hits: 20_000, ms: 60 * 60_000, mostHits: 100_000 };
const LEAST_PAUSE_MS = 1200;
const PAUSE_BEATS = 2;
/** Strokes from which the pulse at a place is judged, and what a beat can be. */
const PULSE_STROKES = 16;
const BEAT_MS = { min: 300, max: 1000 };
/** Strokes nearer than this are one to the pulse. */
const TOGETHER_MS = 40;
/** Longer phrases are cut. */
const MAX_ECHO_HITS = 600;

/**
 * Cuts what was played into phrases: at pauses longer than two beats of the pulse there, where the transport started,
 * stopped or came to another pattern's run, and where a phrase would become too long.
 * @param hits ascending in time
 * @param patience how much longer a pause must be to cut; 1 is usual
 * @param joined ids of phrases that go on the one before them
 * @returns the oldest first
 */
export function splitEchoes(
  hits: readonly LookbackHit[],
  patience = 1,
  joined: ReadonlySet<number> = new Set(),
): readonly Echo[] {
  const echoes: Echo[] = [];
  let from = 0;
  for (let index = 1; index <= hits.length; index++) {
    const cut =
      index === hits.length ||
      (!joined.has(hits[index]!.timeMs) &&
        (index - from >= MAX_ECHO_HITS ||
          isOtherSegment(hits, from, index) ||
          hits[index]!.beatId !== hits[index - 1]!.beatId ||
          hits[index]!.timeMs - hits[index - 1]!.timeMs > patience * pauseAt(hits, from, index)));
    if (!cut) continue;
    echoes.push(echoOf(hits.slice(from, index)));
    from = index;
  }
  return echoes;
}

/** The transport started or stopped, or the part went on in another pattern; each part has runs of its own. */
function isOtherSegment(hits: readonly LookbackHit[], from: number, index: number): boolean {
  const { partId, along } = hits[index]!;
  const last = hits[index - 1]!;
  if ((along === undefined) !== (last.along === undefined)) return true;
  for (let at = index - 1; at >= from; at--)
    if (hits[at]!.partId === partId) return hits[at]!.along?.run !== along?.run;
  return false;
}

/**
 * What was remembered twice, as a note that was let go after it had been kept, counts once, as it was last.
 * @returns ascending in time
 */
export function settledHits(hits: readonly LookbackHit[]): readonly LookbackHit[] {
  const byStroke = new Map(hits.map((hit) => [`${hit.timeMs} ${hit.partId} ${hit.pad}`, hit]));
  if (byStroke.size === hits.length) return hits;
  return [...byStroke.values()].sort((a, b) => a.timeMs - b.timeMs);
}

/** @param hits at least one, ascending in time */
export function echoOf(hits: readonly LookbackHit[]): Echo {
  return { id: hits[0]!.timeMs, hits, endMs: hits.at(-1)!.timeMs };
}

/**
 * How many of the oldest hits are to be forgotten.
 * @param times milliseconds, ascending
 * @example forgottenCount([0, 1000], 2000) // 0
 */
export function forgottenCount(times: readonly number[], nowMs: number): number {
  const old = Math.max(0, times.length - LOOKBACK.hits);
  const stale = times.findIndex((timeMs) => timeMs > nowMs - LOOKBACK.ms);
  return Math.max(Math.min(old, stale < 0 ? old : stale), times.length - LOOKBACK.mostHits);
}

function pauseAt(hits: readonly LookbackHit[], from: number, index: number): number {
  // Most pauses are far from any limit, and the pulse need not be known.
  const gap = hits[index]!.timeMs - hits[index - 1]!.timeMs;
  if (gap <= LEAST_PAUSE_MS || gap > PAUSE_BEATS * BEAT_MS.max) return LEAST_PAUSE_MS;
  const before = gapsFrom(hits, index - 1, from);
  // A phrase that has only begun is judged by how it would go on.
  const gaps = before.length > 0 ? before : gapsFrom(hits, index, hits.length - 1);
  if (gaps.length === 0) return LEAST_PAUSE_MS;
  // What is played is mostly halves of a beat.
  const beat = Math.max(BEAT_MS.min, Math.min(BEAT_MS.max, 2 * median(gaps)));
  return Math.max(LEAST_PAUSE_MS, PAUSE_BEATS * beat);
}

/** The gaps between strokes from one on, towards another one, as many as tell the pulse. */
function gapsFrom(hits: readonly LookbackHit[], start: number, end: number): readonly number[] {
  const by = Math.sign(end - start);
  const gaps: number[] = [];
  for (let at = start; at !== end && gaps.length < PULSE_STROKES; at += by) {
    const gap = Math.abs(hits[at + by]!.timeMs - hits[at]!.timeMs);
    if (gap > PAUSE_BEATS * BEAT_MS.max) break;
    if (gap > TOGETHER_MS) gaps.push(gap);
  }
  return gaps;
}
