import { forgottenCount, type LookbackHit } from "@/core/recover/echo";
import { checkRows, loadChecks, type Checks } from "../rows/load-checks";
import type { Rows } from "../rows/row-store";
import type { EchoMarkRecord, LookbackRecord } from "../rows/rows";
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

  constructor(
    private readonly access: StoreAccess,
    private readonly now: () => number,
    storage: Storage | undefined,
  ) {
    this.backups = new UnloadBackup(storage, "unsaved playing ");
  }

  /**
   * Everything that can be read; what can't is put aside as it is.
   * @throws NotCheckedError, where all stays as it is
   */
  async read(): Promise<readonly LookbackHit[]> {
    const checks = await loadChecks();
    const rows = await this.access.read(["lookback"], ({ lookback }) => lookback.list(), []);
    const { good, unreadable } = checkRows(rows, checks.readLookbackRow);
    for (const { row, problem } of unreadable) await this.putAside(row as LookbackRecord, problem);
    const kept = good.flat();
    return [...kept, ...(await this.takeOverBackups(kept, checks))];
  }

  /** Sees to it at once that the next page finds what may not be kept yet. @param hits at least one */
  leave(hits: readonly LookbackHit[]): void {
    this.backups.leave(String(hits[0]!.timeMs), hits);
  }

  /** @param hits at least one */
  add(hits: readonly LookbackHit[]): Promise<Kept> {
    return this.inTurn(() =>
      this.access.attempt<Kept, "lost">(async () => {
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
    for (const id of this.backups.ids()) this.backups.drop(id);
    await this.inTurn(async () => {
      this.open = undefined;
      const clear = async ({ lookback, echoMarks }: Rows<"lookback" | "echoMarks">) =>
        void (await Promise.all([lookback.clear(), echoMarks.clear()]));
      await this.access.change(["lookback", "echoMarks"], clear, undefined);
    });
  }

  /** @throws NotCheckedError */
  async readMarks(): Promise<readonly EchoMarkRecord[]> {
    const { checkEchoMarkRow } = await loadChecks();
    const rows = await this.access.read(["echoMarks"], ({ echoMarks }) => echoMarks.list(), []);
    return checkRows(rows, checkEchoMarkRow).good;
  }

  async mark(mark: EchoMarkRecord): Promise<void> {
    await this.access.change(["echoMarks"], ({ echoMarks }) => echoMarks.put(mark), undefined);
  }

  async unmark({ id, kind }: EchoMarkRecord): Promise<void> {
    await this.access.change(["echoMarks"], ({ echoMarks }) => echoMarks.delete([id, kind]), undefined);
  }

  private inTurn<T>(work: () => Promise<T>): Promise<T> {
    const turn = this.last.then(work);
    this.last = turn.catch(() => undefined);
    return turn;
  }

  private async putAside(record: LookbackRecord, problem: string): Promise<void> {
    const move = async ({ lookback, damaged }: Rows<"lookback" | "damaged">) => {
      await damaged.add({ table: "lookback", problem, record });
      await lookback.delete(record.id);
    };
    await this.access.change(["lookback", "damaged"], move, undefined);
  }

  private async takeOverBackups(
    kept: readonly LookbackHit[],
    { readLookbackRow }: Checks,
  ): Promise<readonly LookbackHit[]> {
    // The store may have got some of it after all.
    const known = new Set(kept.map(({ timeMs, pad }) => `${timeMs} ${pad}`));
    const found: LookbackHit[] = [];
    for (const id of this.backups.ids()) {
      // A text in local storage may be anybody's.
      const left = checkRows([{ hits: JSON.stringify(this.backups.read(id) ?? []) }], readLookbackRow).good.flat();
      const fresh = left.filter(({ timeMs, pad }) => !known.has(`${timeMs} ${pad}`));
      for (const hit of fresh) found.push(hit);
      if (fresh.length === 0 || (await this.add(fresh)) !== "lost") this.backups.drop(id);
    }
    return found;
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
    const goesOn = this.open && this.open.hits.length + hits.length <= CHUNK_HITS ? this.open : undefined;
    const all = goesOn ? [...goesOn.hits, ...hits] : hits;
    const id = await this.access.store.change(["lookback"], async ({ lookback }) => {
      if (makeRoom) await forgetOldest(lookback, goesOn?.id);
      // Another tab may have made it forget all.
      if (!goesOn || (await lookback.get(goesOn.id)) === undefined) return lookback.add(chunkOf(goesOn ? hits : all));
      await lookback.put({ id: goesOn.id, ...chunkOf(all) });
      return goesOn.id;
    });
    this.open = { id, hits: id === goesOn?.id ? all : hits };
  }

  private async trim(): Promise<void> {
    await this.access.store.change(["lookback"], async ({ lookback }) => {
      const chunks: Pick<LookbackRecord, "id" | "count" | "lastMs">[] = [];
      await lookback.each((row, id) => {
        const { count, lastMs } = (row ?? {}) as Partial<LookbackRecord>;
        // What can't be read is put aside when it is read, and counts for nothing here.
        const readable = Number.isInteger(count) && count! <= CHUNK_HITS * CHUNK_HITS && Number.isFinite(lastMs);
        if (readable) chunks.push({ id, count: count!, lastMs: lastMs! });
        return true;
      });
      const forgotten = forgottenCount(
        chunks.flatMap(({ count, lastMs }) => new Array<number>(count).fill(lastMs)),
        this.now(),
      );
      let before = 0;
      const whole = chunks.filter(({ count }) => (before += count) <= forgotten);
      await lookback.delete(...whole.map(({ id }) => id));
    });
  }
}

async function forgetOldest(lookback: Rows<"lookback">["lookback"], exceptId: number | undefined): Promise<void> {
  const ids = await lookback.keys();
  const oldest = ids.slice(0, Math.ceil(ids.length * ROOM_SHARE));
  await lookback.delete(...oldest.filter((id) => id !== exceptId));
}
