import type { OwnKit } from "@/core/beat/own-kit";
import type { Groove } from "@/core/beat/feel";
import type { Sound } from "@/core/sound/sound";
import { newProfile, type DeviceProfile } from "@/inputs/device-profile";
import { DEFAULT_SETTINGS, type Settings } from "../workspace/settings";
import { newId } from "../shelf/new-id";
import { BeatTable } from "./beat-table";
import type { BeatList, LoadedBeat } from "./kept-beat";
import { EchoPocketDatabase, type DamagedRecord } from "./database";
import { Editors } from "./editors";
import { chunkOf, LookbackTable } from "./lookback-table";
import { SampleTable } from "./sample-table";
import { StateTable } from "./state-table";
import { StoreAccess, USUAL_LIMITS, type AccessLimits, type MemoryReason } from "./store-access";
import { TabChannel } from "./tab-channel";
import { localStorageOf } from "./unload-backup";

const SEEDED = "demo-seeded";
/** What is being closed is waited for no longer than this: its store may not answer. */
const CLOSING_LIMIT_MS = 3000;

export interface RepositoryDeps {
  readonly database: EchoPocketDatabase;
  readonly now: () => number;
  readonly storage: Storage | undefined;
  readonly locks: LockManager | undefined;
  readonly openChannel: () => BroadcastChannel | undefined;
  readonly limits: AccessLimits;
}

const usualDeps = (): RepositoryDeps => ({
  database: new EchoPocketDatabase(),
  now: Date.now,
  storage: localStorageOf(globalThis),
  locks: globalThis.navigator?.locks,
  // The server draws the shelf, too, and has nobody to talk to.
  openChannel: () => (typeof document === "undefined" ? undefined : new BroadcastChannel("echo-pocket")),
  limits: USUAL_LIMITS,
});

/**
 * Keeps beats, playing, sounds and settings in the browser. Where the browser's store is missing, full or broken, everything
 * goes on in memory: no method throws, and `memoryReason` says that a reload would lose what was done since.
 */
export class Repository {
  readonly beats: BeatTable;
  /** All that was played. */
  readonly lookback: LookbackTable;
  readonly editors: Editors;
  /** States of beats that were kept under a name. */
  readonly states: StateTable;
  /** Samples of the player's own. */
  readonly samples: SampleTable;
  private readonly access: StoreAccess;
  private readonly database: EchoPocketDatabase;
  private readonly channel: TabChannel;
  private readonly closing = new Set<Promise<unknown>>();
  private readonly now: () => number;
  private seeding: Promise<void> | undefined;

  constructor(deps: Partial<RepositoryDeps> = {}) {
    const { database, now, storage, locks, openChannel, limits } = { ...usualDeps(), ...deps };
    this.database = database;
    this.now = now;
    this.access = new StoreAccess(database, limits);
    this.beats = new BeatTable({ access: this.access, now, storage, newId });
    this.lookback = new LookbackTable(this.access, now, storage);
    this.states = new StateTable(this.access, now);
    this.samples = new SampleTable(this.access, now);
    this.channel = new TabChannel(openChannel);
    this.editors = new Editors({ beats: this.beats, locks, channel: this.channel, newId });
  }

  get memoryReason(): MemoryReason | undefined {
    return this.access.memoryReason;
  }

  /** @returns the undo of the subscription; the listener hears when `memoryReason` changes */
  onMemoryReason(listener: () => void): () => void {
    return this.access.onMemoryReason(listener);
  }

  /** Tries the browser's store again at once. */
  retry(): Promise<void> {
    return this.access.retry();
  }

  /** Whoever lists or opens beats waits until what is being closed is on disk. */
  whileClosing(work: Promise<unknown>): void {
    const closed = work.catch(() => undefined);
    this.closing.add(closed);
    void closed.then(() => this.closing.delete(closed));
  }

  /** Nothing of this page is being closed any more. */
  async settled(): Promise<void> {
    if (this.closing.size === 0) return;
    let timer: ReturnType<typeof setTimeout> | undefined;
    const limit = new Promise<void>((done) => (timer = setTimeout(done, CLOSING_LIMIT_MS)));
    await Promise.race([Promise.all(this.closing), limit]);
    clearTimeout(timer);
  }

  /** All beats, the last changed first. The first call in a new browser puts the demo beats there. */
  async list(): Promise<BeatList> {
    await this.settled();
    await this.seedDemo();
    return this.beats.list();
  }

  async load(id: string): Promise<LoadedBeat> {
    await this.seedDemo();
    return this.beats.load(id);
  }

  /** What could not be read, besides beats. */
  async readDamaged(): Promise<readonly DamagedRecord[]> {
    return this.access.attempt(() => this.database.damaged.toArray(), []);
  }

  async forgetDamaged(ids: readonly number[]): Promise<void> {
    await this.access.attempt(() => this.database.damaged.bulkDelete([...ids]), undefined);
  }

  async readSound(key: string): Promise<Sound | undefined> {
    return (await this.access.attempt(() => this.database.sounds.get(key), undefined))?.sound;
  }

  /** Sounds can be made again, so what does not fit is no trouble worth telling. */
  async writeSound(key: string, sound: Sound): Promise<void> {
    await this.database.sounds.put({ key, sound }).catch(() => undefined);
  }

  /** Lets go of those whose keys begin otherwise. */
  async forgetSoundsBut(prefix: string): Promise<void> {
    await this.access.attempt(async () => {
      const keys = await this.database.sounds.toCollection().primaryKeys();
      await this.database.sounds.bulkDelete(keys.filter((key) => !key.startsWith(prefix)));
    }, undefined);
  }

  async readSettings(): Promise<Settings> {
    const record = await this.access.attempt(() => this.database.settings.get("settings"), undefined);
    return { ...DEFAULT_SETTINGS, ...record?.settings };
  }

  async writeSettings(settings: Settings): Promise<void> {
    await this.access.attempt(() => this.database.settings.put({ key: "settings", settings }), undefined);
  }

  /** How the devices that were here are listened to, by their names. */
  async readProfiles(): Promise<Readonly<Record<string, DeviceProfile>>> {
    const profiles = await this.access.attempt(() => this.database.profiles.toArray(), []);
    return Object.fromEntries(
      profiles.map((profile) => [profile.device, { ...newProfile(profile.device), ...profile }]),
    );
  }

  async writeProfile(profile: DeviceProfile): Promise<void> {
    await this.access.attempt(() => this.database.profiles.put(profile), undefined);
  }

  /** The player's own grooves, by name. */
  async readGrooves(): Promise<readonly Groove[]> {
    return this.access.attempt(() => this.database.grooves.toArray(), []);
  }

  async writeGroove(groove: Groove): Promise<void> {
    await this.access.attempt(() => this.database.grooves.put(groove), undefined);
  }

  async removeGroove(name: string): Promise<void> {
    await this.access.attempt(() => this.database.grooves.delete(name), undefined);
  }

  /** The player's own kits, by name. */
  async readKits(): Promise<readonly OwnKit[]> {
    return this.access.attempt(() => this.database.ownKits.toArray(), []);
  }

  /** @returns false where the store does not take it */
  async writeKit(kit: OwnKit): Promise<boolean> {
    return this.access.attempt(async () => (await this.database.ownKits.put(kit)) !== "", false);
  }

  async removeKit(name: string): Promise<void> {
    await this.access.attempt(() => this.database.ownKits.delete(name), undefined);
  }

  /** Lets go of what a page has open. */
  close(): void {
    this.access.close();
    this.channel.close();
  }

  private seedDemo(): Promise<void> {
    this.seeding ??= this.seedOnce();
    return this.seeding;
  }

  private async seedOnce(): Promise<void> {
    const changedAt = this.now();
    const { beats, marks, lookback, samples } = this.database;
    // Wanted once in a browser's life.
    const { demoBeats, demoEchoes, demoSamples } = await import("@/core/demo/demo");
    // The first of the list stays the first on the shelf.
    const records = demoBeats().map((beat, index) => ({ id: beat.id, changedAt: changedAt - index, beat }));
    const seeded = await this.access.attempt(
      () =>
        this.database.transaction("rw", [beats, marks, lookback, samples], async () => {
          if (await marks.get(SEEDED)) return true;
          // One that came back from a backup is the player's.
          const known = new Set(await beats.toCollection().primaryKeys());
          await beats.bulkAdd(records.filter(({ id }) => !known.has(id)));
          await samples.bulkPut(Object.entries(demoSamples()).map(([id, wav]) => ({ id, wav, addedAt: changedAt })));
          await lookback.add(chunkOf(demoEchoes(changedAt)));
          await marks.put({ key: SEEDED });
          return true;
        }),
      false,
    );
    if (seeded) return;
    this.beats.lend(records);
    // The store may answer later, and then has its own.
    this.seeding = undefined;
  }
}
