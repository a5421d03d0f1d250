import type { Beat } from "@/core/beat/beat";
import type { KeptPass } from "@/core/beat/kept-pass";
import { checkBeatRecord, checkJournal } from "./check-record";

/** A beat, and what was recorded in it that is not settled yet. */
export interface KeptBeat {
  readonly beat: Beat;
  readonly passes: readonly KeptPass[];
}

/** What a page that goes away leaves of a beat. */
export interface LeftBeat extends KeptBeat {
  readonly changedAt: number;
  /** Who edited it. */
  readonly editor?: string;
  /** It was never on disk. */
  readonly added?: true;
}

/** A text in local storage may be anybody's. */
export async function isSound(id: string, { changedAt, beat, passes }: LeftBeat): Promise<boolean> {
  try {
    await checkBeatRecord({ id, changedAt, beat });
    await checkJournal({ beatId: id, writtenAt: changedAt, passes: JSON.stringify(passes ?? []) });
    return Array.isArray(passes);
  } catch {
    return false;
  }
}
