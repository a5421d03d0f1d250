import { drumOf, type Beat, type Part, type PatternRef } from "../beat/beat";
import { followersOf } from "../beat/also-plays";
import { findPart, findPattern } from "../beat/edit";
import { keyLanes, KEYS, lanesOf, usedLanes } from "../beat/lanes";
import {
  MAX_LANES,
  NO_LANE,
  type AlsoStruck,
  type LaneSound,
  type LaneSounds,
  type PartLanes,
  type SoundId,
} from "../sound/sound";
import { drumSound, noteSound, soundsOf, type SoundSetId } from "../sound/sound-sets";

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
  const pitched = part.kind === "tonal" && { pitched: true as const };
  return { lanes: laneSounds(part), ...pitched, ...(also.length > 0 && { also }) };
}

/** The set that a part's sounds are of. */
export function soundSetOf(part: Part): SoundSetId {
  return part.kind === "tonal" ? part.voiceId : part.kitId;
}

/** The sounds that patterns of parts need, each once. */
export function soundsStruck(beat: Beat, places: readonly PatternRef[]): readonly SoundId[] {
  return [...new Set(places.flatMap((place) => soundsOfPlace(beat, place)))];
}

/** What a pattern strikes in its part and in those that it also plays: of a kit all, of a voice the notes that it has. */
export function soundsOfPlace(beat: Beat, place: PatternRef): readonly SoundId[] {
  const part = findPart(beat, place.partId);
  const used = usedLanes(part, findPattern(beat, place)).map(({ id }) => id);
  const { also = [] } = partLanes(beat, part);
  const others = also.flatMap(({ partId, lanes }) =>
    needed(
      findPart(beat, partId),
      used.map((lane) => lanes[lane]!),
    ),
  );
  return [...needed(part, used), ...others];
}

/** What may be struck at any moment: all that patterns strike, all drums, and the notes that lie on the keys. */
export function soundsAtHand(beat: Beat): readonly SoundId[] {
  const places = beat.parts.flatMap(({ id, patterns }) =>
    patterns.map((pattern) => ({ partId: id, patternId: pattern.id })),
  );
  const onKeys = beat.parts.flatMap((part) =>
    needed(part, Array.from({ length: KEYS }, (_, key) => keyLanes(part, key)).flat()),
  );
  return [...new Set([...soundsStruck(beat, places), ...onKeys])];
}

function needed(part: Part, lanes: readonly number[]): readonly SoundId[] {
  if (part.kind === "kit") return soundsOf(part.kitId);
  const sounds = laneSounds(part);
  return lanes.flatMap((lane) => sounds[lane]?.soundId ?? []);
}

function between(value: number, low: number, high: number): number {
  return Math.max(low, Math.min(high, value));
}
