import { releaseProxy, wrap, type Remote } from "comlink";
import type { RenderApi } from "./render-api";

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
