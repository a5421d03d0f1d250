import { drumOf, type Beat, type Part, type PatternPlace } from "../beat/beat";
import { findPart } from "../beat/edit";
import type { LaneSound, LaneSounds } from "../sound/sound";
import { drumSound, type SoundSetId } from "../sound/sound-sets";

/** What each lane of a part strikes. */
export function laneSounds(part: Part): LaneSounds {
  const lanes: LaneSound[] = [];
  for (const pad of part.pads) lanes[pad.id] = { soundId: drumSound(part.kitId, drumOf(pad)), rate: 1 };
  return lanes;
}

/** The set that a part's sounds are of. */
export function soundSetOf(part: Part): SoundSetId {
  return part.kitId;
}

/** Those that are needed for parts of a beat, each once. */
export function soundSetsOf(beat: Beat, places: readonly Pick<PatternPlace, "partId">[]): readonly SoundSetId[] {
  return [...new Set(places.map(({ partId }) => soundSetOf(findPart(beat, partId))))];
}
