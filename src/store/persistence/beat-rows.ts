import type { BeatRecord, EchoPocketDatabase, JournalRecord, KeptStateRecord, StepRecord } from "./database";
import { readSteps, removeSteps } from "./step-table";

/** All that is kept of a beat. */
export interface BeatRows {
  readonly record: BeatRecord | undefined;
  readonly journalled: JournalRecord | undefined;
  readonly steps: readonly StepRecord[];
  readonly states: readonly KeptStateRecord[];
}

/** Does something in one transaction over all that is kept of a beat, and who edits it. */
export function overRows<T>(database: EchoPocketDatabase, work: () => Promise<T>): PromiseLike<T> {
  const { beats, journal, editors, steps, keptStates } = database;
  return database.transaction("rw", [beats, journal, editors, steps, keptStates], work);
}

const statesOf = ({ keptStates }: EchoPocketDatabase, id: string) => keptStates.where("beatId").equals(id);

/** Within a transaction: takes all of it away. @returns what it was */
export async function removeRows(database: EchoPocketDatabase, id: string): Promise<BeatRows> {
  const { beats, journal } = database;
  const [record, journalled, steps, states] = await Promise.all([
    beats.get(id),
    journal.get(id),
    readSteps(database, id),
    statesOf(database, id).toArray(),
  ]);
  await Promise.all([beats.delete(id), journal.delete(id), removeSteps(database, id), statesOf(database, id).delete()]);
  return { record, journalled, steps, states };
}

/** Within a transaction. */
export async function putRows(
  { beats, journal, steps: stepTable, keptStates }: EchoPocketDatabase,
  { record, journalled, steps, states }: BeatRows,
): Promise<void> {
  await Promise.all([
    record && beats.put(record),
    journalled && journal.put(journalled),
    stepTable.bulkPut([...steps]),
    keptStates.bulkPut([...states]),
  ]);
}
