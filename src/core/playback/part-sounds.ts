import { drumOf, type Beat, type Part, type PatternPlace } from "../beat/beat";
import { followersOf } from "../beat/also-plays";
import { findPart } from "../beat/edit";
import { lanesOf } from "../beat/lanes";
import { NO_LANE, type AlsoStruck, type LaneSound, type LaneSounds, type PartLanes } from "../sound/sound";
import { MAX_LANES } from "../sound/track";
import { drumSound, noteSound, type SoundSetId } from "../sound/sound-sets";

/** What each lane of a part strikes. */
function laneSounds(part: Part): LaneSounds {
  if (part.kind === "tonal")
    return lanesOf(part).map(({ note }) => noteSound(part.voiceId, between(note + part.transpose, 0, 127)));
  const lanes: LaneSound[] = [];
  for (const pad of part.pads) lanes[pad.id] = { soundId: drumSound(part.kitId, drumOf(pad)), rate: 1 };
  return lanes;
}

/** The same, and what sounds along in other parts: the lanes that have the same notes. */
export function partLanes(beat: Beat, part: Part): PartLanes {
  const also = followersOf(beat, part).map((follower): AlsoStruck => {
    const lanes = new Uint8Array(MAX_LANES).fill(NO_LANE);
    const byNote = new Map(lanesOf(follower).map(({ id, note }) => [note, id]));
    for (const { id, note } of lanesOf(part)) lanes[id] = byNote.get(note) ?? NO_LANE;
    return { partId: follower.id, lanes };
  });
  return { lanes: laneSounds(part), ...(also.length > 0 && { also }) };
}

/** The set that a part's sounds are of. */
export function soundSetOf(part: Part): SoundSetId {
  return part.kind === "tonal" ? part.voiceId : part.kitId;
}

/** Those that are needed for parts of a beat, each once. */
export function soundSetsOf(beat: Beat, places: readonly Pick<PatternPlace, "partId">[]): readonly SoundSetId[] {
  return [...new Set(places.map(({ partId }) => soundSetOf(findPart(beat, partId))))];
}

function between(value: number, low: number, high: number): number {
  return Math.max(low, Math.min(high, value));
}
