import { WorkerThread } from "./worker-thread";

/** Workers that answer nothing by themselves. */
class FakeWorker extends EventTarget {
  static made: FakeWorker[] = [];
  onerror: ((event: { message: string }) => void) | null = null;
  onmessageerror: (() => void) | null = null;
  terminated = false;
  constructor(readonly url: string) {
    super();
    FakeWorker.made.push(this);
  }
  postMessage(): void {}
  terminate(): void {
    this.terminated = true;
  }
}

beforeEach(() => {
  FakeWorker.made = [];
  Object.assign(globalThis, { Worker: FakeWorker });
});

interface Api {
  answer(): number;
}

test("a question to a worker that stops is answered by its end, and the next one starts another", async () => {
  let starts = 0;
  const thread = new WorkerThread<Api>("/w.js", () => starts++);
  const asked = thread.ask((api) => api.answer());
  FakeWorker.made[0]!.onerror!({ message: "out of memory" });
  await expect(asked).rejects.toThrow("A part of the app stopped (out of memory). Try again.");
  expect(FakeWorker.made[0]!.terminated).toBe(true);
  const again = thread.ask((api) => api.answer());
  expect([FakeWorker.made.length, starts]).toEqual([2, 2]);
  FakeWorker.made[1]!.onmessageerror!();
  await expect(again).rejects.toThrow("can't be read");
});

test("what is asked when it is closed settles, too", async () => {
  const thread = new WorkerThread<Api>("/w.js");
  const asked = thread.ask((api) => api.answer());
  thread.close();
  await expect(asked).rejects.toThrow("closed before it had answered");
  expect(FakeWorker.made[0]!.terminated).toBe(true);
});
