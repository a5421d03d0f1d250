import type { Beat } from "@/core/beat/beat";
import { startHistory } from "@/core/beat/history";
import { unsettled, type KeptPass } from "@/core/beat/edits/kept-pass";
import { HitsOnDisk, joinHits, partBeat, readHits, type PartedBeat } from "../rows/apart-hits";
import { BEAT_TABLES, putRows, readNewest, removeRows, type BeatTables, type NewestBeats } from "./beat-rows";
import { EditorClaims } from "./editor-claims";
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
} from "../rows/kept-beat";
import { checkRows, checksOrNone, type Checks } from "../rows/load-checks";
import type { Rows } from "../rows/row-store";
import type { BeatRecord, HitsRecord, JournalRecord } from "../rows/rows";
import type { SampleTable } from "./sample-table";
import { keptHistory, readSteps, writeSteps } from "./step-table";
import { isFull, type StoreAccess } from "./store-access";
import { UnloadBackup } from "./unload-backup";
import { wordsOf } from "../../words-of";

const NOTHING: NewestBeats = { stored: [], hasMore: false };

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
  readonly samples: SampleTable;
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
  private readonly trialBeats = new Map<string, BeatRecord>();
  private readonly claims: EditorClaims;
  private readonly backups: UnloadBackup<LeftBeat | LeftBeat1>;
  private readonly listeners = new Set<() => void>();
  /** Beats whose steps had no room when they were written last. */
  private readonly stepless = new Set<string>();
  /** When each beat was last found to be sound. */
  private readonly checked = new Map<string, number>();
  private readonly hits = new HitsOnDisk();

  constructor(private readonly deps: BeatTableDeps) {
    this.claims = new EditorClaims(deps.access);
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

  /** True if the beat is on disk without its steps. */
  hasLostSteps(id: string): boolean {
    return this.stepless.has(id);
  }

  /** @returns the undo of the subscription; the listener hears when what was only in memory is on disk */
  onWritten(listener: () => void): () => void {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  }

  /** @param most older ones than so many on disk are not looked at */
  async list(most = Infinity): Promise<BeatList> {
    const checks = await checksOrNone();
    for (const id of checks ? this.backups.ids() : []) await this.takeOverBackup(id, checks!);
    const read = (rows: Rows<"beats" | "hits">) => readNewest(rows, most);
    const { stored, hasMore } = checks ? await this.deps.access.read(["beats", "hits"], read, NOTHING) : NOTHING;
    const records: BeatRecord[] = [];
    const damaged: DamagedBeat[] = [];
    for (const { row, hits } of stored) {
      const { id } = row as BeatRecord;
      if (this.unwritten.has(id)) continue;
      try {
        records.push(this.soundRow(row, hits, checks!));
      } catch (error) {
        damaged.push({ id, problem: wordsOf(error), record: asItIs(row, hits) });
      }
    }
    for (const [id, entry] of this.unwritten)
      if (entry.kind !== "removed") records.push({ id, changedAt: entry.changedAt, beat: entry.kept.beat });
    for (const record of this.trialBeats.values()) if (!this.unwritten.has(record.id)) records.push(record);
    return {
      records: records.sort((a, b) => b.changedAt - a.changedAt),
      damaged,
      hasMore,
      checked: checks !== undefined,
    };
  }

  async load(id: string): Promise<LoadedBeat> {
    const checks = await checksOrNone();
    if (!checks) return { status: "unchecked" };
    await this.takeOverBackup(id, checks);
    const entry = this.unwritten.get(id);
    const lent = this.trialBeats.get(id);
    if (entry?.kind === "removed") return { status: "missing" };
    const inMemory = entry?.kept ?? (lent && { beat: lent.beat, passes: [] });
    if (inMemory) return { status: "found", ...inMemory, history: startHistory(inMemory.beat) };
    const read = (rows: Rows<"beats" | "hits" | "journal" | "steps">) =>
      Promise.all([rows.beats.get(id), readHits(rows, id), rows.journal.get(id), readSteps(rows, id)]);
    const stored = await this.deps.access.read(["beats", "hits", "journal", "steps"], read, undefined);
    if (!stored) return { status: "unanswered" };
    const [found, hits, journalled, steps] = stored;
    if (found === undefined) return { status: "missing" };
    try {
      const record = checks.checkBeatRow(joinHits(found as BeatRecord, hits));
      const known = unsettled(record.beat, await this.readJournal(id, journalled, checks));
      const history = keptHistory(known.beat, record, steps, checks.checkStepRow, checks.restoreBeat);
      return { status: "found", ...known, history };
    } catch (error) {
      return { status: "damaged", id, problem: wordsOf(error), record: asItIs(found, hits) };
    }
  }

  /** Puts a new beat there. One whose id is taken gets another one, and a name that is free. @returns it as it is now */
  async add(beat: Beat, naming: "as it is" | "free" = "as it is"): Promise<Beat> {
    const changedAt = this.deps.now();
    const add = async (rows: Rows<"beats" | "hits">) => {
      const { beats } = rows;
      const taken = this.unwritten.has(beat.id) || (await beats.get(beat.id)) !== undefined;
      const names = taken || naming === "free" ? await beats.indexKeys("beat.name") : [];
      const id = taken ? this.deps.newId() : beat.id;
      const made = taken || naming === "free" ? renamed(beat, id, names as string[]) : beat;
      const parted = partBeat(made);
      await beats.add(this.rowOf(parted, changedAt));
      await this.hits.write(rows, made.id, undefined, parted);
      return made;
    };
    const added = await this.deps.access.change(["beats", "hits"], add, undefined);
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
    const checks = await checksOrNone();
    if (checks) await this.takeOverBackup(id, checks);
    const entry = this.unwritten.get(id);
    if (entry && entry.kind !== "removed") this.unwritten.set(id, { ...entry, editor });
    await this.claims.claim(id, editor);
  }

  /** Writes a beat, and as its journal just what it comes with. @param editor refused where another one has claimed it */
  async save(kept: KeptBeat, editor?: string): Promise<Saved> {
    const changedAt = this.deps.now();
    const { id } = kept.beat;
    const before = this.unwritten.get(id);
    const kind = this.trialBeats.has(id) || before?.kind === "added" ? "added" : "kept";
    const waiting: WaitingBeat = { kind, kept, changedAt, editor };
    // A concurrent retry must not overwrite this with an older version.
    if (before) this.unwritten.set(id, waiting);
    const saved = await this.deps.access.attempt<Saved, Saved>(
      () => this.writeWhatFits(kept, changedAt, editor),
      "memory",
    );
    const now = this.unwritten.get(id);
    if (saved !== "memory") {
      if (now === waiting) this.unwritten.delete(id);
    } else if (now === before || now === undefined) this.unwritten.set(id, waiting);
    return saved;
  }

  /** Writes only the journal, for between two saves. */
  async writeJournal(id: string, passes: readonly KeptPass[], editor?: string): Promise<void> {
    if (this.unwritten.has(id)) return;
    const record = this.journalRecord(id, passes);
    const write = async (rows: Rows<"journal" | "editors">) => {
      if (await this.claims.mayWrite(rows, id, editor)) await rows.journal.put(record);
    };
    await this.deps.access.change(["journal", "editors"], write, undefined);
  }

  /**
   * Reads a beat, changes it and writes it, in one transaction.
   * @returns what it is now; undefined where it is not there, or can't be read
   */
  async change(id: string, edit: (beat: Beat) => Beat): Promise<Beat | undefined> {
    const entry = this.unwritten.get(id);
    const lent = this.trialBeats.get(id);
    const kept = entry && entry.kind !== "removed" ? entry.kept : lent && { beat: lent.beat, passes: [] };
    if (kept) {
      const beat = edit(kept.beat);
      await this.save({ ...kept, beat });
      return beat;
    }
    const checks = await checksOrNone();
    if (!checks) return undefined;
    const changedAt = this.deps.now();
    const change = async (rows: Rows<"beats" | "hits">) => {
      const stored = await rows.beats.get(id);
      const record = stored === undefined ? undefined : soundOrNone(stored, await readHits(rows, id), checks);
      if (!record) return undefined;
      const beat = edit(record.beat);
      const parted = partBeat(beat);
      await rows.beats.put(this.rowOf(parted, changedAt, record.step));
      await this.hits.write(rows, id, undefined, parted);
      return beat;
    };
    return this.deps.access.change(["beats", "hits"], change, undefined);
  }

  /** @returns what is gone, to be put back by `restore` */
  async remove(id: string): Promise<(() => Promise<void>) | undefined> {
    const entry = this.unwritten.get(id);
    this.trialBeats.delete(id);
    const putSamplesBack = await this.holdSamples(id);
    const gone = await this.deps.access.change(BEAT_TABLES, (rows) => removeRows(rows, id), undefined);
    if (gone) this.unwritten.delete(id);
    else this.unwritten.set(id, { kind: "removed" });
    this.backups.drop(id);
    if (entry && entry.kind !== "removed")
      return async () => {
        await putSamplesBack();
        await this.save(entry.kept);
      };
    // It is still on disk, and only not to be seen.
    if (!gone) return async () => void this.unwritten.delete(id);
    if (!gone.record) return undefined;
    return async () => {
      await putSamplesBack();
      await this.deps.access.change(BEAT_TABLES, (rows) => putRows(rows, gone), undefined);
    };
  }

  /** Beats to try the app with while the store does not answer; once changed they are the player's. */
  offerTrial(records: readonly BeatRecord[]): void {
    if (this.trialBeats.size > 0) return;
    for (const record of records) {
      // What the store has under its own name stays apart.
      const id = `${record.id}-${this.deps.newId().slice(0, 8)}`;
      this.trialBeats.set(id, { ...record, id, beat: { ...record.beat, id } });
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
    const { beat, passes, steps } = kept;
    try {
      const saved = await this.write(kept, changedAt, editor);
      if (steps) this.stepless.delete(beat.id);
      return saved;
    } catch (error) {
      if (!steps || !isFull(error)) throw error;
      const saved = await this.write({ beat, passes }, changedAt, editor);
      if (saved === "disk") this.stepless.add(beat.id);
      return saved;
    }
  }

  private async write(kept: KeptBeat, changedAt: number, editor: string | undefined): Promise<Saved> {
    const parted = partBeat(kept.beat);
    const row = this.rowOf(parted, changedAt, kept.steps?.made);
    const write = (rows: BeatTables) => this.writeRows(rows, row, parted, kept, editor);
    const saved = await this.deps.access.store.change(BEAT_TABLES, write);
    if (saved === "disk") this.hits.written(row.id, row.written, parted);
    return saved;
  }

  private rowOf({ spine, apart }: PartedBeat, changedAt: number, step?: number) {
    const written = this.deps.newId();
    return {
      id: spine.id,
      changedAt,
      beat: spine,
      written,
      ...(apart && { apart }),
      ...(step !== undefined && { step }),
    } satisfies BeatRecord;
  }

  /** Within a transaction. */
  private async writeRows(
    rows: BeatTables,
    row: BeatRecord,
    parted: PartedBeat,
    { passes, steps }: KeptBeat,
    editor: string | undefined,
  ): Promise<Saved> {
    const { id } = row;
    if (!(await this.claims.mayWrite(rows, id, editor))) return "taken";
    await this.hits.write(rows, id, await rows.beats.get(id), parted);
    await rows.beats.put(row);
    await writeSteps(rows, id, steps);
    if (passes.length > 0) await rows.journal.put(this.journalRecord(id, passes));
    else await rows.journal.delete(id);
    return "disk";
  }

  /** Other tabs clear what no beat uses, also while a deletion can still be undone. */
  private async holdSamples(id: string): Promise<() => Promise<void>> {
    const tables = ["beats", "steps", "keptStates"] as const;
    const read = (rows: Rows<(typeof tables)[number]>) =>
      Promise.all([rows.beats.get(id), readSteps(rows, id), rows.keptStates.list({ index: "beatId", value: id })]);
    const kept = await this.deps.access.read(tables, read, []);
    const inMemory = this.unwritten.get(id);
    const records = kept.flat();
    if (inMemory && inMemory.kind !== "removed") records.push(inMemory.kept);
    return this.deps.samples.hold(records);
  }

  private journalRecord(beatId: string, passes: readonly KeptPass[]): JournalRecord {
    return { beatId, passes: JSON.stringify(passes), writtenAt: this.deps.now() };
  }

  /** A journal that can't be read is put aside, where nothing writes over it. */
  private async readJournal(id: string, row: unknown, { readJournalRow }: Checks): Promise<readonly KeptPass[]> {
    if (row === undefined) return [];
    try {
      return readJournalRow(row);
    } catch (error) {
      const move = async ({ journal, damaged }: Rows<"journal" | "damaged">) => {
        await damaged.add({ table: "journal", problem: wordsOf(error), record: row });
        await journal.delete(id);
      };
      await this.deps.access.change(["journal", "damaged"], move, undefined);
      return [];
    }
  }

  /** @throws CoreError with what is wrong in it */
  private soundRow(row: unknown, hits: readonly HitsRecord[], checks: Checks): BeatRecord {
    const record = joinHits(row as BeatRecord, hits);
    if (this.checked.has(record.id) && this.checked.get(record.id) === record.changedAt) return record;
    checks.checkBeatRow(record);
    this.checked.set(record.id, record.changedAt);
    return record;
  }

  /** For the retry: throws when the store still fails. */
  private async writeAll(): Promise<void> {
    for (const [id, entry] of [...this.unwritten]) {
      if (this.unwritten.get(id) !== entry) continue;
      await this.writeOne(id, entry);
      if (this.unwritten.get(id) === entry) this.unwritten.delete(id);
    }
    this.trialBeats.clear();
    this.listeners.forEach((listener) => listener());
  }

  private async writeOne(id: string, entry: Unwritten): Promise<void> {
    if (entry.kind === "removed")
      return void (await this.deps.access.store.change(BEAT_TABLES, (rows) => removeRows(rows, id)));
    const { kept, changedAt, editor } = entry;
    if ((await this.writeWhatFits(kept, changedAt, editor)) === "taken") await this.writeBeside(kept, changedAt);
  }

  /** Somebody else has the beat by now: what this page has of it becomes one of its own. */
  private writeBeside(kept: KeptBeat, changedAt: number): Promise<Saved> {
    return this.write(this.beside(kept), changedAt, undefined);
  }

  private beside({ beat, passes }: KeptBeat): KeptBeat {
    const name = `${beat.name.slice(0, 100)} (other window)`;
    return { passes, beat: { ...beat, id: this.deps.newId(), name } };
  }

  private async takeOverBackup(id: string, checks: Checks): Promise<void> {
    const stored = this.backups.read(id);
    const { good, unreadable } = checkRows(stored ? [stored] : [], (row) => readLeft(id, row as LeftBeat, checks));
    const takeOver = async (rows: BeatTables & Rows<"damaged">) => {
      for (const left of good) await this.takeOver(rows, id, left);
      for (const { row, problem } of unreadable) await rows.damaged.add({ table: "backup", problem, record: row });
      return true;
    };
    // What is no JSON is noise: a text in local storage may be anybody's.
    if (await this.deps.access.change([...BEAT_TABLES, "damaged"], takeOver, false)) this.backups.drop(id);
  }

  private async takeOver(rows: BeatTables, id: string, left: LeftBeat): Promise<void> {
    const { version: _, changedAt, editor, added, ...kept } = left;
    const stored = (await rows.beats.get(id)) as Partial<BeatRecord> | undefined;
    // One that was deleted or saved since stays as it is.
    if (stored ? stored.changedAt! >= changedAt : !added) return;
    const mine = await this.claims.mayWrite(rows, id, editor);
    const taken = mine ? kept : this.beside(kept);
    const parted = partBeat(taken.beat);
    await this.writeRows(rows, this.rowOf(parted, changedAt, taken.steps?.made), parted, taken, undefined);
  }
}

function soundOrNone(row: unknown, hits: readonly HitsRecord[], checks: Checks): BeatRecord | undefined {
  try {
    const record = joinHits(row as BeatRecord, hits);
    checks.checkBeatRow(record);
    return record;
  } catch {
    return undefined;
  }
}

/** All that is there of a beat that can't be read. */
function asItIs(row: unknown, hits: readonly HitsRecord[]): unknown {
  return hits.length === 0 ? row : { ...(row as BeatRecord), hits };
}
