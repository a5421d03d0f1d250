import type { Beat, Lane, Mix } from "../beat";
import { findPart, setPart, setPad } from "../edit";
import { padsOf } from "../lanes";

/** The range of a level. */
export const MIN_LEVEL_DB = -60;
export const MAX_LEVEL_DB = 12;

/** Level, place or room of a pad; levels and places are kept within their ranges. */
export function setPadMix(beat: Beat, partId: number, padId: Lane, change: Partial<Mix>): Beat {
  const pad = padsOf(findPart(beat, partId)).find(({ id }) => id === padId);
  return pad ? setPad(beat, partId, padId, { mix: changedMix(pad.mix, change) }) : beat;
}

/** The same of a part. @example setPartMix(beat, part.id, { levelDb: -3 }).parts[0].mix.levelDb // -3 */
export function setPartMix(beat: Beat, partId: number, change: Partial<Mix>): Beat {
  return setPart(beat, partId, { mix: changedMix(findPart(beat, partId).mix, change) });
}

/**
 * All parts softer by so much, which leaves how they stand to each other as it is.
 * @example turnAllDown(beat, 6).parts[0].mix.levelDb // -6
 */
export function turnAllDown(beat: Beat, byDb: number): Beat {
  return beat.parts.reduce((now, { id, mix }) => setPartMix(now, id, { levelDb: mix.levelDb - byDb }), beat);
}

function changedMix(mix: Mix, change: Partial<Mix>): Mix {
  const { levelDb, pan, roomDb } = { ...mix, ...change };
  return {
    levelDb: between(levelDb, MIN_LEVEL_DB, MAX_LEVEL_DB),
    pan: between(pan, -1, 1),
    roomDb: between(roomDb, MIN_LEVEL_DB, MAX_LEVEL_DB),
  };
}

function between(value: number, low: number, high: number): number {
  return Math.max(low, Math.min(high, value));
}
