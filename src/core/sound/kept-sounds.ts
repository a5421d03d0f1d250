import type { Samples } from "./dsp";
import type { SampleMemory } from "./kernel/sample-memory";
import type { Sound, SoundId, Sounds } from "./sound";

/** Sounds whose samples lie where they are read quickest, as far as there is room, and nowhere else. */
export class KeptSounds {
  private readonly byId = new Map<SoundId, Sound>();
  /** Samples that are needed no more, and may still ring. */
  private dropped: Samples[] = [];

  /** @param isPlaying whether samples still sound */
  constructor(
    private readonly memory: SampleMemory,
    private readonly isPlaying: (samples: Samples) => boolean,
  ) {}

  /** @returns the same sounds; those that had these ids before are needed no more */
  keep(sounds: Sounds): Sounds {
    this.drop(Object.keys(sounds));
    const keepAll = (layers: Sound["layers"]) =>
      layers.map((variants) => variants.map((samples) => this.memory.keep(samples)));
    const kept = Object.entries(sounds).map(([id, sound]): [SoundId, Sound] => {
      const { layers, right } = sound;
      return [id, { ...sound, layers: keepAll(layers), ...(right && { right: keepAll(right) }) }];
    });
    for (const [id, sound] of kept) this.byId.set(id, sound);
    return Object.fromEntries(kept);
  }

  /** Gives back the room of sounds that are needed no more, as soon as nothing of them rings. */
  drop(ids: readonly SoundId[]): void {
    for (const id of ids) {
      const sound = this.byId.get(id);
      this.byId.delete(id);
      if (sound) this.dropped.push(...sound.layers.flat(), ...(sound.right ?? []).flat());
    }
    this.dropped = this.dropped.filter((samples) => {
      const rings = this.isPlaying(samples);
      if (!rings) this.memory.giveBack(samples);
      return rings;
    });
  }
}
