import type { Beat, Mix, Part } from "../beat/beat";
import { isOpenPart } from "../beat/open-part";
import { fromDb, panGains } from "../sound/dsp";
import { MAX_LANES } from "../sound/track";

/**
 * How loud the lanes of a part are, left and right by lane: the part's level and place, times those of each pad.
 * @param recordedId the part that is being recorded, which is heard whatever is muted or soloed
 */
export function partGains(beat: Beat, part: Part, recordedId?: number): Float32Array {
  const gains = new Float32Array(2 * MAX_LANES);
  if (!isOpenPart(beat, part) && part.id !== recordedId) return gains;
  const [left, right] = gainsOf(part.mix);
  for (let lane = 0; lane < MAX_LANES; lane++) gains.set([left, right], 2 * lane);
  for (const { id, mix } of part.pads) {
    const [padLeft, padRight] = gainsOf(mix);
    gains.set([left * padLeft, right * padRight], 2 * id);
  }
  return gains;
}

function gainsOf({ levelDb, pan }: Mix): readonly [number, number] {
  const level = fromDb(levelDb);
  const [left, right] = panGains(pan);
  return [level * left, level * right];
}
