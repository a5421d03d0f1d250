import type { Beat, PatternPlace } from "@/core/beat/beat";
import { DRUM_IDS, type DrumId } from "@/core/drums";
import type { WavOptions } from "@/core/playback/beat-to-wav";
import type { DrumSamples, Kit } from "@/core/sound/kit";
import type { RenderApi } from "./render-api";
import { WorkerThread } from "./worker-thread";

const WORKER_URL = "/engine/render-worker.js";
/** More workers than this would hardly be faster: a crash takes a third of the time of all. */
const MOST_WORKERS = 4;

/** Renders WAV files on a thread of its own, which keeps the kits that it has got. */
export class RenderClient {
  private readonly known = new Set<number>();
  private readonly thread = new WorkerThread<RenderApi>(WORKER_URL, () => this.known.clear());

  /** @param kit as the page has it, if it has one; one of the file's rate need not be made again */
  async renderWav(
    beat: Beat,
    places: readonly PatternPlace[],
    options: WavOptions,
    kit: Kit | undefined,
  ): Promise<Uint8Array> {
    if (kit?.sampleRate === options.sampleRate && !this.known.has(kit.sampleRate)) {
      await this.thread.ask((api) => api.setKit(kit));
      this.known.add(kit.sampleRate);
    }
    return this.thread.ask((api) => api.renderWav(beat, places, options));
  }

  close(): void {
    this.thread.close();
  }
}

/** With these an idea can be played; then from the end, where the cymbals are, which take longest. */
const FIRST: readonly DrumId[] = ["kick", "snare", "closedHat"];
const IN_TURN: readonly DrumId[] = [...FIRST, ...DRUM_IDS.filter((id) => !FIRST.includes(id)).toReversed()];

/**
 * Renders the kit in as many workers as the machine has cores for, each taking the next drum.
 * @param made is told of each drum as soon as it can be played
 */
export async function renderKitTogether(
  sampleRate: number,
  made: (drum: number, samples: DrumSamples) => void,
): Promise<Kit> {
  const drums: DrumSamples[] = [];
  let next = 0;
  const work = async () => {
    const thread = new WorkerThread<RenderApi>(WORKER_URL);
    try {
      while (next < IN_TURN.length) {
        const id = IN_TURN[next++]!;
        const drum = DRUM_IDS.indexOf(id);
        drums[drum] = await thread.ask((api) => api.renderDrum(id, sampleRate));
        made(drum, drums[drum]);
      }
    } finally {
      thread.close();
    }
  };
  await Promise.all(Array.from({ length: Math.min(MOST_WORKERS, navigator.hardwareConcurrency || 1) }, work));
  return { sampleRate, drums };
}
