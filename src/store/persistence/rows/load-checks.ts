import type * as RowChecks from "./row-checks";
import { wordsOf } from "../../words-of";

/** A part of the program that checks what is read could not be had: nothing is known of what is on disk. */
export class NotCheckedError extends Error {
  override readonly name = "NotCheckedError";
}

export type Checks = typeof RowChecks;

/**
 * Fetches the checks with the first row, so that nobody waits for them to see the page. After a failure the next call tries again.
 * @throws NotCheckedError; whoever gets it leaves what is on disk alone
 */
export async function loadChecks(): Promise<Checks> {
  try {
    return await import("./row-checks");
  } catch (cause) {
    throw new NotCheckedError("A part of the app that reads what is kept could not be loaded.", { cause });
  }
}

/** Like `loadChecks`, but undefined where they could not be had. */
export async function checksOrNone(): Promise<Checks | undefined> {
  try {
    return await loadChecks();
  } catch (error) {
    if (error instanceof NotCheckedError) return undefined;
    throw error;
  }
}

/** Rows that were checked. */
export interface CheckedRows<T> {
  readonly good: readonly T[];
  readonly unreadable: readonly UnreadableRow[];
}

export interface UnreadableRow {
  readonly row: unknown;
  readonly problem: string;
}

/** Takes the rows that can be read apart from those that can't. @param read throws where one can't */
export function checkRows<T>(rows: readonly unknown[], read: (row: unknown) => T): CheckedRows<T> {
  const good: T[] = [];
  const unreadable: UnreadableRow[] = [];
  for (const row of rows) {
    try {
      good.push(read(row));
    } catch (error) {
      unreadable.push({ row, problem: wordsOf(error) });
    }
  }
  return { good, unreadable };
}
