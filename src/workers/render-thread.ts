import { parentPort, workerData } from "node:worker_threads";
import { CoreError } from "@/core/core-error";
import { beatToWav } from "@/core/playback/beat-to-wav";
import type { RenderJob, RenderReply } from "./render-job";

/** One render for the server: the job comes with the thread, the thread ends with the job. */
function render({ beat, place, options }: RenderJob): RenderReply {
  try {
    return { ok: true, bytes: beatToWav(beat, place, options) };
  } catch (error) {
    if (error instanceof CoreError) return { ok: false, code: error.code, message: error.message };
    throw error;
  }
}

parentPort?.postMessage(render(workerData as RenderJob));
