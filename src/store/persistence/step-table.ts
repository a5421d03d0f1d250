import type { Beat } from "@/core/beat/beat";
import { startHistory, type History, type HistoryStep } from "@/core/beat/history";
import type { BeatRecord, EchoPocketDatabase, StepRecord } from "./database";
import { isKeptStep, type HistoryChanges } from "./step-log";

/** The steps of a beat whose numbers lie between two, both included. */
const stepsOf = ({ steps }: EchoPocketDatabase, beatId: string, from = -Infinity, to = Infinity) =>
  steps.where("[beatId+number]").between([beatId, from], [beatId, to], true, true);

/** Within a transaction: makes what is kept of a beat's history what it is now; without changes nothing is. */
export async function writeSteps(
  database: EchoPocketDatabase,
  beatId: string,
  changes: HistoryChanges | undefined,
): Promise<void> {
  if (!changes) return removeSteps(database, beatId);
  const { first, last, gone, steps } = changes;
  await stepsOf(database, beatId, -Infinity, first - 1).delete();
  await stepsOf(database, beatId, last + 1).delete();
  await database.steps.bulkDelete(gone.map((number) => [beatId, number]));
  await database.steps.bulkPut(steps.map((step) => ({ ...step, beatId })));
}

/** Within a transaction. */
export function readSteps(database: EchoPocketDatabase, beatId: string): PromiseLike<StepRecord[]> {
  return stepsOf(database, beatId).toArray();
}

/** Within a transaction. */
export async function removeSteps(database: EchoPocketDatabase, beatId: string): Promise<void> {
  await stepsOf(database, beatId).delete();
}

/**
 * The history of a beat that was read, as far as it was kept with it.
 * @param restore makes a beat of another one by what was kept; throws where that is not possible
 */
export function keptHistory(
  beat: Beat,
  { step: made }: BeatRecord,
  records: readonly StepRecord[],
  restore: (beside: Beat, delta: string) => Beat,
): History<Beat> {
  if (made === undefined || !records.every(isKeptStep)) return startHistory(beat);
  const stepOf = ({ number, label, atMs, back, forth }: StepRecord): HistoryStep<Beat> => {
    const delta = number <= made ? back : forth;
    return { number, label, atMs, document: (beside) => restore(beside, delta) };
  };
  const steps = records.toSorted((a, b) => a.number - b.number).map(stepOf);
  const past = steps.filter(({ number }) => number <= made);
  return { past, present: beat, future: steps.filter(({ number }) => number > made) };
}
