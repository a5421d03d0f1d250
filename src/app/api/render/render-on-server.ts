import { join } from "node:path";
import { Worker } from "node:worker_threads";
import { CoreError } from "@/core/core-error";
import type { RenderJob, RenderReply } from "@/workers/render-job";

const LIMIT_MS = 15_000;

/**
 * Renders in a thread of its own, so that the server goes on answering and a render that takes too long can be ended.
 * @returns undefined when it was ended after 15 s
 * @throws CoreError as beatToWav does
 */
export async function renderOnServer(job: RenderJob): Promise<Uint8Array | undefined> {
  const thread = new Worker(join(process.cwd(), "build", "render-thread.mjs"), { workerData: job });
  let timer: ReturnType<typeof setTimeout> | undefined;
  try {
    const reply = await new Promise<RenderReply | undefined>((resolve, reject) => {
      timer = setTimeout(() => resolve(undefined), LIMIT_MS);
      thread.once("message", resolve);
      thread.once("error", reject);
    });
    if (!reply) return undefined;
    if (!reply.ok) throw new CoreError(reply.code, reply.message);
    return reply.bytes;
  } finally {
    clearTimeout(timer);
    void thread.terminate();
  }
}
