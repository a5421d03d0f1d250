import type { Beat } from "@/core/beat/beat";
import type { KeptPass } from "@/core/beat/kept-pass";
import type { LookbackHit } from "@/core/recover/echo";
import type { BeatRecord, JournalRecord, LookbackRecord } from "./database";

/** What is wrong with a record, in words. */
export class DamagedError extends Error {
  override readonly name = "DamagedError";
}

/** What is checked is loaded with the first record: nobody waits for it to see the page. */
const load = () => import("@/core/formats/stored-records");

/** @throws DamagedError, CoreError with what is wrong and where */
export async function checkBeatRecord(record: BeatRecord): Promise<Beat> {
  const { checkBeat } = await load();
  const beat = checkBeat(record.beat);
  if (beat.id !== record.id) throw new DamagedError("it is kept under another beat's name");
  if (!Number.isFinite(record.changedAt)) throw new DamagedError("it does not say when it was changed");
  return beat;
}

/** Makes a beat of the one that is next to it in its history. @throws CoreError where that is not possible */
export async function loadRestore(): Promise<(beside: Beat, delta: string) => Beat> {
  return (await load()).restoreBeat;
}

/** @throws CoreError with what is wrong and where */
export async function checkJournal({ passes }: JournalRecord): Promise<readonly KeptPass[]> {
  return (await load()).readKeptPasses(passes);
}

/** @throws CoreError with what is wrong and where */
export async function checkLookback({ hits }: LookbackRecord): Promise<readonly LookbackHit[]> {
  return (await load()).readLookbackHits(hits);
}

export function problemOf(error: unknown): string {
  return error instanceof Error ? error.message : String(error);
}
