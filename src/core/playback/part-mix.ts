import type { Beat, Mix, Part } from "../beat/beat";
import { padsOf } from "../beat/lanes";
import { MIN_LEVEL_DB } from "../beat/edits/mix-edit";
import { isOpenPart } from "../beat/open-part";
import { fromDb, panGains } from "../sound/signal/gain";
import { MAX_LANES } from "../sound/signal/sound";
import type { LaneMix } from "../sound/player/track";
import { silencedLanes } from "../timing/resolve-timing";

/**
 * How the lanes of a part are heard: the part's level and place, times those of each pad; and which pads are silenced.
 * @param recorded it is being recorded, and is heard whatever is muted or soloed
 */
export function partMix(beat: Beat, part: Part, recorded = false): LaneMix {
  const gains = new Float32Array(2 * MAX_LANES);
  const room = new Float32Array(MAX_LANES);
  const muted = new Uint8Array(MAX_LANES);
  if (!isOpenPart(beat, part) && !recorded) return { gains, room, muted };
  const [left, right] = gainsOf(part.mix);
  for (let lane = 0; lane < MAX_LANES; lane++) gains.set([left, right], 2 * lane);
  room.fill(sendGain(part.mix));
  for (const { id, mix } of padsOf(part)) {
    const [padLeft, padRight] = gainsOf(mix);
    gains.set([left * padLeft, right * padRight], 2 * id);
    room[id]! += sendGain(mix);
  }
  for (const lane of silencedLanes(part)) muted[lane] = 1;
  return { gains, room, muted };
}

/** @example sameMix(partMix(beat, part), partMix(beat, part)) // true */
export function sameMix(a: LaneMix, b: LaneMix): boolean {
  return sameNumbers(a.gains, b.gains) && sameNumbers(a.room, b.room) && sameNumbers(a.muted, b.muted);
}

function sameNumbers(a: ArrayLike<number>, b: ArrayLike<number>): boolean {
  for (let at = 0; at < a.length; at++) if (a[at] !== b[at]) return false;
  return true;
}

/** The amplitude that goes into the room, of what is heard of it. */
function sendGain({ roomDb }: Mix): number {
  return roomDb <= MIN_LEVEL_DB ? 0 : fromDb(roomDb);
}

function gainsOf({ levelDb, pan }: Mix): readonly [number, number] {
  const level = fromDb(levelDb);
  const [left, right] = panGains(pan);
  return [level * left, level * right];
}
