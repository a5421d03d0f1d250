import { derivedSounds, soundsAtHand, soundSetsOf } from "@/core/playback/part-sounds";
import type { Sound, SoundBank, SoundId, Sounds } from "@/core/sound/signal/sound";
import {
  isDerived,
  readOwnSoundId,
  SOUND_REVISION,
  soundSetName,
  soundsOf,
  untuned,
  type SoundSetId,
} from "@/core/sound/kits/sound-sets";
import { Controller, type WorkspaceStore } from "../state/controller";
import type { Repository } from "../persistence/repository";
import type { Playback } from "./playback";
import type { SoundProgress } from "../state/workspace-state";

/** What keys of sounds begin with that are the present voices'. */
const REVISION = `${SOUND_REVISION} `;
/** Sounds are rendered once in a browser and kept, but not while the player is trying the first ones. */
const KEEP_AFTER_MS = 5000;

export interface SoundLoaderDeps {
  readonly playback: Pick<Playback, "addSounds" | "dropSounds" | "giveUpSound">;
  readonly repository: Pick<Repository, "readSound" | "writeSound" | "forgetSoundsBut">;
  /** Makes sounds, and tells of each as soon as it can be played. @param workers how many work at them at the most */
  readonly render: (
    ids: readonly SoundId[],
    sampleRate: number,
    made: (id: SoundId, sound: Sound) => void,
    workers?: number,
  ) => Promise<void>;
  /** Makes one of others, or of a sample. @throws where a sample is missing */
  readonly derive: (id: SoundId, bank: SoundBank) => Promise<Sound>;
}

/** @example makingText({ sets: ["deckhouse"], made: 3, of: 16 }) // "Making Deckhouse… 3 of 16 sounds are ready" */
export function makingText({ sets, made, of }: SoundProgress): string {
  return `Making ${setNames(sets)}… ${made} of ${of} sounds are ready`;
}

/** What is being made, in a sentence. */
export function setNames(sets: readonly SoundSetId[]): string {
  return new Intl.ListFormat("en-GB").format(sets.map(soundSetName));
}

/**
 * Has the sounds ready that the beat's parts strike: from the browser's store, else made, each heard as soon as it is there.
 * First comes what is struck, and what lies on the keys; the other notes of voices are made at leisure.
 */
export class SoundLoader extends Controller {
  private sounds: Record<SoundId, Sound> = {};
  private sampleRate: number | undefined;
  private readonly asked = new Set<SoundSetId>();
  /** What could not be made of others, and why nobody tries again. */
  private readonly impossible = new Set<SoundId>();
  private deriving = false;
  private work = Promise.resolve();
  private leisure = Promise.resolve();

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
    this.impossible.clear();
    this.deps.playback.addSounds({ ...this.sounds });
    await (this.loadNews(this.setsStruck()) ?? this.work);
    void this.deriveNews();
  }

  /** The beat may have parts that strike other sounds. */
  follow(): void {
    void this.loadNews(this.setsStruck());
    void this.deriveNews();
  }

  /** Somebody may want to hear these next. @returns when what can be had of them is there */
  async prepare(sets: readonly SoundSetId[]): Promise<void> {
    void this.loadNews(sets);
    await this.work;
  }

  /** A sample that was missing is there: what is cut out of it is made. */
  samplesCame(): void {
    this.impossible.clear();
    void this.deriveNews();
  }

  /** One after the other; what fails is asked for again with the next change. @returns undefined where all is there or under way */
  private loadNews(sets: readonly SoundSetId[]): Promise<void> | undefined {
    const { sampleRate } = this;
    if (sampleRate === undefined) return undefined;
    const news = sets.filter((set) => !this.asked.has(set));
    if (news.length === 0) return undefined;
    news.forEach((set) => this.asked.add(set));
    this.set({ soundsAwaited: [...this.state.soundsAwaited, ...news] });
    const loading = this.work.then(() => this.load(news, sampleRate));
    this.work = loading.catch(() => this.failed(news)).then(() => this.arrived(news));
    return loading;
  }

  private setsStruck(): readonly SoundSetId[] {
    return [...new Set(this.beat.parts.flatMap(soundSetsOf))];
  }

  /** What can be had of them is there. */
  private arrived(sets: readonly SoundSetId[]): void {
    this.set({ soundsAwaited: this.state.soundsAwaited.filter((set) => !sets.includes(set)) });
    void this.deriveNews();
  }

  /** One after the other, as long as the beat strikes something that is missing; what it strikes no more goes. */
  private async deriveNews(): Promise<void> {
    if (this.deriving) return;
    this.deriving = true;
    for (let id = this.missing(); id !== undefined; id = this.missing()) {
      const { bank, sampleRate } = this;
      try {
        const sound = await this.deps.derive(id, bank!);
        this.add({ [id]: sound }, sampleRate!);
      } catch {
        this.impossible.add(id);
        this.toldImpossible(id);
      }
    }
    this.deriving = false;
    this.dropUnused();
  }

  /** Without its sample a sound is silent; of one that can't be tuned the plain one goes on, played faster or slower. */
  private toldImpossible(id: SoundId): void {
    if (!readOwnSoundId(id)) return this.set({ notice: "A tuned sound could not be made; the plain one is played." });
    this.deps.playback.giveUpSound(id);
    this.set({ notice: "A sound of this beat stays silent: its sample is not in this browser." });
  }

  /** The next sound that is to be made of others that are there. */
  private missing(): SoundId | undefined {
    if (this.sampleRate === undefined) return undefined;
    return this.derivedStruck().find((id) => {
      const { base } = untuned(id);
      return !this.sounds[id] && !this.impossible.has(id) && (readOwnSoundId(id) !== undefined || this.sounds[base]);
    });
  }

  private derivedStruck(): readonly SoundId[] {
    return this.beat.parts.flatMap(derivedSounds);
  }

  private dropUnused(): void {
    const struck = new Set(this.derivedStruck());
    const unused = Object.keys(this.sounds).filter((id) => isDerived(id) && !struck.has(id));
    if (unused.length === 0) return;
    for (const id of unused) delete this.sounds[id];
    this.deps.playback.dropSounds(unused);
  }

  private failed(sets: readonly SoundSetId[]): void {
    sets.forEach((set) => this.asked.delete(set));
    const notice = `Some sounds of ${setNames(sets)} could not be made and stay silent; your next change tries again.`;
    this.set({ soundProgress: undefined, notice });
  }

  private async load(sets: readonly SoundSetId[], sampleRate: number): Promise<void> {
    const ids = await this.loadKept(sets.flatMap(soundsOf), sampleRate);
    if (ids.length === 0) return;
    const missing = sets.filter((set) => soundsOf(set).some((id) => ids.includes(id)));
    // What somebody may want to hear next is wanted as well.
    const struck = this.setsStruck();
    const wanted = new Set([
      ...soundsAtHand(this.beat),
      ...sets.filter((set) => !struck.includes(set)).flatMap(soundsOf),
    ]);
    const first = ids.filter((id) => wanted.has(id));
    this.set({ soundProgress: { sets: missing, made: 0, of: first.length } });
    await this.deps.render(first, sampleRate, (id, sound) => this.made(missing, { [id]: sound }, sampleRate));
    this.set({ soundProgress: undefined });
    const rest = ids.filter((id) => !wanted.has(id));
    const add = (id: SoundId, sound: Sound) => this.add({ [id]: sound }, sampleRate);
    // What fails at leisure is not kept, and made when the page is loaded again.
    this.leisure = this.leisure.then(() => this.deps.render(rest, sampleRate, add, 1)).catch(() => undefined);
    void this.leisure.then(() => setTimeout(() => void this.keep(ids, sampleRate), KEEP_AFTER_MS));
  }

  /** One after the other: a kit at once would hold the page up. @returns what is not kept */
  private async loadKept(ids: readonly SoundId[], sampleRate: number): Promise<readonly SoundId[]> {
    const missing: SoundId[] = [];
    for (const id of ids) {
      const sound = await this.deps.repository.readSound(keyOf(id, sampleRate));
      if (sound) this.add({ [id]: sound }, sampleRate);
      else missing.push(id);
    }
    return missing;
  }

  private made(sets: readonly SoundSetId[], sounds: Sounds, sampleRate: number): void {
    this.add(sounds, sampleRate);
    const { soundProgress } = this.state;
    if (soundProgress?.sets === sets) this.set({ soundProgress: { ...soundProgress, made: soundProgress.made + 1 } });
  }

  /** Sounds for an output that has been left meanwhile are of no use. */
  private add(sounds: Sounds, sampleRate: number): void {
    if (sampleRate !== this.sampleRate) return;
    Object.assign(this.sounds, sounds);
    this.deps.playback.addSounds(sounds);
  }

  private async keep(ids: readonly SoundId[], sampleRate: number): Promise<void> {
    await this.deps.repository.forgetSoundsBut(REVISION);
    for (const id of ids) {
      if (sampleRate !== this.sampleRate) return;
      const sound = this.sounds[id];
      if (sound) await this.deps.repository.writeSound(keyOf(id, sampleRate), sound);
    }
  }
}

function keyOf(id: SoundId, sampleRate: number): string {
  return `${REVISION}${sampleRate} ${id}`;
}
