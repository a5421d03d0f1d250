import type { Beat, Mix, Part } from "../beat/beat";
import { padsOf } from "../beat/lanes";
import { isOpenPart } from "../beat/open-part";
import { fromDb, panGains } from "../sound/dsp";
import { MAX_LANES } from "../sound/sound";
import type { LaneMix } from "../sound/track";
import { silencedLanes } from "../timing/heard";

/**
 * How the lanes of a part are heard: the part's level and place, times those of each pad; and which pads are silenced.
 * @param recorded it is being recorded, and is heard whatever is muted or soloed
 */
export function partMix(beat: Beat, part: Part, recorded = false): LaneMix {
  const gains = new Float32Array(2 * MAX_LANES);
  const muted = new Uint8Array(MAX_LANES);
  if (!isOpenPart(beat, part) && !recorded) return { gains, muted };
  const [left, right] = gainsOf(part.mix);
  for (let lane = 0; lane < MAX_LANES; lane++) gains.set([left, right], 2 * lane);
  for (const { id, mix } of padsOf(part)) {
    const [padLeft, padRight] = gainsOf(mix);
    gains.set([left * padLeft, right * padRight], 2 * id);
  }
  for (const lane of silencedLanes(part)) muted[lane] = 1;
  return { gains, muted };
}

export function sameMix(a: LaneMix, b: LaneMix): boolean {
  return a.gains.every((gain, at) => gain === b.gains[at]) && a.muted.every((one, at) => one === b.muted[at]);
}

function gainsOf({ levelDb, pan }: Mix): readonly [number, number] {
  const level = fromDb(levelDb);
  const [left, right] = panGains(pan);
  return [level * left, level * right];
}
