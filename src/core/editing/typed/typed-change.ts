import type { Beat, PatternRef } from "../../beat/beat";
import { findPart, findPattern } from "../../beat/edit";
import { secondsToTicks } from "../../time/tempo";
import { asSeconds } from "../../time/ticks";
import { resolvedHits } from "../../timing/resolve-timing";
import { levelOf } from "../../timing/resolved-hit";
import { changeHits, type HitIds } from "../hand-change";
import { hitOffsets } from "../hit-offset";
import { moveHeard, moveHeardTo, moveStraight, moveToLanes } from "../move-hits";
import { parseLength, parseOffset, parsePlace, parseVelocity, type EntryFrame } from "./typed-entry";
import { parseLane } from "./typed-lane";

/** What can be typed of a hit. */
export type TypedField = "place" | "lane" | "velocity" | "length" | "offset";

/**
 * Changes hits as it was typed: each by itself where the entry counts from what it is now; a place is the first one's, and
 * the others go along.
 * @throws CoreError "bad-value" with what is wrong, and what can be typed
 */
export function changeTyped(beat: Beat, patternRef: PatternRef, ids: HitIds, field: TypedField, typed: string): Beat {
  const pattern = findPattern(beat, patternRef);
  const frame: EntryFrame = { meter: beat.meter, bpm: beat.bpm, bars: pattern.bars };
  switch (field) {
    case "place":
      return moveTyped(beat, patternRef, ids, typed, frame);
    case "lane": {
      const lane = parseLane(typed, findPart(beat, patternRef.partId));
      return moveToLanes(beat, patternRef, ids, () => lane);
    }
    case "velocity":
      return changeHits(beat, patternRef, ids, ({ hit }) => ({ velocity: parseVelocity(typed, levelOf(hit)) }));
    case "length":
      return changeHits(beat, patternRef, ids, ({ lengthTicks }) => ({
        lengthTicks: parseLength(typed, lengthTicks, frame),
      }));
    case "offset": {
      const wanted = parseOffset(typed);
      const offset = hitOffsets(beat, pattern);
      const ticksOf = (ms: number) => secondsToTicks(asSeconds(ms / 1000), beat.bpm);
      return moveHeardTo(beat, patternRef, ids, (heard) => heard.ticks + ticksOf(wanted - offset.heardMs(heard)));
    }
  }
}

function moveTyped(beat: Beat, patternRef: PatternRef, ids: HitIds, typed: string, frame: EntryFrame): Beat {
  const { kind, ticks } = parsePlace(typed, frame);
  if (kind === "straightBy") return moveStraight(beat, patternRef, ids, ticks);
  if (kind === "heardBy") return moveHeard(beat, patternRef, ids, ticks);
  const heard = resolvedHits(findPattern(beat, patternRef), beat.meter).filter(({ hit }) => ids.has(hit.id));
  const first = heard.reduce((least, one) => Math.min(least, one.ticks), Infinity);
  return moveHeard(beat, patternRef, ids, ticks - first);
}
