import type { Beat } from "@/core/beat/beat";
import { startHistory, type History, type HistoryStep } from "@/core/beat/history";
import { checkRows } from "../rows/load-checks";
import type { Rows } from "../rows/row-store";
import type { BeatRecord, StepRecord } from "../rows/rows";
import type { HistoryChanges } from "../rows/step-log";

type StepTable = Rows<"steps">;

/** The steps of a beat whose numbers lie between two, both included. */
const stepsOf = (beatId: string, from = -Infinity, to = Infinity) => ({
  from: [beatId, from] as const,
  to: [beatId, to] as const,
});

/** Within a transaction: makes what is kept of a beat's history what it is now; without changes nothing is. */
export async function writeSteps(rows: StepTable, beatId: string, changes: HistoryChanges | undefined): Promise<void> {
  if (!changes) return removeSteps(rows, beatId);
  const { first, last, gone, steps } = changes;
  await rows.steps.deleteWhere(stepsOf(beatId, -Infinity, first - 1));
  await rows.steps.deleteWhere(stepsOf(beatId, last + 1));
  await rows.steps.delete(...gone.map((number) => [beatId, number] as const));
  await rows.steps.put(...steps.map((step) => ({ ...step, beatId })));
}

/** Within a transaction. */
export function readSteps(rows: StepTable, beatId: string): Promise<readonly unknown[]> {
  return rows.steps.list(stepsOf(beatId));
}

/** Within a transaction. */
export async function removeSteps(rows: StepTable, beatId: string): Promise<void> {
  await rows.steps.deleteWhere(stepsOf(beatId));
}

/**
 * The history of a beat that was read, as far as it was kept with it.
 * @param check of a row; throws where it can't be read, and with it none
 * @param restore makes a beat of another one by what was kept; throws where that is not possible
 */
export function keptHistory(
  beat: Beat,
  { step: made }: BeatRecord,
  rows: readonly unknown[],
  check: (row: unknown) => StepRecord,
  restore: (beside: Beat, delta: string) => Beat,
): History<Beat> {
  const { good: records, unreadable } = checkRows(rows, check);
  if (made === undefined || unreadable.length > 0) return startHistory(beat);
  const stepOf = ({ number, label, atMs, back, forth }: StepRecord): HistoryStep<Beat> => {
    const delta = number <= made ? back : forth;
    return { number, label, atMs, document: (beside) => restore(beside, delta) };
  };
  const steps = records.toSorted((a, b) => a.number - b.number).map(stepOf);
  const past = steps.filter(({ number }) => number <= made);
  return { past, present: beat, future: steps.filter(({ number }) => number > made) };
}
