import type { Beat, PatternRef } from "@/core/beat/beat";
import type { StemSize } from "@/core/playback/beat-to-stems";
import type { WavOptions } from "@/core/playback/beat-to-wav";
import { soundsStruck } from "@/core/playback/part-sounds";
import type { OwnSamples } from "@/core/sound/kits/own-sample";
import { readOwnSoundId, untuned } from "@/core/sound/kits/sound-sets";
import type { Sound, SoundBank, SoundId, Sounds } from "@/core/sound/signal/sound";
import type { RenderApi } from "./render-api";
import { WorkerThread } from "./worker-thread";

const WORKER_URL = "/engine/render-worker.js";
/** More workers than this would hardly be faster: a crash takes a third of the time of all. */
const MOST_WORKERS = 4;

/** Renders WAV files on a thread of its own, which keeps the sounds that it has got. */
export class RenderClient {
  /** Sounds, each with its rate. */
  private readonly known = new Set<string>();
  private readonly knownSamples = new Set<string>();
  private readonly thread = new WorkerThread<RenderApi>(WORKER_URL, () => {
    this.known.clear();
    this.knownSamples.clear();
  });

  /** @param readSamples samples of the player's own, by id; without those that are not there */
  constructor(private readonly readSamples: (ids: readonly string[]) => Promise<OwnSamples>) {}

  /** Makes a sound of others, or of a sample. @param bank where the others are @throws CoreError where a sample is missing */
  async makeSound(id: SoundId, bank: SoundBank): Promise<Sound> {
    const own = readOwnSoundId(id);
    if (own) await this.handSamples([own.sampleId]);
    else await this.handSounds([untuned(id).base], bank);
    return this.thread.ask((api) => api.renderSound(id, bank.sampleRate));
  }

  /** @param bank the sounds that the page has; of the file's rate they need not be made again */
  async renderWav(
    beat: Beat,
    places: readonly PatternRef[],
    options: WavOptions,
    bank: SoundBank | undefined,
  ): Promise<Uint8Array> {
    await this.handOver(beat, places, options.sampleRate, bank);
    return this.thread.ask((api) => api.renderWav(beat, places, options));
  }

  /** A ZIP file of WAVs that add up to the whole. */
  async renderStems(
    beat: Beat,
    places: readonly PatternRef[],
    size: StemSize,
    options: WavOptions,
    bank: SoundBank | undefined,
  ): Promise<Uint8Array> {
    await this.handOver(beat, places, options.sampleRate, bank);
    return this.thread.ask((api) => api.renderStems(beat, places, size, options));
  }

  close(): void {
    this.thread.close();
  }

  private async handOver(beat: Beat, places: readonly PatternRef[], rate: number, bank: SoundBank | undefined) {
    const wanted = soundsStruck(beat, places);
    if (bank?.sampleRate === rate) await this.handSounds(wanted, bank);
    await this.handSamples(wanted.flatMap((id) => readOwnSoundId(id)?.sampleId ?? []));
  }

  private async handSamples(ids: readonly string[]): Promise<void> {
    const news = [...new Set(ids)].filter((id) => !this.knownSamples.has(id));
    if (news.length === 0) return;
    const samples = await this.readSamples(news);
    await this.thread.ask((api) => api.putSamples(samples));
    Object.keys(samples).forEach((id) => this.knownSamples.add(id));
  }

  private async handSounds(ids: readonly SoundId[], { sampleRate, sounds }: SoundBank): Promise<void> {
    const news = ids.filter((id) => sounds[id] && !this.known.has(`${sampleRate} ${id}`));
    if (news.length === 0) return;
    const handed: Sounds = Object.fromEntries(news.map((id) => [id, sounds[id]!]));
    await this.thread.ask((api) => api.putSounds({ sampleRate, sounds: handed }));
    news.forEach((id) => this.known.add(`${sampleRate} ${id}`));
  }
}

/**
 * Renders sounds in as many workers as the machine has cores for, each taking the next one.
 * @param made is told of each sound as soon as it can be played
 * @param workers how many at the most
 */
export async function renderTogether(
  ids: readonly SoundId[],
  sampleRate: number,
  made: (id: SoundId, sound: Sound) => void,
  workers = Math.min(MOST_WORKERS, navigator.hardwareConcurrency || 1),
): Promise<void> {
  let next = 0;
  const work = async () => {
    const thread = new WorkerThread<RenderApi>(WORKER_URL);
    try {
      while (next < ids.length) {
        const id = ids[next++]!;
        made(id, await thread.ask((api) => api.renderSound(id, sampleRate)));
      }
    } finally {
      thread.close();
    }
  };
  await Promise.all(Array.from({ length: Math.min(workers, ids.length) }, work));
}
