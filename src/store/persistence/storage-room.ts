/** What the browser lets this app keep. */
export interface Room {
  readonly usedBytes: number;
  readonly quotaBytes: number;
  /** It is kept until the user deletes it (Storage Standard: persistent mode); else it may go when room is short. */
  readonly persisted: boolean;
}

/** @returns undefined where the browser does not tell */
export async function readRoom(): Promise<Room | undefined> {
  try {
    const [{ usage, quota }, persisted] = await Promise.all([
      navigator.storage.estimate(),
      navigator.storage.persisted(),
    ]);
    return usage === undefined || !quota ? undefined : { usedBytes: usage, quotaBytes: quota, persisted };
  } catch {
    return undefined;
  }
}

/** Asks that what is kept stays when the browser runs short of room; a browser may say no, or ask the user. */
export async function askToPersist(): Promise<void> {
  try {
    if (!(await navigator.storage.persisted())) await navigator.storage.persist();
  } catch {
    // Then it is kept as long as there is room.
  }
}
