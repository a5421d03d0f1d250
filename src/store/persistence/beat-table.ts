import type { Beat } from "@/core/beat/beat";
import { startHistory } from "@/core/beat/history";
import { unsettled, type KeptPass } from "@/core/beat/kept-pass";
import { checkBeatRecord, checkJournal, loadRestore, problemOf } from "./check-record";
import { overRows, putRows, removeRows } from "./beat-rows";
import type { BeatRecord, EchoPocketDatabase, JournalRecord } from "./database";
import { isFull, type StoreAccess } from "./store-access";
import { renamed } from "./free-name";
import {
  readLeft,
  type BeatList,
  type DamagedBeat,
  type KeptBeat,
  type LeftBeat,
  type LeftBeat1,
  type LoadedBeat,
  type Saved,
} from "./kept-beat";
import { keptHistory, readSteps, writeSteps } from "./step-table";
import { UnloadBackup } from "./unload-backup";

/** What is not written yet. `added`: the store never had it. */
type Unwritten = WaitingBeat | { readonly kind: "removed" };

interface WaitingBeat {
  readonly kind: "kept" | "added";
  readonly kept: KeptBeat;
  readonly changedAt: number;
  readonly editor: string | undefined;
}

export interface BeatTableDeps {
  readonly access: StoreAccess;
  readonly now: () => number;
  readonly storage: Storage | undefined;
  readonly newId: () => string;
}

/**
 * The one door through which beats reach the disk. A beat and its journal are written in one transaction, so that together
 * they are always the beat as it was at one moment; what fails is kept in memory and written when the store answers again.
 */
export class BeatTable {
  private readonly unwritten = new Map<string, Unwritten>();
  /** Beats that are there only as long as the store does not answer. */
  private readonly lent = new Map<string, BeatRecord>();
  /** By editor, who the store said had the beat when this one claimed it. */
  private readonly claimedFrom = new Map<string, string | undefined>();
  private readonly backups: UnloadBackup<LeftBeat | LeftBeat1>;
  private readonly listeners = new Set<() => void>();
  private readonly database: EchoPocketDatabase;
  /** When each beat was last found to be sound. */
  private readonly checked = new Map<string, number>();

  constructor(private readonly deps: BeatTableDeps) {
    this.database = deps.access.database;
    this.backups = new UnloadBackup(deps.storage, "unsaved beat ");
    deps.access.onRetry(() => this.writeAll());
  }

  /** Something is only in memory. */
  get hasUnwritten(): boolean {
    return this.unwritten.size > 0;
  }

  isUnwritten(id: string): boolean {
    return this.unwritten.has(id);
  }

  /** @returns the undo of the subscription; the listener hears when what was only in memory is on disk */
  onWritten(listener: () => void): () => void {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  }

  async list(): Promise<BeatList> {
    for (const id of this.backups.ids()) await this.takeOverBackup(id);
    const stored = await this.deps.access.attempt(() => this.database.beats.toArray(), []);
    const records: BeatRecord[] = [];
    const damaged: DamagedBeat[] = [];
    for (const record of stored) {
      if (this.unwritten.has(record.id)) continue;
      const problem = await this.problemIn(record);
      if (problem === undefined) records.push(record);
      else damaged.push({ id: record.id, problem, record });
    }
    for (const [id, entry] of this.unwritten)
      if (entry.kind !== "removed") records.push({ id, changedAt: entry.changedAt, beat: entry.kept.beat });
    for (const record of this.lent.values()) if (!this.unwritten.has(record.id)) records.push(record);
    return { records: records.sort((a, b) => b.changedAt - a.changedAt), damaged };
  }

  async load(id: string): Promise<LoadedBeat> {
    await this.takeOverBackup(id);
    const entry = this.unwritten.get(id);
    const lent = this.lent.get(id);
    if (entry?.kind === "removed") return { status: "missing" };
    const inMemory = entry?.kept ?? (lent && { beat: lent.beat, passes: [] });
    if (inMemory) return { status: "found", ...inMemory, history: startHistory(inMemory.beat) };
    const { beats, journal, steps } = this.database;
    const stored = await this.deps.access.attempt(
      () =>
        this.database.transaction("r", beats, journal, steps, () =>
          Promise.all([beats.get(id), journal.get(id), readSteps(this.database, id)]),
        ),
      undefined,
    );
    if (!stored) return { status: "unanswered" };
    const [record, journalled, kept] = stored;
    if (!record) return { status: "missing" };
    try {
      const beat = await checkBeatRecord(record);
      const known = unsettled(beat, await this.readJournal(journalled));
      // What was kept is of the beat as it was written.
      const own = beat === record.beat ? kept : [];
      return { status: "found", ...known, history: keptHistory(known.beat, record, own, await loadRestore()) };
    } catch (error) {
      return { status: "damaged", id, problem: problemOf(error), record };
    }
  }

  /** Puts a new beat there. One whose id is taken gets another one, and a name that is free. @returns it as it is now */
  async add(beat: Beat, naming: "as it is" | "free" = "as it is"): Promise<Beat> {
    const changedAt = this.deps.now();
    const { beats } = this.database;
    const added = await this.deps.access.attempt(
      () =>
        this.database.transaction("rw", beats, async () => {
          const taken = this.unwritten.has(beat.id) || (await beats.where("id").equals(beat.id).count()) > 0;
          const names = taken || naming === "free" ? await beats.orderBy("beat.name").keys() : [];
          const id = taken ? this.deps.newId() : beat.id;
          const made = taken || naming === "free" ? renamed(beat, id, names as string[]) : beat;
          await beats.add({ id: made.id, changedAt, beat: made });
          return made;
        }),
      undefined,
    );
    if (added) return added;
    const names = [...this.unwritten.values()].flatMap((entry) =>
      entry.kind === "removed" ? [] : [entry.kept.beat.name],
    );
    // What the store has under its id is not known, so it gets one that nobody has.
    const id = this.deps.newId();
    const made = naming === "free" ? renamed(beat, id, names) : { ...beat, id };
    const kept = { beat: made, passes: [] };
    this.unwritten.set(made.id, { kind: "added", kept, changedAt, editor: undefined });
    return made;
  }

  /**
   * Says who edits a beat from now on; who says so holds its lock. What the editor before has left is taken over first, and
   * what this page could not write is the new editor's. Where the store does not take it, it is said with the next write.
   */
  async claim(id: string, editor: string): Promise<void> {
    await this.takeOverBackup(id);
    const entry = this.unwritten.get(id);
    if (entry && entry.kind !== "removed") this.unwritten.set(id, { ...entry, editor });
    const { editors } = this.database;
    const before = await this.deps.access.attempt(() => editors.get(id), undefined);
    this.claimedFrom.set(editor, before?.token);
    await this.deps.access.attempt(() => editors.put({ beatId: id, token: editor }), undefined);
  }

  /** Writes a beat, and as its journal just what it comes with. @param editor refused where another one has claimed it */
  async save(kept: KeptBeat, editor?: string): Promise<Saved> {
    const changedAt = this.deps.now();
    const { id } = kept.beat;
    const before = this.unwritten.get(id);
    const kind = this.lent.has(id) || before?.kind === "added" ? "added" : "kept";
    const waiting: WaitingBeat = { kind, kept, changedAt, editor };
    // Whoever tries the store again meanwhile must not write what is older.
    if (before) this.unwritten.set(id, waiting);
    const saved = await this.deps.access.attempt<Saved>(() => this.writeWhatFits(kept, changedAt, editor), "memory");
    const now = this.unwritten.get(id);
    if (saved !== "memory") {
      if (now === waiting) this.unwritten.delete(id);
    } else if (now === before || now === undefined) this.unwritten.set(id, waiting);
    return saved;
  }

  /** Writes only the journal, for between two saves. */
  async writeJournal(id: string, passes: readonly KeptPass[], editor?: string): Promise<void> {
    if (this.unwritten.has(id)) return;
    const { journal, editors } = this.database;
    const record = this.journalRecord(id, passes);
    await this.deps.access.attempt(
      () =>
        this.database.transaction("rw", journal, editors, async () => {
          if (await this.mayWrite(id, editor)) await journal.put(record);
        }),
      undefined,
    );
  }

  /** Reads a beat, changes it and writes it, in one transaction. @returns what it is now; undefined where it is not there */
  async change(id: string, edit: (beat: Beat) => Beat): Promise<Beat | undefined> {
    const entry = this.unwritten.get(id);
    const lent = this.lent.get(id);
    const kept = entry && entry.kind !== "removed" ? entry.kept : lent && { beat: lent.beat, passes: [] };
    if (kept) {
      const beat = edit(kept.beat);
      await this.save({ ...kept, beat });
      return beat;
    }
    const { beats } = this.database;
    const changedAt = this.deps.now();
    return this.deps.access.attempt(
      () =>
        this.database.transaction("rw", beats, async () => {
          const record = await beats.get(id);
          if (!record) return undefined;
          const beat = edit(record.beat);
          await beats.put({ ...record, changedAt, beat });
          return beat;
        }),
      undefined,
    );
  }

  /** @returns what is gone, to be put back by `restore` */
  async remove(id: string): Promise<(() => Promise<void>) | undefined> {
    const entry = this.unwritten.get(id);
    this.lent.delete(id);
    const { database } = this;
    const gone = await this.deps.access.attempt(() => overRows(database, () => removeRows(database, id)), undefined);
    if (gone) this.unwritten.delete(id);
    else this.unwritten.set(id, { kind: "removed" });
    this.backups.drop(id);
    if (entry && entry.kind !== "removed") return async () => void (await this.save(entry.kept));
    // It is still on disk, and only not to be seen.
    if (!gone) return async () => void this.unwritten.delete(id);
    if (!gone.record) return undefined;
    return () => this.deps.access.attempt(async () => overRows(database, () => putRows(database, gone)), undefined);
  }

  /** Beats to try the app with while the store does not answer; once changed they are the player's. */
  lend(records: readonly BeatRecord[]): void {
    if (this.lent.size > 0) return;
    for (const record of records) {
      // What the store has under its own name stays apart.
      const id = `${record.id}-${this.deps.newId().slice(0, 8)}`;
      this.lent.set(id, { ...record, id, beat: { ...record.beat, id } });
    }
  }

  /** Sees to it at once that the next page finds a beat, for a page that is going away. */
  leave(kept: KeptBeat, editor?: string): void {
    const added = this.unwritten.get(kept.beat.id)?.kind === "added";
    const about = {
      version: 2,
      changedAt: this.deps.now(),
      ...(editor && { editor }),
      ...(added && { added }),
    } as const;
    const { beat, passes } = kept;
    // The beat matters more than what could be undone in it.
    if (!this.backups.leave(beat.id, { ...kept, ...about })) this.backups.leave(beat.id, { beat, passes, ...about });
  }

  /** The same for all that is only in memory. */
  leaveUnwritten(): void {
    for (const entry of this.unwritten.values()) if (entry.kind !== "removed") this.leave(entry.kept, entry.editor);
  }

  /** Where there is no room for what could be undone as well, the beat matters more. */
  private async writeWhatFits(kept: KeptBeat, changedAt: number, editor: string | undefined): Promise<Saved> {
    try {
      return await this.write(kept, changedAt, editor);
    } catch (error) {
      const { beat, passes, steps } = kept;
      if (!steps || !isFull(error)) throw error;
      return await this.write({ beat, passes }, changedAt, editor);
    }
  }

  private write(kept: KeptBeat, changedAt: number, editor: string | undefined): PromiseLike<Saved> {
    const { beats, journal } = this.database;
    const { beat, passes, steps } = kept;
    return overRows(this.database, async (): Promise<Saved> => {
      if (!(await this.mayWrite(beat.id, editor))) return "taken";
      await beats.put({ id: beat.id, changedAt, beat, ...(steps && { step: steps.made }) });
      await writeSteps(this.database, beat.id, steps);
      if (passes.length > 0) await journal.put(this.journalRecord(beat.id, passes));
      else await journal.delete(beat.id);
      return "disk";
    });
  }

  /** Within a transaction. */
  private async mayWrite(id: string, editor: string | undefined): Promise<boolean> {
    if (editor === undefined) return true;
    const claimed = await this.database.editors.get(id);
    if (claimed === undefined || claimed.token === editor) return true;
    // The store did not take the claim when it was made; nobody has claimed the beat since.
    if (claimed.token !== this.claimedFrom.get(editor)) return false;
    await this.database.editors.put({ beatId: id, token: editor });
    return true;
  }

  private journalRecord(beatId: string, passes: readonly KeptPass[]): JournalRecord {
    return { beatId, passes: JSON.stringify(passes), writtenAt: this.deps.now() };
  }

  /** A journal that can't be read is put aside, where nothing writes over it. */
  private async readJournal(record: JournalRecord | undefined): Promise<readonly KeptPass[]> {
    if (!record) return [];
    try {
      return await checkJournal(record);
    } catch (error) {
      const { journal, damaged } = this.database;
      await this.deps.access.attempt(
        () =>
          this.database.transaction("rw", journal, damaged, async () => {
            await damaged.add({ table: "journal", problem: problemOf(error), record });
            await journal.delete(record.beatId);
          }),
        undefined,
      );
      return [];
    }
  }

  private async problemIn(record: BeatRecord): Promise<string | undefined> {
    if (this.checked.get(record.id) === record.changedAt) return undefined;
    try {
      await checkBeatRecord(record);
      this.checked.set(record.id, record.changedAt);
      return undefined;
    } catch (error) {
      return problemOf(error);
    }
  }

  /** For the retry: throws when the store still fails. */
  private async writeAll(): Promise<void> {
    for (const [id, entry] of [...this.unwritten]) {
      if (this.unwritten.get(id) !== entry) continue;
      await this.writeOne(id, entry);
      if (this.unwritten.get(id) === entry) this.unwritten.delete(id);
    }
    this.lent.clear();
    this.listeners.forEach((listener) => listener());
  }

  private async writeOne(id: string, entry: Unwritten): Promise<void> {
    if (entry.kind === "removed") return void (await overRows(this.database, () => removeRows(this.database, id)));
    const { kept, changedAt, editor } = entry;
    if ((await this.writeWhatFits(kept, changedAt, editor)) === "taken") await this.writeBeside(kept, changedAt);
  }

  /** Somebody else has the beat by now: what this page has of it becomes one of its own. */
  private async writeBeside({ beat, passes }: KeptBeat, changedAt: number): Promise<void> {
    const name = `${beat.name.slice(0, 100)} (other window)`;
    await this.write({ passes, beat: { ...beat, id: this.deps.newId(), name } }, changedAt, undefined);
  }

  private async takeOverBackup(id: string): Promise<void> {
    const stored = this.backups.read(id);
    const left = stored && (await readLeft(id, stored));
    const settled = await this.deps.access.attempt(async () => {
      if (left) await this.takeOver(id, left);
      return true;
    }, false);
    if (settled) this.backups.drop(id);
  }

  private async takeOver(id: string, { version: _, changedAt, editor, added, ...kept }: LeftBeat): Promise<void> {
    await overRows(this.database, async () => {
      const stored = await this.database.beats.get(id);
      // One that was deleted or saved since stays as it is.
      if (stored ? stored.changedAt >= changedAt : !added) return;
      if (await this.mayWrite(id, editor)) await this.write(kept, changedAt, undefined);
      else await this.writeBeside(kept, changedAt);
    });
  }
}
