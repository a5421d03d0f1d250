import { releaseProxy, wrap, type Remote } from "comlink";

/** A worker stopped, or could not be started, before it answered. The next question starts it anew. */
export class WorkerStoppedError extends Error {
  override readonly name = "WorkerStoppedError";
}

interface Started<Api> {
  readonly worker: Worker;
  readonly api: Remote<Api>;
  /** Rejects when the worker stops; never resolves. */
  readonly stopped: Promise<never>;
  stop(reason: string): void;
}

/** A worker of the page, started with the first question. Every question settles: with an answer, an error, or its end. */
export class WorkerThread<Api> {
  private started: Started<Api> | undefined;

  /** @param onStart is told of each start, with a worker that knows nothing yet */
  constructor(
    private readonly url: string,
    private readonly onStart: () => void = () => {},
  ) {}

  /** @throws WorkerStoppedError, and what the worker throws */
  ask<T>(question: (api: Remote<Api>) => PromiseLike<T>): Promise<T> {
    const { api, stopped } = (this.started ??= this.start());
    return Promise.race([question(api), stopped]);
  }

  close(): void {
    this.started?.stop("It was closed before it had answered.");
  }

  private start(): Started<Api> {
    const worker = new Worker(this.url, { type: "module" });
    const api = wrap<Api>(worker);
    let reject: (error: WorkerStoppedError) => void = () => {};
    const stopped = new Promise<never>((_, stop) => (reject = stop));
    // Where nothing was asked nobody need hear of it.
    stopped.catch(() => undefined);
    const stop = (reason: string) => {
      if (this.started?.worker === worker) this.started = undefined;
      reject(new WorkerStoppedError(reason));
      api[releaseProxy]();
      worker.terminate();
    };
    worker.onerror = ({ message }) => stop(`A part of the app stopped (${message || "it did not load"}). Try again.`);
    worker.onmessageerror = () => stop("A part of the app sent something that can't be read. Try again.");
    this.onStart();
    return { worker, api, stopped, stop };
  }
}
