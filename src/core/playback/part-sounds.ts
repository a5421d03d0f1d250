import type { Beat, KitPart, Pad, PadLayer, Part, PatternRef } from "../beat/beat";
import { followersOf } from "../beat/edits/also-plays";
import { findPart, findPattern } from "../beat/edit";
import { keyLanes, KEYS, lanesOf, usedLanes } from "../beat/lanes";
import { remember } from "../remember";
import { fromDb } from "../sound/signal/gain";
import {
  MAX_LANES,
  NO_LANE,
  type AlsoStruck,
  type LaneSound,
  type LaneSounds,
  type PartLanes,
  type SoundId,
} from "../sound/signal/sound";
import {
  drumSound,
  isDerived,
  noteSound,
  ownSoundId,
  soundsOf,
  tunedSound,
  type SoundSetId,
} from "../sound/kits/sound-sets";

/** Semitones that a sound may be tuned by, either way. */
const MAX_TUNE = 24;

/** What each lane of a part strikes. */
function laneSounds(part: Part): LaneSounds {
  if (part.kind === "tonal")
    return lanesOf(part).map(({ note }) => [noteSound(part.voiceId, between(note + part.transpose, 0, 127))]);
  const lanes: (readonly LaneSound[])[] = [];
  for (const pad of part.pads) lanes[pad.id] = pad.layers.flatMap((layer) => layerSounds(part, pad, layer));
  return lanes;
}

/** What a layer of a pad strikes: of a sample with two channels one sound for each side. */
function layerSounds({ kitId }: KitPart, pad: Pad, layer: PadLayer): readonly LaneSound[] {
  const { source, levelDb = 0, velocities } = layer;
  const { decaySeconds, chokeGroup, held } = pad;
  const tune = between((pad.tuneSemitones ?? 0) + (layer.tuneSemitones ?? 0), -MAX_TUNE, MAX_TUNE);
  const sound = (soundId: SoundId, gains?: readonly [number, number]): LaneSound => ({
    soundId: tunedSound(soundId, tune),
    rate: 1,
    ...(gains && { gains }),
    ...(velocities && { velocities }),
    ...(decaySeconds !== undefined && { decaySeconds }),
    ...(chokeGroup !== undefined && { chokeGroup }),
    ...(held && { held }),
  });
  if (source.kind === "drum") {
    const level = fromDb(levelDb);
    return [sound(drumSound(source.kit ?? kitId, source.drum), levelDb === 0 ? undefined : [level, level])];
  }
  const { sampleId, channels, reversed = false } = source;
  const level = fromDb(levelDb + source.gainDb);
  const side = (channel: number) => ownSoundId(sampleId, channel, { ...source, reversed });
  return channels === 1 ? [sound(side(0), [level, level])] : [sound(side(0), [level, 0]), sound(side(1), [0, level])];
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

/** The sets that a part's sounds are of. @example soundSetsOf(part) // ["deckhouse"] */
export function soundSetsOf(part: Part): readonly SoundSetId[] {
  if (part.kind === "tonal") return [part.voiceId];
  const kits = part.pads.flatMap(({ layers }) =>
    layers.flatMap(({ source }) => (source.kind === "drum" ? [source.kit ?? part.kitId] : [])),
  );
  return [...new Set(kits)];
}

const derivedOf = remember<KitPart["pads"], readonly SoundId[]>();

/** Of what pads strike, what is made of something else: it is tuned, or cut out of a sample. Pads are looked at once. */
export function derivedSounds(part: Part): readonly SoundId[] {
  if (part.kind === "tonal") return [];
  const struck = () => laneSounds(part).flatMap((sounds = []) => sounds.map(({ soundId }) => soundId));
  return derivedOf(part.pads, [part.kitId], () => [...new Set(struck().filter(isDerived))]);
}

/** The sounds that patterns of parts need, each once. */
export function soundsStruck(beat: Beat, places: readonly PatternRef[]): readonly SoundId[] {
  return [...new Set(places.flatMap((patternRef) => soundsOfPlace(beat, patternRef)))];
}

/**
 * The sounds a pattern needs, in its part and in those that it also plays: its notes; of a kit all drums, and the tuned or cut
 * sounds of pads that have hits.
 */
export function soundsOfPlace(beat: Beat, patternRef: PatternRef): readonly SoundId[] {
  const part = findPart(beat, patternRef.partId);
  const used = usedLanes(part, findPattern(beat, patternRef)).map(({ id }) => id);
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
  const atHand = (part: Part) =>
    part.kind === "kit"
      ? part.pads.map(({ id }) => id)
      : Array.from({ length: KEYS }, (_, key) => keyLanes(part, key)).flat();
  const played = beat.parts.flatMap((part) => needed(part, atHand(part)));
  return [...new Set([...soundsStruck(beat, places), ...played])];
}

function needed(part: Part, lanes: readonly number[]): readonly SoundId[] {
  const sounds = laneSounds(part);
  const idsOf = (all: readonly (readonly LaneSound[] | undefined)[]) =>
    all.flatMap((struck = []) => struck.map(({ soundId }) => soundId));
  const ids = idsOf(lanes.map((lane) => sounds[lane]));
  if (part.kind === "tonal") return ids;
  // The order of the set, in which they are best made, comes first.
  const struck = new Set([...idsOf(sounds).filter((id) => !isDerived(id)), ...ids]);
  return [
    ...new Set([
      ...soundSetsOf(part)
        .flatMap(soundsOf)
        .filter((id) => struck.has(id)),
      ...struck,
    ]),
  ];
}

function between(value: number, low: number, high: number): number {
  return Math.max(low, Math.min(high, value));
}
