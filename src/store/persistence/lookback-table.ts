import { forgottenCount, type LookbackHit } from "@/core/recover/echo";
import { checkLookback, problemOf } from "./check-record";
import type { EchoMarkRecord, EchoPocketDatabase, LookbackRecord } from "./database";
import { isFull, type StoreAccess } from "./store-access";
import { UnloadBackup } from "./unload-backup";

/** Chunks are counted so often: a walk over all of them is not for every second. */
const TRIM_EVERY_CHUNKS = 60;
/** Strokes are added to the newest chunk of this page until it holds so many. */
const CHUNK_HITS = 100;
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
export class LookbackTable {
  private added = 0;
  /** One thing after the other: each goes on with the chunk of the one before. */
  private last: Promise<unknown> = Promise.resolve();
  /** The chunk that this page goes on with. */
  private open: { readonly id: number; readonly hits: readonly LookbackHit[] } | undefined;
  /** Room was made in vain: nothing more is forgotten for nothing. */
  private noRoom = false;
  private readonly backups: UnloadBackup<readonly LookbackHit[]>;
  private readonly database: EchoPocketDatabase;

  constructor(
    private readonly access: StoreAccess,
    private readonly now: () => number,
    storage: Storage | undefined,
  ) {
    this.database = access.database;
    this.backups = new UnloadBackup(storage, "unsaved playing ");
  }

  /** Everything that can be read; what can't is put aside as it is. */
  async read(): Promise<readonly LookbackHit[]> {
    const chunks = await this.access.attempt(() => this.database.lookback.orderBy("id").toArray(), []);
    const kept: LookbackHit[] = [];
    for (const chunk of chunks) {
      try {
        for (const hit of await checkLookback(chunk)) kept.push(hit);
      } catch (error) {
        await this.putAside(chunk, problemOf(error));
      }
    }
    return [...kept, ...(await this.takeOverBackups(kept))];
  }

  /** Sees to it at once that the next page finds what may not be kept yet. @param hits at least one */
  leave(hits: readonly LookbackHit[]): void {
    this.backups.leave(String(hits[0]!.timeMs), hits);
  }

  /** @param hits at least one */
  add(hits: readonly LookbackHit[]): Promise<Kept> {
    return this.inTurn<Kept>(() =>
      this.access.attempt(async () => {
        const kept = await this.put(hits);
        if (++this.added % TRIM_EVERY_CHUNKS === 0) await this.trim();
        return kept;
      }, "lost"),
    );
  }

  /** What was given to be added is there, or can't be. */
  async settled(): Promise<void> {
    await this.last;
  }

  /** Forgets everything, for good. */
  async clear(): Promise<void> {
    const { lookback, echoMarks } = this.database;
    for (const id of this.backups.ids()) this.backups.drop(id);
    await this.inTurn(async () => {
      this.open = undefined;
      await this.access.attempt(() => Promise.all([lookback.clear(), echoMarks.clear()]), undefined);
    });
  }

  async readMarks(): Promise<readonly EchoMarkRecord[]> {
    return this.access.attempt(() => this.database.echoMarks.toArray(), []);
  }

  async mark(mark: EchoMarkRecord): Promise<void> {
    await this.access.attempt(() => this.database.echoMarks.put(mark), undefined);
  }

  async unmark({ id, kind }: EchoMarkRecord): Promise<void> {
    await this.access.attempt(() => this.database.echoMarks.delete([id, kind]), undefined);
  }

  private inTurn<T>(work: () => Promise<T>): Promise<T> {
    const turn = this.last.then(work);
    this.last = turn.catch(() => undefined);
    return turn;
  }

  private async putAside(record: LookbackRecord, problem: string): Promise<void> {
    const { lookback, damaged } = this.database;
    await this.access.attempt(
      () =>
        this.database.transaction("rw", lookback, damaged, async () => {
          await damaged.add({ table: "lookback", problem, record });
          await lookback.delete(record.id);
        }),
      undefined,
    );
  }

  private async takeOverBackups(kept: readonly LookbackHit[]): Promise<readonly LookbackHit[]> {
    // The store may have got some of it after all.
    const known = new Set(kept.map(({ timeMs, pad }) => `${timeMs} ${pad}`));
    const found: LookbackHit[] = [];
    for (const id of this.backups.ids()) {
      const left = await this.readBackup(id);
      const fresh = left.filter(({ timeMs, pad }) => !known.has(`${timeMs} ${pad}`));
      for (const hit of fresh) found.push(hit);
      if (fresh.length === 0 || (await this.add(fresh)) !== "lost") this.backups.drop(id);
    }
    return found;
  }

  /** A text in local storage may be anybody's. */
  private async readBackup(id: string): Promise<readonly LookbackHit[]> {
    const left = this.backups.read(id) ?? [];
    try {
      return await checkLookback({ id: 0, count: 0, lastMs: 0, hits: JSON.stringify(left) });
    } catch {
      return [];
    }
  }

  private async put(hits: readonly LookbackHit[]): Promise<Kept> {
    try {
      await this.write(hits, false);
      this.noRoom = false;
      return "kept";
    } catch (error) {
      if (!isFull(error)) throw error;
      if (this.noRoom) return "lost";
    }
    try {
      await this.write(hits, true);
      return "room made";
    } catch (error) {
      if (!isFull(error)) throw error;
      this.noRoom = true;
      return "lost";
    }
  }

  /** In one transaction: where there is no room after all, nothing was forgotten. @param makeRoom forgets the oldest first */
  private async write(hits: readonly LookbackHit[], makeRoom: boolean): Promise<void> {
    const { lookback } = this.database;
    const goesOn = this.open && this.open.hits.length + hits.length <= CHUNK_HITS ? this.open : undefined;
    const all = goesOn ? [...goesOn.hits, ...hits] : hits;
    const id = await this.database.transaction("rw", lookback, async () => {
      if (makeRoom) await this.forgetOldest(goesOn?.id);
      if (!goesOn) return lookback.add(chunkOf(all));
      // Another tab may have made it forget all.
      return (await lookback.get(goesOn.id))
        ? lookback.put({ id: goesOn.id, ...chunkOf(all) })
        : lookback.add(chunkOf(hits));
    });
    this.open = { id, hits: id === goesOn?.id ? all : hits };
  }

  private async forgetOldest(exceptId: number | undefined): Promise<void> {
    const { lookback } = this.database;
    const chunks = await lookback.count();
    const oldest = await lookback
      .orderBy("id")
      .limit(Math.ceil(chunks * ROOM_SHARE))
      .primaryKeys();
    await lookback.bulkDelete(oldest.filter((id) => id !== exceptId));
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
