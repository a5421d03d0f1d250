import type { Beat, Hit, Pattern, PatternRef } from "../beat/beat";
import { groupBy } from "../group-by";
import { remember } from "../remember";
import { findPart, findPattern } from "../beat/edit";
import type { QuantizeScope } from "../beat/quantize-edit";
import type { GridName } from "../time/grid";
import { barTicks } from "../time/meter";
import { secondsToTicks, type Bpm } from "../time/tempo";
import type { Seconds, Ticks } from "../time/ticks";
import { feelGrid } from "../timing/groove-lines";
import { startOf } from "../timing/heard-hit";
import { adviseGrid, type GridAdvice } from "./grid-advice";

/** Notes of one hand that begin within so long are a chord. */
const CHORD_SECONDS = 0.035 as Seconds;

/** What the newest so many hits say is enough, and quick. */
const MAX_HITS = 600;

const advices = remember<Pattern, GridAdvice | undefined>();

/**
 * The grid that the hits of a pattern, or of a part of it, were played on. Worked out once for a pattern that does not
 * change.
 * @param against the grid that is set now
 */
export function advisePattern(
  beat: Beat,
  place: PatternRef,
  scope: QuantizeScope | undefined,
  against: GridName,
): GridAdvice | undefined {
  const { bpm, meter } = beat;
  const pattern = findPattern(beat, place);
  const grid = against === "off" ? "1/16" : against === "groove" ? feelGrid(pattern) : against;
  const key = JSON.stringify([bpm, meter, grid, scope, scope?.kind === "hits" ? [...scope.ids] : []]);
  return advices(pattern, [key], () => {
    const hits = hitsOf(pattern, scope);
    const advised = hits.map(({ hit }) => ({ id: hit.id, pad: hit.lane, ticks: startOf(hit) }));
    const strokes = findPart(beat, place.partId).kind === "tonal" ? chordStrokes(hits, bpm) : undefined;
    return adviseGrid(advised, bpm, barTicks(meter), grid, strokes);
  });
}

interface HitOfPass {
  readonly hit: Hit;
  readonly passId: number;
}

function hitsOf({ passes }: Pattern, scope: QuantizeScope | undefined): HitOfPass[] {
  return passes
    .filter(({ id, muted }) => (scope?.kind === "pass" ? id === scope.passId : !muted))
    .flatMap(({ id: passId, hits }) => hits.map((hit) => ({ hit, passId })))
    .filter(
      // What was made on a grid, or meant as the downbeat whatever the grid, says nothing about the player's.
      ({ hit: { id, lane, masked, quantize, downbeatTicks } }) =>
        !masked &&
        !quantize &&
        downbeatTicks === undefined &&
        (scope?.kind !== "pad" || scope.pad === lane) &&
        (scope?.kind !== "hits" || scope.ids.has(id)),
    )
    .slice(-MAX_HITS);
}

/**
 * Where a hand came down on keys: notes of one lap of a pass that begin together are one stroke, where the first of them is. Counted
 * one by one, a chord would say the same as often as it has notes.
 */
function chordStrokes(hits: readonly HitOfPass[], bpm: Bpm): Ticks[] {
  const within = secondsToTicks(CHORD_SECONDS, bpm);
  const byLap = groupBy(hits, ({ hit: { lap = 0 }, passId }) => `${passId} ${lap}`);
  return [...byLap.values()].flatMap((notes) => {
    const starts = notes.map(({ hit }) => startOf(hit)).sort((a, b) => a - b);
    let chord = -Infinity;
    return starts.filter((start) => {
      if (start - chord <= within) return false;
      chord = start;
      return true;
    });
  });
}
