import type { Beat, PatternRef } from "../beat/beat";
import { existingPlace } from "../beat/edits/pattern-edit";
import { CoreError } from "../core-error";
import { groupBy } from "../group-by";
import { bringBackAlong, bringBackElsewhere, type AlongHit, type AlongRecall } from "./bring-back-along";
import { bringBackFree, type FreeRecall } from "./bring-back-free";
import type { Echo, LookbackHit } from "./echo";
import type { BroughtBack } from "./echo-pass";
import { missingHits } from "./missing-hits";

/** How an echo comes back. `quantized`: corrected by the beat's input quantize, which can be taken back later. */
export type RecallOptions = (AlongRecall | FreeRecall) & { readonly quantized: boolean };

/**
 * The strokes of an echo that were played along with a loop, of this beat or another, without those that the beat has; all
 * of them where it has all. The laps of each loop are counted on from run to run.
 */
export function alongHits(echo: Pick<Echo, "hits">, beat: Beat): readonly AlongHit[] {
  const isAlong = (hit: LookbackHit): hit is AlongHit => hit.along !== undefined;
  const missing = missingHits(echo, beat).filter(isAlong);
  return countedOn(missing.length > 0 ? missing : echo.hits.filter(isAlong));
}

/** The place of a stroke that was played along, if it is in this beat and still there. */
export function homeOf({ beatId, partId, along: { patternId } }: AlongHit, beat: Beat): PatternRef | undefined {
  const part = beatId === beat.id ? beat.parts.find(({ id }) => id === partId) : undefined;
  return part?.patterns.some(({ id }) => id === patternId) ? { partId, patternId } : undefined;
}

/** Laps of a later run come after those of the earlier ones with the same pattern. */
export function countedOn(hits: readonly AlongHit[]): readonly AlongHit[] {
  const shifts = new Map<AlongHit, number>();
  for (const group of groupBy(hits, placeKey).values()) {
    let next: number | undefined;
    for (const run of groupBy(group, ({ along }) => along.run).values()) {
      const laps = run.map(({ along }) => along.lap);
      const shift = next === undefined ? 0 : next - Math.min(...laps);
      run.forEach((hit) => shifts.set(hit, shift));
      next = Math.max(...laps) + shift + 1;
    }
  }
  return hits.map((hit) => {
    const shift = shifts.get(hit)!;
    return shift === 0 ? hit : { ...hit, along: { ...hit.along, lap: hit.along.lap + shift } };
  });
}

/**
 * Makes a pass of an echo. What was played on several parts, or with several patterns, comes back to each of them.
 * @param shown the place that is looked at
 * @param whole all of the phrase, where only some of it comes back: the rest is not missed any more either
 * @returns the beat, and where the echo is in it now: in the open part, if it was played there
 * @throws CoreError "bad-value" where there is nothing to bring back or it would be too long, "unknown-id" where its pattern
 *   is gone, "too-large" when all places for patterns are taken
 */
export function bringBack(
  beat: Beat,
  shown: PatternRef,
  echo: Pick<Echo, "hits">,
  options: RecallOptions,
  whole: Pick<Echo, "hits"> = echo,
): BroughtBack {
  const made =
    options.kind === "along"
      ? eachInTurn(beat, groupBy(alongHits(echo, beat), placeKey), (now, hits) => {
          const home = homeOf(hits[0]!, beat);
          return home
            ? bringBackAlong(now, home, hits, options, options.quantized)
            : bringBackElsewhere(now, existingPlace(now, shown), hits, options, options.quantized);
        })
      : eachInTurn(beat, groupBy(echo.hits, partFor(beat, shown)), (now, hits, partId) =>
          bringBackFree(now, existingPlace(now, placeIn(shown, partId)), hits, options, options.quantized),
        );
  const patternRef = made.places.find(({ partId }) => partId === shown.partId) ?? made.places[0];
  if (!patternRef) throw new CoreError("bad-value", "Nothing of this echo was played along with a loop.");
  return { beat: signed(made.beat, beat.nextId, whole), patternRef };
}

/** The passes that are new say which echo they are. */
function signed(beat: Beat, firstId: number, { hits }: Pick<Echo, "hits">): Beat {
  const echoes = [{ fromMs: hits[0]!.timeMs, toMs: hits.at(-1)!.timeMs }];
  const parts = beat.parts.map((part) => ({
    ...part,
    patterns: part.patterns.map((pattern) => {
      if (!pattern.passes.some(({ id }) => id >= firstId)) return pattern;
      return { ...pattern, passes: pattern.passes.map((pass) => (pass.id >= firstId ? { ...pass, echoes } : pass)) };
    }),
  }));
  return { ...beat, parts };
}

function eachInTurn<K, H>(
  start: Beat,
  groups: ReadonlyMap<K, readonly H[]>,
  make: (beat: Beat, hits: readonly H[], key: K) => BroughtBack,
): { readonly beat: Beat; readonly places: readonly PatternRef[] } {
  let beat = start;
  const places = [...groups].map(([key, hits]) => {
    const made = make(beat, hits, key);
    ({ beat } = made);
    return made.patternRef;
  });
  return { beat, places };
}

function placeKey({ beatId, partId, along }: AlongHit): string {
  return `${beatId} ${partId} ${along.patternId}`;
}

/** Its own part, if it was played with this beat; what was played with another one goes where the player is now. */
function partFor(beat: Beat, shown: PatternRef) {
  return ({ beatId, partId }: LookbackHit) =>
    beatId === beat.id && beat.parts.some(({ id }) => id === partId) ? partId : shown.partId;
}

function placeIn(shown: PatternRef, partId: number): PatternRef {
  return partId === shown.partId ? shown : { partId, patternId: -1 };
}
