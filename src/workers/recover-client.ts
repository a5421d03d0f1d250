import { releaseProxy, wrap, type Remote } from "comlink";
import type { RecoverApi } from "./recover-api";

/** Works out readings on a thread of its own, started with the first question. */
export class RecoverClient {
  private worker: Worker | undefined;
  private api: Remote<RecoverApi> | undefined;

  readonly findReadings = (...asked: Parameters<RecoverApi["findReadings"]>) => this.started().findReadings(...asked);

  close(): void {
    this.api?.[releaseProxy]();
    this.worker?.terminate();
  }

  private started(): Remote<RecoverApi> {
    this.worker ??= new Worker("/engine/recover-worker.js", { type: "module" });
    this.api ??= wrap<RecoverApi>(this.worker);
    return this.api;
  }
}
