/** One tab edits a beat at a time (Web Locks). */
export interface EditorLock {
  /** False when another tab has it, or the browser has no locks and so cannot tell; then editing is allowed. */
  readonly held: boolean;
  release(): void;
}

/** Takes the lock of a beat if it is free. */
export function takeEditorLock(
  beatId: string,
  locks: LockManager | undefined = globalThis.navigator?.locks,
): Promise<EditorLock> {
  if (!locks) return Promise.resolve({ held: true, release: () => {} });
  return new Promise((resolve, reject) => {
    locks
      .request(`echo-pocket beat ${beatId}`, { ifAvailable: true }, (lock) => {
        if (!lock) {
          resolve({ held: false, release: () => {} });
          return undefined;
        }
        // The lock is held until this promise settles, or the tab is gone.
        return new Promise<void>((release) => resolve({ held: true, release }));
      })
      .catch(reject);
  });
}
