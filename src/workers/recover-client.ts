import type { RecoverApi } from "./recover-api";
import { WorkerThread } from "./worker-thread";

/** Works out readings on a thread of its own, started with the first question. */
export class RecoverClient {
  private readonly thread = new WorkerThread<RecoverApi>("/engine/recover-worker.js");

  readonly findReadings = (...asked: Parameters<RecoverApi["findReadings"]>) =>
    this.thread.ask((api) => api.findReadings(...asked));

  close(): void {
    this.thread.close();
  }
}
