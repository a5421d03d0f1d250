import { lanesOf } from "../beat/lanes";
import type { Beat } from "../beat/beat";
import { patternLengthTicks } from "../beat/beat";
import { findPart, findPattern } from "../beat/edit";
import { firstPlace } from "../beat/new-beat";
import type { LookbackHit, PlayedAlong } from "../recover/echo";
import { ticksToSeconds } from "../time/tempo";
import { asTicks } from "../time/ticks";
import { demoBeat, performScore } from "./demo-beats";
import { DEMO_ECHOES } from "./demo-scores";

/** The beat that is not finished. */
const OPEN_BEAT = "Lantern Room";
const MINUTE_MS = 60_000;
/** How long ago each was played. */
const PLAYED_AGO_MS = [19 * MINUTE_MS, 12 * MINUTE_MS, 7 * MINUTE_MS];
const DEVICE = "Stand-in drummer";

/**
 * Three phrases that were played over and beside the unfinished demo beat with record off: two free, and between them three
 * laps along with it.
 * @param nowMs milliseconds since 1970
 * @returns ascending in time
 */
export function demoEchoes(nowMs: number): readonly LookbackHit[] {
  const beat = demoBeat(OPEN_BEAT);
  return DEMO_ECHOES.flatMap((score, index) => {
    const startMs = nowMs - PLAYED_AGO_MS[index]!;
    const played = performScore(score);
    return score.bpm === beat.bpm ? lapsAlong(beat, played, startMs) : playedFree(beat, played, startMs);
  });
}

function playedFree(beat: Beat, played: Beat, startMs: number): readonly LookbackHit[] {
  return hitsOf(beat, played, 0).map(({ ticks, ...hit }) => ({ ...hit, timeMs: timeOf(ticks, played, startMs) }));
}

/** Every pass of the score is a lap. */
function lapsAlong(beat: Beat, played: Beat, startMs: number): readonly LookbackHit[] {
  const { patternId } = firstPlace(beat);
  const lapTicks = patternLengthTicks(findPattern(beat, firstPlace(beat)), beat.meter);
  const { passes } = findPattern(played, firstPlace(played));
  return passes.flatMap((_, lap) =>
    hitsOf(beat, played, lap).map(({ ticks, ...hit }) => {
      const along: PlayedAlong = {
        patternId,
        run: startMs,
        lap,
        lapTicks,
        bpm: beat.bpm,
        meter: beat.meter,
        beatName: beat.name,
        playedTicks: ticks,
      };
      return { ...hit, timeMs: timeOf(lap * lapTicks + ticks, played, startMs), along };
    }),
  );
}

function hitsOf(beat: Beat, played: Beat, pass: number) {
  const patternRef = firstPlace(beat);
  const noteOf = new Map(lanesOf(findPart(beat, patternRef.partId)).map(({ id, note }) => [id, note]));
  return findPattern(played, firstPlace(played)).passes[pass]!.hits.map(({ lane, played: { velocity, ticks } }) => ({
    pad: lane,
    note: noteOf.get(lane)!,
    velocity,
    device: DEVICE,
    beatId: beat.id,
    partId: patternRef.partId,
    ticks,
  }));
}

function timeOf(ticks: number, { bpm }: Beat, startMs: number): number {
  return startMs + ticksToSeconds(asTicks(ticks), bpm) * 1000;
}
