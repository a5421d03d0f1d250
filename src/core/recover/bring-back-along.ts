import { median } from "simple-statistics";
import type { Beat, PatternRef } from "../beat/beat";
import { hitCount } from "../beat/beat";
import { findPattern, setBars, setMeter, setTempo, type NewHit } from "../beat/edit";
import { MAX_BARS } from "../beat/new-beat";
import { addPattern } from "../beat/edits/pattern-edit";
import { chooseTake } from "../beat/edits/takes";
import { CoreError } from "../core-error";
import { groupBy } from "../group-by";
import { barTicks } from "../time/meter";
import { asTicks } from "../time/ticks";
import type { LookbackHit, PlayedAlong } from "./echo";
import { toHit, withEchoPass, type BroughtBack } from "./echo-pass";

/** How several laps of one loop come back. */
export const LAP_FOLDS = ["merged", "last", "one", "takes", "unrolled"] as const;
export type LapFold = (typeof LAP_FOLDS)[number];

/** How something comes back that was played with the loop. */
export interface AlongRecall {
  readonly kind: "along";
  readonly fold: LapFold;
  /** Which one, for one lap. */
  readonly lap?: number;
  /** Into the pattern it was played with, or into a new one like it. Unrolled it is always a new one. */
  readonly into: "same" | "new";
  /** For what was played with a loop that is not in the beat, which then takes its tempo, or keeps its own. */
  readonly tempo?: "use" | "fit";
}

export type AlongHit = LookbackHit & { readonly along: PlayedAlong };

/** Strokes of one pad in several laps that lie nearer than this are the same stroke: half a sixteenth. */
const SAME_STROKE_TICKS = 120;

/**
 * Brings back what was played along with a pattern, exactly where it was played: all laps merged (the same stroke in
 * several laps becomes one, with its median time and velocity), the last lap that was played through, one lap, every lap as
 * a take, or all laps one after the other in a pattern of their own.
 * @param played the pattern that they were played with
 * @param hits at least one
 * @throws CoreError "bad-value" where nothing was played in the lap, or it would be too long; "unknown-id" where the
 *   pattern is gone; "too-large" when all places for patterns are taken
 */
export function bringBackAlong(
  beat: Beat,
  played: PatternRef,
  hits: readonly AlongHit[],
  { fold, lap, into }: AlongRecall,
  quantized: boolean,
): BroughtBack {
  const laps = byLap(hits);
  if (fold === "unrolled") return unrolled(beat, played, hits, quantized);
  const { beat: start, patternRef } = into === "new" ? addPattern(beat, played) : { beat, patternRef: played };
  if (fold === "takes") return { patternRef, beat: withTakes(start, patternRef, laps, quantized) };
  const chosen = fold === "merged" && laps.length > 1 ? merged(hits) : chooseLap(hits, laps, fold, lap).map(asHit);
  return { patternRef, beat: withEchoPass(start, patternRef, chosen, quantized) };
}

function asHit(hit: LookbackHit): NewHit {
  return toHit(hit);
}

function chooseLap(
  hits: readonly AlongHit[],
  laps: readonly (readonly AlongHit[])[],
  fold: LapFold,
  lap: number | undefined,
): readonly AlongHit[] {
  if (fold === "merged") return hits;
  if (fold === "last") return lastFull(laps);
  const one = hits.filter(({ along }) => along.lap === lap);
  if (one.length === 0) throw new CoreError("bad-value", `Nothing of this echo was played in lap ${(lap ?? 0) + 1}.`);
  return one;
}

function byLap(hits: readonly AlongHit[]): readonly (readonly AlongHit[])[] {
  const laps = groupBy(hits, ({ along }) => along.lap);
  return [...laps].sort(([a], [b]) => a - b).map(([, own]) => own);
}

/** The last lap with at least half as many strokes as the fullest one. */
function lastFull(laps: readonly (readonly AlongHit[])[]): readonly AlongHit[] {
  const most = Math.max(...laps.map(({ length }) => length));
  return laps.findLast(({ length }) => length * 2 >= most)!;
}

function merged(hits: readonly AlongHit[]): NewHit[] {
  const groups: AlongHit[][] = [];
  const inPlace = hits.toSorted((a, b) => a.pad - b.pad || a.along.playedTicks - b.along.playedTicks);
  for (const hit of inPlace) {
    const group = groups.at(-1);
    const first = group?.[0];
    const same =
      first?.pad === hit.pad &&
      hit.along.playedTicks - first.along.playedTicks < SAME_STROKE_TICKS &&
      !group!.some(({ along }) => along.lap === hit.along.lap);
    if (same) group!.push(hit);
    else groups.push([hit]);
  }
  return groups.map((group) => {
    const [first] = group;
    const { lap: _, ...hit } = toHit(first!);
    const middle = (value: (one: AlongHit) => number) => median(group.map(value));
    const straight = group.every(({ along }) => along.straightTicks !== undefined);
    return {
      ...hit,
      lengthTicks: asTicks(median(group.map((one) => toHit(one).lengthTicks))),
      played: {
        ticks: asTicks(middle(({ along }) => along.playedTicks)),
        ...(straight && { straightTicks: asTicks(middle(({ along }) => along.straightTicks!)) }),
        velocity: Math.round(middle(({ velocity }) => velocity)),
      },
    };
  });
}

function withTakes(
  start: Beat,
  patternRef: PatternRef,
  laps: readonly (readonly AlongHit[])[],
  quantized: boolean,
): Beat {
  const take = start.nextId;
  let beat = start;
  let newest = start.nextId;
  laps.forEach((hits, index) => {
    newest = beat.nextId;
    beat = withEchoPass(beat, patternRef, hits.map(asHit), quantized, { name: `Take ${index + 1}`, take });
  });
  return chooseTake(beat, patternRef, newest);
}

function unrolled(start: Beat, like: PatternRef, hits: readonly AlongHit[], quantized: boolean): BroughtBack {
  const { lapTicks, startTicks = 0 } = hits[0]!.along;
  const firstLap = hits.reduce((least, { along }) => Math.min(least, along.lap), Infinity);
  const laps = hits.reduce((most, { along }) => Math.max(most, along.lap), 0) - firstLap + 1;
  const bars = Math.ceil((startTicks + laps * lapTicks) / barTicks(start.meter));
  if (bars > MAX_BARS)
    throw new CoreError("bad-value", `Unrolled this echo is ${bars} bars long; ${MAX_BARS} are the most.`);
  const { beat, patternRef } = addPattern(start, like);
  const long = setBars(beat, patternRef, bars);
  const moved = hits.map((hit) => toHit(hit, asTicks(hit.along.playedTicks + (hit.along.lap - firstLap) * lapTicks)));
  return { beat: withEchoPass(long, patternRef, moved, quantized), patternRef };
}

/**
 * Brings back what was played along with a loop that is not in the beat: its tempo and length are known. It goes into the
 * open pattern where that is empty, else into a new one. A beat without hits takes over its meter as well.
 */
export function bringBackElsewhere(
  start: Beat,
  shown: PatternRef,
  hits: readonly AlongHit[],
  options: AlongRecall,
  quantized: boolean,
): BroughtBack {
  const { bpm, meter, lapTicks, startTicks = 0 } = hits[0]!.along;
  const metered = meter && hitCount(start) === 0 ? setMeter(start, meter) : start;
  const timed = options.tempo === "use" ? setTempo(metered, bpm) : metered;
  const isEmpty = findPattern(timed, shown).passes.every((pass) => pass.hits.length === 0);
  // What it was played over is not here, so it counts as it was played.
  const own = hits.map(({ along: { straightTicks: _, ...along }, ...hit }) => ({ ...hit, along }));
  if (options.fold === "unrolled") return unrolled(timed, shown, own, quantized);
  const { beat, patternRef } = isEmpty ? { beat: timed, patternRef: shown } : addPattern(timed, shown);
  const bars = Math.ceil((startTicks + lapTicks) / barTicks(beat.meter));
  return bringBackAlong(
    setBars(beat, patternRef, Math.min(MAX_BARS, bars)),
    patternRef,
    own,
    { ...options, into: "same" },
    quantized,
  );
}
