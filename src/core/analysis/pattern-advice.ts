import type { Beat, Pattern, PatternPlace } from "../beat/beat";
import { findPattern } from "../beat/edit";
import type { QuantizeScope } from "../beat/quantize-edit";
import type { GridName } from "../time/grid";
import { barTicks } from "../time/meter";
import { feelGrid } from "../timing/groove-lines";
import { startOf } from "../timing/heard";
import { adviseGrid, type AdvisedHit, type GridAdvice } from "./grid-advice";

/** What the newest so many hits say is enough, and quick. */
const MAX_HITS = 600;

const remembered = new WeakMap<Pattern, { readonly key: string; readonly advice: GridAdvice | undefined }>();

/**
 * The grid that the hits of a pattern, or of a part of it, were played on. Worked out once for a pattern that does not
 * change.
 * @param against the grid that is set now
 */
export function advisePattern(
  beat: Beat,
  place: PatternPlace,
  scope: QuantizeScope | undefined,
  against: GridName,
): GridAdvice | undefined {
  const { bpm, meter } = beat;
  const pattern = findPattern(beat, place);
  const grid = against === "off" ? "1/16" : against === "groove" ? feelGrid(pattern) : against;
  const key = JSON.stringify([bpm, meter, grid, scope, scope?.kind === "hits" ? [...scope.ids] : []]);
  const known = remembered.get(pattern);
  if (known?.key === key) return known.advice;
  const advice = adviseGrid(hitsOf(pattern, scope), bpm, barTicks(meter), grid);
  remembered.set(pattern, { key, advice });
  return advice;
}

function hitsOf({ passes }: Pattern, scope: QuantizeScope | undefined): AdvisedHit[] {
  const hits = passes
    .filter(({ id, muted }) => (scope?.kind === "pass" ? id === scope.passId : !muted))
    .flatMap((pass) => pass.hits)
    .filter(
      // What was made on a grid, or meant as the downbeat whatever the grid, says nothing about the player's.
      ({ id, lane, masked, quantize, downbeatTicks }) =>
        !masked &&
        !quantize &&
        downbeatTicks === undefined &&
        (scope?.kind !== "pad" || scope.pad === lane) &&
        (scope?.kind !== "hits" || scope.ids.has(id)),
    );
  return hits.slice(-MAX_HITS).map((hit) => ({ id: hit.id, pad: hit.lane, ticks: startOf(hit) }));
}
