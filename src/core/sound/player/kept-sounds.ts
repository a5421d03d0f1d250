import type { Samples } from "../signal/dsp";
import type { SampleMemory } from "../kernel/sample-memory";
import type { Sound, SoundId, Sounds } from "../signal/sound";

/** A block moves no more than this, or one sample that is longer: a whole kit at once would hold the sound up. */
const MOST_BYTES_A_BLOCK = 65_536;

/** Samples of a sound that still lie elsewhere. */
interface Waiting {
  readonly id: SoundId;
  readonly sound: Sound;
  readonly variants: Samples[];
  readonly index: number;
}

/** Sounds whose samples are moved to where they are read quickest, as far as there is room, and then lie nowhere else. */
export class KeptSounds {
  private readonly byId = new Map<SoundId, Sound>();
  private readonly waiting: Waiting[] = [];
  /** Samples that are needed no more, and may still ring. */
  private dropped: Samples[] = [];

  /** @param isPlaying whether samples still sound */
  constructor(
    private readonly memory: SampleMemory,
    private readonly isPlaying: (samples: Samples) => boolean,
  ) {}

  /** @returns the same sounds, whose samples are moved block by block; those that had these ids before are needed no more */
  keep(sounds: Sounds): Sounds {
    this.drop(Object.keys(sounds));
    const kept = Object.entries(sounds).map(([id, sound]): [SoundId, Sound] => [id, this.movable(id, sound)]);
    for (const [id, sound] of kept) this.byId.set(id, sound);
    return Object.fromEntries(kept);
  }

  /** Moves some samples; to be called once a block. */
  moveSome(): void {
    for (let bytes = 0; bytes < MOST_BYTES_A_BLOCK && this.waiting.length > 0;) {
      const { id, sound, variants, index } = this.waiting.pop()!;
      if (this.byId.get(id) !== sound) continue;
      const samples = variants[index]!;
      variants[index] = this.memory.keep(samples);
      bytes += samples.byteLength;
    }
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

  private movable(id: SoundId, sound: Sound): Sound {
    const copied = (layers: Sound["layers"]) => layers.map((variants) => [...variants]);
    const [layers, right] = [copied(sound.layers), sound.right && copied(sound.right)];
    const made = { ...sound, layers, ...(right && { right }) };
    for (const variants of [...layers, ...(right ?? [])])
      variants.forEach((_, index) => this.waiting.push({ id, sound: made, variants, index }));
    return made;
  }
}
