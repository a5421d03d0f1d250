import { readHits, removeHits } from "../rows/apart-hits";
import type { Rows } from "../rows/row-store";
import type { BeatRecord, HitsRecord, JournalRecord, KeptStateRecord, StepRecord } from "../rows/rows";
import { readSteps, removeSteps } from "./step-table";

/** The tables that have something of a beat, and who edits it. */
export const BEAT_TABLES = ["beats", "hits", "journal", "editors", "steps", "keptStates"] as const;
export type BeatTables = Rows<(typeof BEAT_TABLES)[number]>;

/** All that is kept of a beat, as it is: it may be anything, and comes back as it was. */
export interface BeatRows {
  readonly record: BeatRecord | undefined;
  readonly hits: readonly HitsRecord[];
  readonly journalled: JournalRecord | undefined;
  readonly steps: readonly StepRecord[];
  readonly states: readonly KeptStateRecord[];
}

/** Rows as they are on disk: they may be anything. */
export interface NewestBeats {
  readonly stored: readonly { readonly row: unknown; readonly hits: readonly HitsRecord[] }[];
  readonly hasMore: boolean;
}

/** Within a transaction: so many of the newest beats; all of them where the time of one is missing, as it may be of any age. */
export async function readNewest(rows: Rows<"beats" | "hits">, most: number): Promise<NewestBeats> {
  const [all, timed, keysOfHits] = await Promise.all([
    rows.beats.count(),
    rows.beats.count("changedAt"),
    rows.hits.keys(),
  ]);
  const hasMore = most < all && timed === all;
  const found = await (hasMore ? rows.beats.highest("changedAt", most) : rows.beats.list());
  const withHits = new Set(keysOfHits.map(([beatId]) => beatId));
  const withTheirs = async (row: unknown) => {
    const { id } = row as BeatRecord;
    return { row, hits: withHits.has(id) ? await readHits(rows, id) : [] };
  };
  return { stored: await Promise.all(found.map(withTheirs)), hasMore };
}

/** Within a transaction: takes all of it away. @returns what it was */
export async function removeRows(rows: BeatTables, id: string): Promise<BeatRows> {
  const ofBeat = { index: "beatId", value: id };
  const [record, hits, journalled, steps, states] = await Promise.all([
    rows.beats.get(id),
    readHits(rows, id),
    rows.journal.get(id),
    readSteps(rows, id),
    rows.keptStates.list(ofBeat),
  ]);
  await Promise.all([
    rows.beats.delete(id),
    removeHits(rows, id),
    rows.journal.delete(id),
    removeSteps(rows, id),
    rows.keptStates.deleteWhere(ofBeat),
  ]);
  return { record, hits, journalled, steps, states } as BeatRows;
}

/** Within a transaction. */
export async function putRows(rows: BeatTables, { record, hits, journalled, steps, states }: BeatRows): Promise<void> {
  await Promise.all([
    record && rows.beats.put(record),
    rows.hits.put(...hits),
    journalled && rows.journal.put(journalled),
    rows.steps.put(...steps),
    rows.keptStates.put(...states),
  ]);
}
