import type { Remote } from "comlink";
import { CoreError } from "@/core/core-error";
import type { FileApi, FileReply } from "./file-api";
import { WorkerThread } from "./worker-thread";

/** Smaller files are read before a worker would have started. */
const SMALL_BYTES = 128 * 1024;

type Question<T> = (api: FileApi) => FileReply<T>;

/**
 * Reads a file, a large one on a thread of its own, which ends with it: the page goes on playing.
 * @throws CoreError with what is wrong with it and where; WorkerStoppedError
 */
export async function readFileApart<T>(bytes: Uint8Array, question: Question<T>): Promise<T> {
  const answer = bytes.length <= SMALL_BYTES ? await readHere(question) : await readApart(question);
  if ("read" in answer) return answer.read;
  const { code, message, problems } = answer.problem;
  throw new CoreError(code, message, problems);
}

async function readHere<T>(question: Question<T>): Promise<FileReply<T>> {
  return question((await import("./file-service")).fileService);
}

async function readApart<T>(question: Question<T>): Promise<FileReply<T>> {
  const thread = new WorkerThread<FileApi>("/engine/file-worker.js");
  try {
    return await thread.ask(
      (api: Remote<FileApi>) => question(api as unknown as FileApi) as unknown as Promise<FileReply<T>>,
    );
  } finally {
    thread.close();
  }
}
