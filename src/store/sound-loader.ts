import { soundSetOf } from "@/core/playback/part-sounds";
import type { Sound, SoundBank, SoundId } from "@/core/sound/sound";
import { SOUND_REVISION, soundSetName, soundsOf, type SoundSetId } from "@/core/sound/sound-sets";
import { Controller, type WorkspaceStore } from "./controller";
import type { Repository } from "./persistence/repository";
import type { Playback } from "./playback";
import type { SoundProgress } from "./workspace-state";

/** Sounds are rendered once in a browser and kept, but not while the player is trying the first ones. */
const KEEP_AFTER_MS = 5000;

export interface SoundLoaderDeps {
  readonly playback: Pick<Playback, "send">;
  readonly repository: Pick<Repository, "readSounds" | "writeSounds">;
  /** Makes sounds, and tells of each as soon as it can be played. */
  readonly render: (
    ids: readonly SoundId[],
    sampleRate: number,
    made: (id: SoundId, sound: Sound) => void,
  ) => Promise<void>;
}

/** @example makingText({ set: "deckhouse", made: 3, of: 16 }) // "Making the kit… 3 of 16 sounds are ready" */
export function makingText({ set, made, of }: SoundProgress): string {
  return `Making ${soundSetName(set)}… ${made} of ${of} sounds are ready`;
}

/** Has the sounds ready that the beat's parts strike: from the browser's store, else made, each heard as soon as it is there. */
export class SoundLoader extends Controller {
  private sounds: Record<SoundId, Sound> = {};
  private sampleRate: number | undefined;
  private readonly asked = new Set<SoundSetId>();
  private work = Promise.resolve();

  constructor(
    store: WorkspaceStore,
    private readonly deps: SoundLoaderDeps,
  ) {
    super(store);
  }

  /** All that is there, for who renders it. */
  get bank(): SoundBank | undefined {
    return this.sampleRate === undefined ? undefined : { sampleRate: this.sampleRate, sounds: this.sounds };
  }

  /** From here on sounds are had at this rate. @returns when those of the beat are there @throws what rendering throws */
  async attach(sampleRate: number): Promise<void> {
    if (sampleRate !== this.sampleRate) {
      this.sounds = {};
      this.asked.clear();
    }
    this.sampleRate = sampleRate;
    this.deps.playback.send({ type: "sounds", sounds: this.sounds });
    this.follow();
    await this.work;
  }

  /** The beat may have parts that strike other sounds. */
  follow(): void {
    const { sampleRate } = this;
    if (sampleRate === undefined) return;
    for (const set of new Set(this.beat.parts.map(soundSetOf))) {
      if (this.asked.has(set)) continue;
      this.asked.add(set);
      this.work = this.work.then(() => this.load(set, sampleRate));
      this.work.catch(() => this.asked.delete(set));
    }
  }

  private async load(set: SoundSetId, sampleRate: number): Promise<void> {
    const { repository, render, playback } = this.deps;
    const key = `${set} ${SOUND_REVISION} ${sampleRate}`;
    const stored = await repository.readSounds(key);
    if (stored) {
      Object.assign(this.sounds, stored);
      return playback.send({ type: "sounds", sounds: stored });
    }
    const ids = soundsOf(set);
    this.set({ soundProgress: { set, made: 0, of: ids.length } });
    await render(ids, sampleRate, (id, sound) => this.made(set, id, sound));
    this.set({ soundProgress: undefined });
    setTimeout(() => void this.keep(key, ids), KEEP_AFTER_MS);
  }

  private made(set: SoundSetId, id: SoundId, sound: Sound): void {
    this.sounds[id] = sound;
    this.deps.playback.send({ type: "sounds", sounds: { [id]: sound } });
    const { soundProgress } = this.state;
    if (soundProgress?.set === set) this.set({ soundProgress: { ...soundProgress, made: soundProgress.made + 1 } });
  }

  private async keep(key: string, ids: readonly SoundId[]): Promise<void> {
    await this.deps.repository.writeSounds(key, Object.fromEntries(ids.map((id) => [id, this.sounds[id]!])));
  }
}
