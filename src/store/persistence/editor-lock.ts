/** A beat's lock, held by this tab (Web Locks). */
export interface EditorLock {
  release(): void;
}

export interface LockRequest {
  /** Waits for it no longer. */
  readonly signal?: AbortSignal;
  /** Only if it is free now. */
  readonly ifFree?: boolean;
  /** Takes it from whoever has it. */
  readonly steal?: boolean;
  /** Another tab has taken it. */
  onStolen?(): void;
}

/** @returns the lock of a beat; undefined where it is not free, or was not waited for to the end */
export function requestEditorLock(
  locks: LockManager,
  beatId: string,
  { signal, ifFree = false, steal = false, onStolen }: LockRequest,
): Promise<EditorLock | undefined> {
  return new Promise((resolve) => {
    let held = false;
    const options: LockOptions = steal ? { steal } : ifFree ? { ifAvailable: true } : signal ? { signal } : {};
    locks
      .request(`echo-pocket beat ${beatId}`, options, (lock) => {
        if (!lock) return resolve(undefined);
        held = true;
        // The lock is held until this promise settles, or the tab is gone.
        return new Promise<void>((release) => resolve({ release }));
      })
      // Given up while it waited, or stolen while it was held.
      .catch(() => (held ? onStolen?.() : resolve(undefined)));
  });
}
