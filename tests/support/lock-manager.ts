interface Waiting {
  readonly start: (lock: object) => void;
  readonly signal: AbortSignal | undefined;
}

interface Held {
  readonly lose: () => void;
}

/**
 * Web Locks for several pages of one test, as far as the app uses them: waiting in line, only if free, stealing, giving up
 * (W3C Web Locks API, from memory). A page that freezes is one whose callbacks are not called; its lock stays held.
 */
export function lockManager(): LockManager {
  const held = new Map<string, Held>();
  const lines = new Map<string, Waiting[]>();

  const next = (name: string) => {
    const waiting = (lines.get(name) ?? []).filter(({ signal }) => !signal?.aborted);
    lines.set(name, waiting);
    if (!held.has(name)) waiting.shift()?.start({ name });
  };
  const request = (name: string, options: LockOptions, work: (lock: object | null) => unknown) =>
    new Promise((resolve, reject) => {
      if (options.signal?.aborted) return reject(new DOMException("aborted", "AbortError"));
      if (options.ifAvailable && (held.has(name) || lines.get(name)?.length)) return resolve(work(null));
      const start = (lock: object) => {
        const own: Held = { lose: () => reject(new DOMException("stolen", "AbortError")) };
        held.set(name, own);
        void Promise.resolve(work(lock)).then((value) => {
          if (held.get(name) === own) held.delete(name);
          resolve(value);
          next(name);
        });
      };
      if (options.steal) {
        held.get(name)?.lose();
        return start({ name });
      }
      options.signal?.addEventListener("abort", () => reject(new DOMException("aborted", "AbortError")));
      lines.set(name, [...(lines.get(name) ?? []), { start, signal: options.signal }]);
      next(name);
    });
  return { request } as unknown as LockManager;
}
