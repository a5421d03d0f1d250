import type { BeatRecord } from "./database";

const PREFIX = "unsaved beat ";

/**
 * What a page that goes away has not saved yet: the browser's store answers too late for it, while local storage takes
 * a text at once. A record that does not fit is left out; the store may still get it.
 */
export function leaveWill(storage: Storage | undefined, record: BeatRecord): void {
  try {
    storage?.setItem(PREFIX + record.id, JSON.stringify(record));
  } catch {
    // Full or forbidden.
  }
}

/** @returns what an earlier page left of a beat */
export function readWill(storage: Storage | undefined, beatId: string): BeatRecord | undefined {
  try {
    const text = storage?.getItem(PREFIX + beatId);
    return text ? (JSON.parse(text) as BeatRecord) : undefined;
  } catch {
    return undefined;
  }
}

/** To be called when the beat is in the store. */
export function dropWill(storage: Storage | undefined, beatId: string): void {
  storage?.removeItem(PREFIX + beatId);
}

/** The beats of which something was left. */
export function beatsWithWill(storage: Storage | undefined): readonly string[] {
  return Array.from({ length: storage?.length ?? 0 }, (_, index) => storage?.key(index) ?? "")
    .filter((key) => key.startsWith(PREFIX))
    .map((key) => key.slice(PREFIX.length));
}
