/** A flood of changes reaches the audio thread at most so often, and never takes more than a quarter of the page's time. */
const TABLE_INTERVAL_MS = 40;
const TABLE_SHARE = 4;

/** When event tables are due: at once, a moment after the last ones, or later where nobody could hear it sooner. */
export class TableThrottle {
  private timer: ReturnType<typeof setTimeout> | undefined;
  private dueMs = 0;
  /** The next ones at the earliest. */
  private nextMs = 0;

  /** @param send compiles and sends what has changed */
  constructor(private readonly send: () => void) {}

  /** @param patienceMs so long it may wait */
  ask(patienceMs: number): void {
    const nowMs = performance.now();
    const dueMs = Math.max(this.nextMs, nowMs + patienceMs);
    if (this.timer !== undefined && this.dueMs <= dueMs) return;
    this.drop();
    if (dueMs <= nowMs) return this.send();
    this.dueMs = dueMs;
    this.timer = setTimeout(() => this.send(), dueMs - nowMs);
  }

  /** What is asked for is sent now. */
  flush(): void {
    if (this.timer !== undefined) this.send();
  }

  drop(): void {
    clearTimeout(this.timer);
    this.timer = undefined;
  }

  /** They were sent, which took from a moment on until now. */
  sent(startMs: number): void {
    const nowMs = performance.now();
    this.nextMs = nowMs + Math.max(TABLE_INTERVAL_MS, TABLE_SHARE * (nowMs - startMs));
  }
}
