import { releaseProxy, wrap, type Remote } from "comlink";
import { DRUM_IDS } from "@/core/drums";
import type { DrumSamples, Kit } from "@/core/sound/kit";
import type { RenderApi } from "./render-api";

/** More workers than this would hardly be faster: a crash takes a third of the time of all. */
const MOST_WORKERS = 4;

export interface RenderClient {
  readonly api: Remote<RenderApi>;
  close(): void;
}

/** Starts the render worker; close it to end its thread. */
export function startRenderWorker(): RenderClient {
  const worker = new Worker("/engine/render-worker.js", { type: "module" });
  const api = wrap<RenderApi>(worker);
  return {
    api,
    close() {
      api[releaseProxy]();
      worker.terminate();
    },
  };
}

/** Renders the kit in as many workers as the machine has cores for, each taking the next drum. */
export async function renderKitTogether(sampleRate: number): Promise<Kit> {
  const drums: DrumSamples[] = [];
  // From the end, where the cymbals are, which take longest.
  let left = DRUM_IDS.length;
  const work = async () => {
    const worker = startRenderWorker();
    try {
      while (left > 0) {
        const drum = --left;
        drums[drum] = await worker.api.renderDrum(DRUM_IDS[drum], sampleRate);
      }
    } finally {
      worker.close();
    }
  };
  await Promise.all(Array.from({ length: Math.min(MOST_WORKERS, navigator.hardwareConcurrency || 1) }, work));
  return { sampleRate, drums };
}
