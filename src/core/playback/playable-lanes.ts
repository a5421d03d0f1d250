import type { LaneSound, LaneSounds, SoundId } from "../sound/signal/sound";
import { untuned } from "../sound/kits/sound-sets";

export interface PlayableLanes {
  readonly lanes: LaneSounds;
  /** All that is wanted is there. */
  readonly complete: boolean;
}

/**
 * What lanes can strike by now of what they are to strike: a tuned sound that is being made is played faster or slower from the
 * plain one; a lane that lacks something else keeps what it had, if it had anything.
 * @param has whether a sound can be played
 */
export function playableLanes(
  wanted: LaneSounds,
  before: LaneSounds | undefined,
  has: (id: SoundId) => boolean,
): PlayableLanes {
  let complete = true;
  const lanes = Array.from(wanted, (sounds, lane) => {
    if (!sounds) return undefined;
    const playable = sounds.map((sound) => playableNow(sound, has));
    if (playable.some((sound, at) => sound !== sounds[at])) complete = false;
    return playable.every((sound) => sound !== undefined) ? playable : (before?.[lane] ?? sounds);
  });
  return { lanes, complete };
}

function playableNow(sound: LaneSound, has: (id: SoundId) => boolean): LaneSound | undefined {
  if (has(sound.soundId)) return sound;
  const { base, ratio } = untuned(sound.soundId);
  return base !== sound.soundId && has(base) ? { ...sound, soundId: base, rate: sound.rate * ratio } : undefined;
}
