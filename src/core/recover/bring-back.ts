import type { Beat, PatternPlace } from "../beat/beat";
import { existingPlace } from "../beat/pattern-edit";
import { CoreError } from "../core-error";
import { groupBy } from "../group-by";
import { bringBackAlong, type AlongHit, type AlongWay } from "./bring-back-along";
import { bringBackFree, type FreeWay } from "./bring-back-free";
import type { Echo, LookbackHit } from "./echo";
import type { BroughtBack } from "./echo-pass";

/** How an echo comes back. `quantized`: corrected by the beat's input quantize, which can be taken back later. */
export type Way = (AlongWay | FreeWay) & { readonly quantized: boolean };

/**
 * The strokes of an echo that were played along with a beat, without those that became hits of it already; all of them
 * where all were recorded, since their pass may have been deleted since.
 */
export function alongHits({ hits }: Pick<Echo, "hits">, beatId: string): readonly AlongHit[] {
  const along = hits.filter((hit): hit is AlongHit => hit.beatId === beatId && hit.along !== undefined);
  const missed = along.filter((hit) => !hit.along.recorded);
  return missed.length > 0 ? missed : along;
}

/**
 * Makes a pass of an echo. What was played on several parts, or with several patterns, comes back to each of them.
 * @param open the place that is looked at
 * @returns the beat, and where the echo is in it now: in the open part, if it was played there
 * @throws CoreError "bad-value" where there is nothing to bring back or it would be too long, "unknown-id" where its pattern
 *   is gone, "too-large" when all places for patterns are taken
 */
export function bringBack(beat: Beat, open: PatternPlace, echo: Pick<Echo, "hits">, way: Way): BroughtBack {
  const made =
    way.kind === "along"
      ? eachInTurn(beat, groupBy(alongHits(echo, beat.id), placeKey), (now, hits) => {
          const [{ partId, along }] = hits;
          return bringBackAlong(now, { partId, patternId: along.patternId }, hits, way, way.quantized);
        })
      : eachInTurn(beat, groupBy(echo.hits, partFor(beat, open)), (now, hits, partId) =>
          bringBackFree(now, existingPlace(now, placeIn(open, partId)), hits, way, way.quantized),
        );
  const place = made.places.find(({ partId }) => partId === open.partId) ?? made.places[0];
  if (!place) throw new CoreError("bad-value", "Nothing of this echo was played along with this beat.");
  return { beat: made.beat, place };
}

function eachInTurn<K, H>(
  start: Beat,
  groups: ReadonlyMap<K, readonly H[]>,
  make: (beat: Beat, hits: readonly H[], key: K) => BroughtBack,
): { readonly beat: Beat; readonly places: readonly PatternPlace[] } {
  let beat = start;
  const places = [...groups].map(([key, hits]) => {
    const made = make(beat, hits, key);
    ({ beat } = made);
    return made.place;
  });
  return { beat, places };
}

function placeKey({ partId, along }: AlongHit): string {
  return `${partId} ${along.patternId}`;
}

/** Its own part, if it was played with this beat; what was played with another one goes where the player is now. */
function partFor(beat: Beat, open: PatternPlace) {
  return ({ beatId, partId }: LookbackHit) =>
    beatId === beat.id && beat.parts.some(({ id }) => id === partId) ? partId : open.partId;
}

function placeIn(open: PatternPlace, partId: number): PatternPlace {
  return partId === open.partId ? open : { partId, patternId: -1 };
}
