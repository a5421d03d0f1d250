import type { Beat } from "@/core/beat/beat";
import type { KeptPass } from "@/core/beat/kept-pass";
import { upgradeBeat, upgradeKeptPass, type Beat1, type KeptPass1 } from "@/core/formats/beat-1";
import { checkBeatRecord, checkJournal } from "./check-record";

/** A beat, and what was recorded in it that is not settled yet. */
export interface KeptBeat {
  readonly beat: Beat;
  readonly passes: readonly KeptPass[];
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

/** What was left, as it is now; undefined where it can't be read, as a text in local storage may be anybody's. */
export async function readLeft(id: string, left: LeftBeat | LeftBeat1): Promise<LeftBeat | undefined> {
  try {
    const now = left.version === 2 ? left : upgradeLeft(left);
    const { changedAt, beat, passes } = now;
    await checkBeatRecord({ id, changedAt, beat });
    await checkJournal({ beatId: id, writtenAt: changedAt, passes: JSON.stringify(passes) });
    return now;
  } catch {
    return undefined;
  }
}

function upgradeLeft({ beat, passes, ...left }: LeftBeat1): LeftBeat {
  return { ...left, version: 2, beat: upgradeBeat(beat), passes: passes.map(upgradeKeptPass) };
}
