import type { NewRow, RowKey, TableName, TableRows } from "./rows";

/** Which rows: those of an index with a value, or those whose keys lie between two, both included. */
export type Where<N extends TableName> =
  | { readonly index: string; readonly value: string }
  | { readonly from: RowKey<N>; readonly to: RowKey<N> };

/** A table within a transaction. What is read may be anything until it is checked. */
export interface RowTable<N extends TableName> {
  get(key: RowKey<N>): Promise<unknown>;
  /** In the order of their keys; all where nothing is said. */
  list(where?: Where<N>): Promise<readonly unknown[]>;
  /** Those with the highest values of an index, the highest first; rows without a value are not among them. */
  highest(index: string, count: number): Promise<readonly unknown[]>;
  /** Number of rows: of all, or of those that have a value in an index. */
  count(index?: string): Promise<number>;
  /** One after the other, so that they are never in memory all at once. @param visit ends it by returning false */
  each(visit: (row: unknown, key: RowKey<N>) => boolean): Promise<void>;
  keys(): Promise<readonly RowKey<N>[]>;
  /** The values of an index, in order. */
  indexKeys(index: string): Promise<readonly unknown[]>;
  /** Writes over rows with the same key. */
  put(...rows: readonly TableRows[N][]): Promise<void>;
  /** Fails, and the transaction with it, where the key is taken. @returns the row's key */
  add(row: NewRow<N>): Promise<RowKey<N>>;
  delete(...keys: readonly RowKey<N>[]): Promise<void>;
  deleteWhere(where: Where<N>): Promise<void>;
  clear(): Promise<void>;
}

/** The tables that a transaction was begun with. */
export type Rows<N extends TableName> = { readonly [Name in N]: RowTable<Name> };

/**
 * The promises of a browser's store. A transaction is all or nothing; nothing else is read or written between its parts, by no
 * other tab either. Whatever fails rejects with the browser's error, "QuotaExceededError" where there is no room.
 */
export interface RowStore {
  readonly isOpen: boolean;
  open(): Promise<void>;
  /** @param work waits for nothing but the tables' own answers */
  read<N extends TableName, T>(tables: readonly N[], work: (rows: Rows<N>) => Promise<T>): Promise<T>;
  change<N extends TableName, T>(tables: readonly N[], work: (rows: Rows<N>) => Promise<T>): Promise<T>;
}
