import { join } from "node:path";
import Piscina from "piscina";
import type { RenderJob, RenderReply } from "./render-job";

const THREADS = 2;
const QUEUE = 8;
const LIMIT_MS = 15_000;

/** `busy`: as many requests as are taken at a time are here already. `late`: it took longer than 15 s, with its wait in the line. */
export type Rendered = RenderReply | "busy" | "late" | "gone";

/**
 * The server's renders: two threads, which keep their kits, with a queue of eight. A request that finds the queue full is
 * told so at once; an aborted request releases its slot, also in the middle of a render.
 */
export class RenderPool {
  private readonly threads = new Piscina<RenderJob, RenderReply>({
    filename: join(process.cwd(), "build", "render-thread.mjs"),
    minThreads: 0,
    maxThreads: THREADS,
    idleTimeout: 60_000,
    // A thread that was ended for one request is no loss to the others.
    concurrentTasksPerWorker: 1,
  });
  private taken = 0;

  /**
   * @param receive reads the job from the request; not called when there is no room
   * @throws what `receive` throws
   */
  async render(receive: () => Promise<RenderJob>, gone: AbortSignal): Promise<Rendered> {
    if (this.taken >= THREADS + QUEUE) return "busy";
    this.taken++;
    try {
      const limit = AbortSignal.timeout(LIMIT_MS);
      const job = await receive();
      if (gone.aborted) return "gone";
      return await this.run(job, gone, limit);
    } finally {
      this.taken--;
    }
  }

  private async run(job: RenderJob, gone: AbortSignal, limit: AbortSignal): Promise<Rendered> {
    try {
      const transferList = [job.file.buffer as ArrayBuffer];
      return await this.threads.run(job, { signal: AbortSignal.any([gone, limit]), transferList });
    } catch (error) {
      if (gone.aborted) return "gone";
      if (limit.aborted) return "late";
      throw error;
    }
  }
}
