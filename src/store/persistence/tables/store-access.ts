import type { RowStore, Rows } from "../rows/row-store";
import type { TableName } from "../rows/rows";

/** Why nothing is kept: the page says it and goes on in memory. */
export type MemoryReason = "missing" | "full" | "slow" | "failed";

export interface AccessLimits {
  /** The store is given up for the time being when it has not opened after so long; without it, it is waited for. */
  readonly openMs?: number;
  /** How long after a failure the store is tried again, at the most; soon at first, then less and less often. */
  readonly retryMs: number;
  /** What is being closed is waited for no longer than this, as its store may not answer; without it, until it is closed. */
  readonly closingMs?: number;
}

export const USUAL_LIMITS: AccessLimits = { openMs: 5000, retryMs: 5000, closingMs: 3000 };

const FIRST_RETRY_MS = 250;

/** Opening takes longer than anybody waits; it goes on meanwhile. */
class StoreSlowError extends Error {
  override readonly name = "StoreSlowError";
}

/**
 * The way to the browser's store. No call throws: where the store is missing, full, slow or broken, what was asked for
 * gives way to something else, `memoryReason` says why, and the store is tried again until it answers.
 */
export class StoreAccess {
  private readonly listeners = new Set<() => void>();
  private readonly retried = new Set<() => Promise<void>>();
  private reason: MemoryReason | undefined;
  private opening: Promise<void> | undefined;
  private late = false;
  private nextRetryMs = FIRST_RETRY_MS;
  private timer: ReturnType<typeof setTimeout> | undefined;
  private closed = false;

  constructor(
    readonly store: RowStore,
    private readonly limits: AccessLimits,
  ) {}

  get memoryReason(): MemoryReason | undefined {
    return this.reason;
  }

  /** @returns the undo of the subscription; the listener hears when `memoryReason` changes */
  onMemoryReason(listener: () => void): () => void {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  }

  /** What is to be done when the store is tried again; it throws when it can't be done yet. */
  onRetry(work: () => Promise<void>): void {
    this.retried.add(work);
  }

  /** @returns what `work` reads, or `otherwise` when the store fails */
  read<N extends TableName, T, O>(
    tables: readonly N[],
    work: (rows: Rows<N>) => Promise<T>,
    otherwise: O,
  ): Promise<T | O> {
    return this.attempt(() => this.store.read(tables, work), otherwise);
  }

  /** Changes tables; when the store fails, nothing changes. */
  change<N extends TableName, T, O>(
    tables: readonly N[],
    work: (rows: Rows<N>) => Promise<T>,
    otherwise: O,
  ): Promise<T | O> {
    return this.attempt(() => this.store.change(tables, work), otherwise);
  }

  /** For work that handles some failures of the store itself. */
  async attempt<T, O>(work: () => Promise<T>, otherwise: O): Promise<T | O> {
    try {
      await this.opened();
      return await work();
    } catch (error) {
      this.fail(error);
      return otherwise;
    }
  }

  /** Tries the store again now. */
  async retry(): Promise<void> {
    clearTimeout(this.timer);
    this.timer = undefined;
    try {
      await this.opened();
      for (const work of this.retried) await work();
      // Reading goes on in a full store; only writing tells.
      await this.store.change(["marks"], ({ marks }) => marks.put({ key: "room" }));
      this.nextRetryMs = FIRST_RETRY_MS;
      this.setReason(undefined);
    } catch (error) {
      this.fail(error);
    }
  }

  close(): void {
    this.closed = true;
    clearTimeout(this.timer);
  }

  private async opened(): Promise<void> {
    if (this.store.isOpen) return;
    this.opening ??= this.open();
    // Who is told by the time limit need not hear of it twice.
    this.opening.catch(() => undefined);
    if (this.late) throw new StoreSlowError();
    const { openMs } = this.limits;
    if (openMs === undefined) return this.opening;
    let timer: ReturnType<typeof setTimeout> | undefined;
    const tooLate = new Promise<never>((_, reject) => {
      timer = setTimeout(() => {
        this.late = true;
        reject(new StoreSlowError());
      }, openMs);
    });
    try {
      await Promise.race([this.opening, tooLate]);
    } finally {
      clearTimeout(timer);
    }
  }

  private async open(): Promise<void> {
    try {
      await this.store.open();
    } finally {
      this.opening = undefined;
      const wasLate = this.late;
      this.late = false;
      if (wasLate && !this.closed) void this.retry();
    }
  }

  private fail(error: unknown): void {
    const reason = reasonOf(error);
    this.setReason(reason);
    if (reason === "missing" || this.closed || this.timer !== undefined) return;
    this.timer = setTimeout(() => void this.retry(), Math.min(this.nextRetryMs, this.limits.retryMs));
    this.nextRetryMs *= 2;
  }

  private setReason(reason: MemoryReason | undefined): void {
    if (reason === this.reason) return;
    this.reason = reason;
    this.listeners.forEach((listener) => listener());
  }
}

/** True where the browser has no room. */
export function isFull(error: unknown): boolean {
  return errorNames(error).includes("QuotaExceededError");
}

/** Dexie wraps the browser's errors, and keeps the inner one. */
function errorNames(error: unknown): readonly (string | undefined)[] {
  return [(error as Error)?.name, (error as { inner?: Error })?.inner?.name];
}

function reasonOf(error: unknown): MemoryReason {
  if (isFull(error)) return "full";
  const names = errorNames(error);
  if (names.includes("MissingAPIError")) return "missing";
  return names.includes("StoreSlowError") ? "slow" : "failed";
}
