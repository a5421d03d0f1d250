import type { Beat } from "@/core/beat/beat";
import type { History } from "@/core/beat/history";
import type { KeptPass } from "@/core/beat/edits/kept-pass";
import { upgradeBeat, upgradeKeptPass, type Beat1, type KeptPass1 } from "@/core/formats/beat-1";
import type { Checks } from "./load-checks";
import type { BeatRecord } from "./rows";
import type { HistoryChanges } from "./step-log";

/** A beat, what was recorded in it that is not settled yet, and what is new in its history. */
export interface KeptBeat {
  readonly beat: Beat;
  readonly passes: readonly KeptPass[];
  /** Without it the beat has no history any more. */
  readonly steps?: HistoryChanges;
}

/** A beat that can't be read, as it is on disk. */
export interface DamagedBeat {
  readonly id: string;
  readonly problem: string;
  readonly record: unknown;
}

export interface BeatList {
  /** The last changed first. */
  readonly records: readonly BeatRecord[];
  readonly damaged: readonly DamagedBeat[];
  /** True where there are older ones that were not asked for: nobody has looked at them. */
  readonly hasMore: boolean;
  /** False where what checks them could not be loaded: those on disk are not among them, whatever they are. */
  readonly checked: boolean;
}

/**
 * `unanswered`: the store gives no answer, so nobody knows; `unchecked`: it does, and what would check it could not be loaded.
 */
export type LoadedBeat =
  | ({ readonly status: "found"; readonly beat: Beat; readonly passes: readonly KeptPass[] } & LoadedHistory)
  | ({ readonly status: "damaged" } & DamagedBeat)
  | { readonly status: "missing" | "unanswered" | "unchecked" };

/** Where a saved beat is: on disk, only in memory, or nowhere, because another tab edits it now. */
export type Saved = "disk" | "memory" | "taken";

/** What can be undone and done again in a beat that was loaded. */
export interface LoadedHistory {
  readonly history: History<Beat>;
}

/** What a page that goes away leaves of a beat. */
export interface LeftBeat extends KeptBeat {
  readonly version: 2;
  readonly changedAt: number;
  /** Who edited it. */
  readonly editor?: string;
  /** It was never on disk. */
  readonly added?: true;
}

/** The same of a page of the first version, which did not say so. */
export interface LeftBeat1 extends Omit<LeftBeat, "version" | "beat" | "passes"> {
  readonly version?: undefined;
  readonly beat: Beat1;
  readonly passes: readonly KeptPass1[];
}

/** Reads a backup, as it is now. @throws CoreError, or another error, as a text in local storage may be anybody's */
export function readLeft(id: string, left: LeftBeat | LeftBeat1, checks: Checks): LeftBeat {
  const { steps, ...now } = left.version === 2 ? left : upgradeLeft(left);
  checks.checkBeatRow({ id, changedAt: now.changedAt, beat: now.beat });
  checks.readJournalRow({ passes: JSON.stringify(now.passes) });
  return { ...now, ...(checks.isHistoryChanges(steps) && { steps }) };
}

function upgradeLeft({ beat, passes, ...left }: LeftBeat1): LeftBeat {
  return { ...left, version: 2, beat: upgradeBeat(beat), passes: passes.map(upgradeKeptPass) };
}
