import type { Beat, PatternRef } from "@/core/beat/beat";
import type { StemSize } from "@/core/playback/beat-to-stems";
import type { WavOptions } from "@/core/playback/beat-to-wav";
import { soundsStruck } from "@/core/playback/part-sounds";
import type { Sound, SoundBank, SoundId, Sounds } from "@/core/sound/sound";
import type { RenderApi } from "./render-api";
import { WorkerThread } from "./worker-thread";

const WORKER_URL = "/engine/render-worker.js";
/** More workers than this would hardly be faster: a crash takes a third of the time of all. */
const MOST_WORKERS = 4;

/** Renders WAV files on a thread of its own, which keeps the sounds that it has got. */
export class RenderClient {
  private readonly known = new Set<SoundId>();
  private readonly thread = new WorkerThread<RenderApi>(WORKER_URL, () => this.known.clear());

  /** @param bank the sounds that the page has; of the file's rate they need not be made again */
  async renderWav(
    beat: Beat,
    places: readonly PatternRef[],
    options: WavOptions,
    bank: SoundBank | undefined,
  ): Promise<Uint8Array> {
    if (bank?.sampleRate === options.sampleRate) await this.handOver(beat, places, bank);
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
    if (bank?.sampleRate === options.sampleRate) await this.handOver(beat, places, bank);
    return this.thread.ask((api) => api.renderStems(beat, places, size, options));
  }

  close(): void {
    this.thread.close();
  }

  private async handOver(beat: Beat, places: readonly PatternRef[], { sampleRate, sounds }: SoundBank) {
    const wanted = soundsStruck(beat, places);
    const news = wanted.filter((id) => sounds[id] && !this.known.has(id));
    if (news.length === 0) return;
    const handed: Sounds = Object.fromEntries(news.map((id) => [id, sounds[id]!]));
    await this.thread.ask((api) => api.putSounds({ sampleRate, sounds: handed }));
    news.forEach((id) => this.known.add(id));
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
