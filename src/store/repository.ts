import type { Beat, Pass } from "@/core/beat/beat";
import type { Groove } from "@/core/beat/feel";
import { demoBeats } from "@/core/demo/demo-beats";
import { demoEchoes } from "@/core/demo/demo-echoes";
import type { Kit } from "@/core/sound/kit";
import { newProfile, type DeviceProfile } from "@/inputs/device-profile";
import { EchoPocketDatabase, type BeatRecord, type JournalRecord } from "./database";
import { LastWill } from "./last-will";
import { chunkOf, errorNames, isFull, LookbackStore } from "./lookback-store";
import { DEFAULT_SETTINGS, type Settings } from "./settings";

/** Why nothing is kept: the page says it and goes on in memory. */
export type MemoryReason = "missing" | "full" | "failed";

const SEEDED = "demo-seeded";

/**
 * Keeps beats in the browser. Where the browser's store is missing, full or broken, everything goes on in memory: no
 * method throws, and `memoryReason` says that a reload would lose what was done since.
 */
export class Repository {
  private readonly memory = new Map<string, BeatRecord>();
  private readonly listeners = new Set<() => void>();
  private reason: MemoryReason | undefined;
  /** All that was played. */
  readonly lookback: LookbackStore;
  private readonly wills: LastWill<BeatRecord>;

  constructor(
    private readonly database: EchoPocketDatabase = new EchoPocketDatabase(),
    private readonly now: () => number = Date.now,
    storage: Storage | undefined = localStorageOf(globalThis),
  ) {
    this.wills = new LastWill(storage, "unsaved beat ");
    const attempt = <T>(work: () => PromiseLike<T>, otherwise: T) => this.attempt(work, otherwise);
    this.lookback = new LookbackStore(database, attempt, now, storage);
  }

  get memoryReason(): MemoryReason | undefined {
    return this.reason;
  }

  /** @returns the undo of the subscription; the listener hears when `memoryReason` changes */
  onMemoryReason(listener: () => void): () => void {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  }

  /** All beats, the last changed first. The first call in a new browser puts the demo beats there. */
  async list(): Promise<readonly BeatRecord[]> {
    await this.seedDemo();
    for (const id of this.wills.ids()) await this.takeOverWill(id);
    const stored = await this.attempt(() => this.database.beats.toArray(), []);
    const records = new Map([...stored.map((record) => [record.id, record] as const), ...this.memory]);
    return [...records.values()].sort((a, b) => b.changedAt - a.changedAt);
  }

  async load(id: string): Promise<Beat | undefined> {
    await this.seedDemo();
    await this.takeOverWill(id);
    const record = this.memory.get(id) ?? (await this.attempt(() => this.database.beats.get(id), undefined));
    return record?.beat;
  }

  /** @returns true when it is on disk, false when only in memory */
  async save(beat: Beat): Promise<boolean> {
    return this.put({ id: beat.id, changedAt: this.now(), beat });
  }

  /** Sees to it at once that the next page finds a beat, for a page that is going away. */
  leave(beat: Beat): void {
    this.wills.leave(beat.id, { id: beat.id, changedAt: this.now(), beat });
  }

  /** Puts a record back as it was, for the undo of a removal. */
  async put(record: BeatRecord): Promise<boolean> {
    const stored = await this.attempt(async () => {
      await this.database.beats.put(record);
      return true;
    }, false);
    if (stored) {
      this.memory.delete(record.id);
      if (this.memory.size === 0) this.setReason(undefined);
    } else this.memory.set(record.id, record);
    return stored;
  }

  async remove(id: string): Promise<void> {
    this.memory.delete(id);
    await this.attempt(() => this.database.beats.delete(id), undefined);
  }

  async readJournal(beatId: string): Promise<JournalRecord | undefined> {
    const stored = await this.attempt(() => this.database.journal.get(beatId), undefined);
    return stored && { ...stored, pass: JSON.parse(stored.pass) as Pass };
  }

  async writeJournal({ beatId, place, pass }: Omit<JournalRecord, "writtenAt">): Promise<void> {
    const stored = { beatId, place, pass: JSON.stringify(pass), writtenAt: this.now() };
    await this.attempt(() => this.database.journal.put(stored), undefined);
  }

  async clearJournal(beatId: string): Promise<void> {
    await this.attempt(() => this.database.journal.delete(beatId), undefined);
  }

  async readKit(key: string): Promise<Kit | undefined> {
    return (await this.attempt(() => this.database.kits.get(key), undefined))?.kit;
  }

  /** A kit can be made again, so one that does not fit is no trouble worth telling. */
  async writeKit(key: string, kit: Kit): Promise<void> {
    await this.database.kits.put({ key, kit }).catch(() => undefined);
  }

  async readSettings(): Promise<Settings> {
    const record = await this.attempt(() => this.database.settings.get("settings"), undefined);
    return { ...DEFAULT_SETTINGS, ...record?.settings };
  }

  async writeSettings(settings: Settings): Promise<void> {
    await this.attempt(() => this.database.settings.put({ key: "settings", settings }), undefined);
  }

  /** How the devices that were here are listened to, by their names. */
  async readProfiles(): Promise<Readonly<Record<string, DeviceProfile>>> {
    const profiles = await this.attempt(() => this.database.profiles.toArray(), []);
    return Object.fromEntries(
      profiles.map((profile) => [profile.device, { ...newProfile(profile.device), ...profile }]),
    );
  }

  async writeProfile(profile: DeviceProfile): Promise<void> {
    await this.attempt(() => this.database.profiles.put(profile), undefined);
  }

  /** The player's own grooves, by name. */
  async readGrooves(): Promise<readonly Groove[]> {
    return this.attempt(() => this.database.grooves.toArray(), []);
  }

  async writeGroove(groove: Groove): Promise<void> {
    await this.attempt(() => this.database.grooves.put(groove), undefined);
  }

  async removeGroove(name: string): Promise<void> {
    await this.attempt(() => this.database.grooves.delete(name), undefined);
  }

  private async takeOverWill(id: string): Promise<void> {
    const will = this.wills.read(id);
    const { beats, journal } = this.database;
    const settled = await this.attempt(async () => {
      if (!will) return true;
      return this.database.transaction("rw", beats, journal, async () => {
        const stored = await beats.get(id);
        // One that was deleted or saved since stays as it is.
        if (!stored || stored.changedAt >= will.changedAt) return true;
        await beats.put(will);
        await journal.delete(id);
        return true;
      });
    }, false);
    if (settled) this.wills.drop(id);
  }

  private seeding: Promise<void> | undefined;

  private seedDemo(): Promise<void> {
    this.seeding ??= this.seedOnce();
    return this.seeding;
  }

  private async seedOnce(): Promise<void> {
    const beats = demoBeats();
    const changedAt = this.now();
    // The first of the list stays the first on the shelf.
    const records = beats.map((beat, index) => ({ id: beat.id, changedAt: changedAt - index, beat }));
    const { database } = this;
    const stored = await this.attempt(
      () =>
        database.transaction("rw", database.beats, database.marks, database.lookback, async () => {
          if (await database.marks.get(SEEDED)) return true;
          await database.beats.bulkPut(records);
          await database.lookback.add(chunkOf(demoEchoes(changedAt)));
          await database.marks.put({ key: SEEDED });
          return true;
        }),
      false,
    );
    if (!stored) records.forEach((record) => this.memory.set(record.id, record));
  }

  private async attempt<T>(work: () => PromiseLike<T>, otherwise: T): Promise<T> {
    try {
      return await work();
    } catch (error) {
      this.setReason(reasonOf(error));
      return otherwise;
    }
  }

  private setReason(reason: MemoryReason | undefined): void {
    if (reason === this.reason) return;
    this.reason = reason;
    this.listeners.forEach((listener) => listener());
  }
}

/** Even asking for it fails where it is forbidden. */
function localStorageOf(window: Partial<Pick<Window, "localStorage">>): Storage | undefined {
  try {
    return window.localStorage;
  } catch {
    return undefined;
  }
}

function reasonOf(error: unknown): MemoryReason {
  if (isFull(error)) return "full";
  const names = errorNames(error);
  return names.includes("MissingAPIError") || names.includes("OpenFailedError") ? "missing" : "failed";
}
