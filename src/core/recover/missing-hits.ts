import type { Beat, EchoSpan, Pattern } from "../beat/beat";
import type { Echo, LookbackHit } from "./echo";

/** Fewer strokes than this are no phrase that anybody misses. */
const LEAST_MISSED = 3;

/**
 * The strokes of an echo that a beat has not: neither as hits that were recorded, nor in a pass that an echo came back as.
 * The beat is asked, not the memory: what was undone or deleted since is missing again. What was recorded in another beat is
 * in that one.
 */
export function missingHits({ hits }: Pick<Echo, "hits">, beat: Beat): readonly LookbackHit[] {
  const spans = new Map(beat.parts.map(({ id, patterns }) => [id, patterns.flatMap(echoSpans)]));
  const anywhere = [...spans.values()].flat();
  return hits.filter((hit) => {
    // What was played in a part of this beat comes back into that one; all else where the player was.
    const own = hit.beatId === beat.id ? (spans.get(hit.partId) ?? anywhere) : anywhere;
    if (own.some(({ fromMs, toMs }) => hit.timeMs >= fromMs && hit.timeMs <= toMs)) return false;
    return !hit.along?.recorded || (hit.beatId === beat.id && !isWritten(hit, beat));
  });
}

function echoSpans({ passes }: Pattern): readonly EchoSpan[] {
  return passes.flatMap(({ hits, echoes = [] }) => (hits.length > 0 ? echoes : []));
}

/** True where so much of an echo is missing that it is worth bringing back. */
export function isMissed(echo: Pick<Echo, "hits">, beat: Beat): boolean {
  return missingHits(echo, beat).filter(({ masked }) => !masked).length >= LEAST_MISSED;
}

function isWritten({ pad, partId, along }: LookbackHit, beat: Beat): boolean {
  if (!along) return false;
  const pattern = beat.parts.find(({ id }) => id === partId)?.patterns.find(({ id }) => id === along.patternId);
  return pattern !== undefined && strokesOf(pattern).get(along.playedTicks)?.includes(pad) === true;
}

const known = new WeakMap<Pattern, ReadonlyMap<number, readonly number[]>>();

/** The lanes that were struck at each played place: two strokes of one lane never have the same fraction. */
function strokesOf(pattern: Pattern): ReadonlyMap<number, readonly number[]> {
  const before = known.get(pattern);
  if (before) return before;
  const strokes = new Map<number, number[]>();
  for (const { hits } of pattern.passes) {
    for (const { lane, struckLane = lane, played } of hits) {
      const lanes = strokes.get(played.ticks);
      if (lanes) lanes.push(struckLane);
      else strokes.set(played.ticks, [struckLane]);
    }
  }
  known.set(pattern, strokes);
  return strokes;
}
