import { forgottenCount, type LookbackHit } from "@/core/recover/echo";
import type { EchoMarkRecord, EchoPocketDatabase, LookbackRecord } from "./database";
import { LastWill } from "./last-will";

/** Chunks are counted so often: a walk over all of them is not for every second. */
const TRIM_EVERY_CHUNKS = 60;
/** Where there is no room, so much of the oldest goes at once. */
const ROOM_SHARE = 0.25;

/** `room made`: the oldest had to go for it. */
export type Kept = "kept" | "room made" | "lost";

type Chunk = Omit<LookbackRecord, "id">;

/** Strokes as they are kept. @param hits at least one */
export function chunkOf(hits: readonly LookbackHit[]): Chunk {
  return { count: hits.length, lastMs: hits.at(-1)!.timeMs, hits: JSON.stringify(hits) };
}

/** Keeps all that is played in chunks, the oldest first, and what the player did with its phrases. */
export class LookbackStore {
  private added = 0;
  private readonly wills: LastWill<readonly LookbackHit[]>;

  constructor(
    private readonly database: EchoPocketDatabase,
    private readonly attempt: <T>(work: () => PromiseLike<T>, otherwise: T) => Promise<T>,
    private readonly now: () => number,
    storage: Storage | undefined,
  ) {
    this.wills = new LastWill(storage, "unsaved playing ");
  }

  async read(): Promise<readonly LookbackHit[]> {
    const chunks = await this.attempt(() => this.database.lookback.orderBy("id").toArray(), []);
    const kept = chunks.flatMap(({ hits }) => JSON.parse(hits) as readonly LookbackHit[]);
    return [...kept, ...(await this.takeOverWills(kept))];
  }

  /** Sees to it at once that the next page finds what may not be kept yet. @param hits at least one */
  leave(hits: readonly LookbackHit[]): void {
    this.wills.leave(String(hits[0].timeMs), hits);
  }

  /** @param hits at least one */
  async add(hits: readonly LookbackHit[]): Promise<Kept> {
    return this.attempt(async () => {
      const kept = await this.put(chunkOf(hits));
      if (++this.added % TRIM_EVERY_CHUNKS === 0) await this.trim();
      return kept;
    }, "lost");
  }

  /** Forgets everything, for good. */
  async clear(): Promise<void> {
    const { lookback, echoMarks } = this.database;
    for (const id of this.wills.ids()) this.wills.drop(id);
    await this.attempt(() => Promise.all([lookback.clear(), echoMarks.clear()]), undefined);
  }

  async readMarks(): Promise<readonly EchoMarkRecord[]> {
    return this.attempt(() => this.database.echoMarks.toArray(), []);
  }

  async mark(mark: EchoMarkRecord): Promise<void> {
    await this.attempt(() => this.database.echoMarks.put(mark), undefined);
  }

  async unmark({ id, kind }: EchoMarkRecord): Promise<void> {
    await this.attempt(() => this.database.echoMarks.delete([id, kind]), undefined);
  }

  private async takeOverWills(kept: readonly LookbackHit[]): Promise<readonly LookbackHit[]> {
    // The store may have got some of it after all.
    const known = new Set(kept.map(({ timeMs, pad }) => `${timeMs} ${pad}`));
    const found: LookbackHit[] = [];
    for (const id of this.wills.ids()) {
      const fresh = (this.wills.read(id) ?? []).filter(({ timeMs, pad }) => !known.has(`${timeMs} ${pad}`));
      found.push(...fresh);
      if (fresh.length === 0 || (await this.add(fresh)) !== "lost") this.wills.drop(id);
    }
    return found;
  }

  private async put(chunk: Chunk): Promise<Kept> {
    const { lookback } = this.database;
    try {
      await lookback.add(chunk);
      return "kept";
    } catch (error) {
      if (!isFull(error)) throw error;
      const chunks = await lookback.count();
      const oldest = await lookback
        .orderBy("id")
        .limit(Math.ceil(chunks * ROOM_SHARE))
        .primaryKeys();
      await lookback.bulkDelete(oldest);
      await lookback.add(chunk);
      return "room made";
    }
  }

  private async trim(): Promise<void> {
    const chunks: { readonly id: number; readonly count: number; readonly lastMs: number }[] = [];
    await this.database.lookback.orderBy("id").each(({ id, count, lastMs }) => chunks.push({ id, count, lastMs }));
    const forgotten = forgottenCount(
      chunks.flatMap(({ count, lastMs }) => new Array<number>(count).fill(lastMs)),
      this.now(),
    );
    let before = 0;
    const whole = chunks.filter(({ count }) => (before += count) <= forgotten);
    await this.database.lookback.bulkDelete(whole.map(({ id }) => id));
  }
}

/** Dexie wraps the browser's errors, and keeps the inner one. */
export function errorNames(error: unknown): readonly (string | undefined)[] {
  return [(error as Error)?.name, (error as { inner?: Error })?.inner?.name];
}

/** True where the browser has no room. */
export function isFull(error: unknown): boolean {
  return errorNames(error).includes("QuotaExceededError");
}
