import type { OwnKit } from "@/core/beat/edits/own-kit";
import type { Groove } from "@/core/beat/feel";
import type { Sound } from "@/core/sound/signal/sound";
import type { DeviceProfile } from "@/inputs/device-profile";
import type { Settings } from "../settings";
import { newId } from "../new-id";
import { BeatTable } from "./tables/beat-table";
import type { BeatList, LoadedBeat } from "./rows/kept-beat";
import { EchoPocketDatabase } from "./rows/database";
import { DexieStore } from "./rows/dexie-store";
import { Editors } from "./editors";
import { checkRows, checksOrNone, loadChecks, type UnreadableRow } from "./rows/load-checks";
import { chunkOf, LookbackTable } from "./tables/lookback-table";
import type { RowStore, Rows } from "./rows/row-store";
import type { DamagedRecord, SoundRecord } from "./rows/rows";
import { SampleTable } from "./tables/sample-table";
import { StateTable } from "./tables/state-table";
import { StoreAccess, USUAL_LIMITS, type AccessLimits, type MemoryReason } from "./tables/store-access";
import { TabChannel } from "./tab-channel";
import { localStorageOf } from "./tables/unload-backup";

const SEEDED = "demo-seeded";

export interface RepositoryDeps {
  readonly store: RowStore;
  readonly now: () => number;
  readonly storage: Storage | undefined;
  readonly locks: LockManager | undefined;
  readonly openChannel: () => BroadcastChannel | undefined;
  readonly limits: AccessLimits;
}

const usualDeps = (): RepositoryDeps => ({
  store: new DexieStore(new EchoPocketDatabase()),
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
  private readonly channel: TabChannel;
  private readonly closing = new Set<Promise<unknown>>();
  private readonly limits: AccessLimits;
  private readonly now: () => number;
  private seeding: Promise<void> | undefined;

  constructor(deps: Partial<RepositoryDeps> = {}) {
    const { store, now, storage, locks, openChannel, limits } = { ...usualDeps(), ...deps };
    this.now = now;
    this.limits = limits;
    this.access = new StoreAccess(store, limits);
    this.samples = new SampleTable(this.access, now);
    this.beats = new BeatTable({ access: this.access, samples: this.samples, now, storage, newId });
    this.lookback = new LookbackTable(this.access, now, storage);
    this.states = new StateTable(this.access, this.samples, now);
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
    const { closingMs } = this.limits;
    const closed = Promise.all(this.closing);
    if (closingMs === undefined) return void (await closed);
    let timer: ReturnType<typeof setTimeout> | undefined;
    await Promise.race([closed, new Promise<void>((done) => (timer = setTimeout(done, closingMs)))]);
    clearTimeout(timer);
  }

  /**
   * Beats, the last changed first. The first call in a new browser puts the demo beats there.
   * @param most older ones than so many on disk are not looked at
   */
  async list(most?: number): Promise<BeatList> {
    await this.settled();
    await this.seedDemo();
    return this.beats.list(most);
  }

  async load(id: string): Promise<LoadedBeat> {
    await this.seedDemo();
    return this.beats.load(id);
  }

  /** Unreadable rows besides beats; none if nothing can be checked. */
  async readUnreadable(): Promise<readonly Unreadable[]> {
    const checks = await checksOrNone();
    if (!checks) return [];
    const damaged = await this.access.read(["damaged"], (rows) => rows.damaged.list(), []);
    const aside = damaged.map(checks.readDamagedRow);
    return [
      ...aside.map(
        ({ id, table, problem, record }) => ({ kept: "damaged", key: id, of: table, problem, record }) as const,
      ),
      ...listed("grooves", checkRows(await this.rowsOf("grooves"), checks.checkGrooveRow).unreadable),
      ...listed("ownKits", checkRows(await this.rowsOf("ownKits"), checks.checkKitRow).unreadable),
      ...listed("profiles", checkRows(await this.rowsOf("profiles"), checks.readProfileRow).unreadable),
      ...listed("keptStates", await this.states.unreadable()),
    ];
  }

  /** Lets go of what can't be read, for good. */
  async forget(unreadable: readonly Unreadable[]): Promise<void> {
    const tables = ["damaged", "grooves", "ownKits", "profiles", "keptStates"] as const;
    const forget = async (rows: Rows<(typeof tables)[number]>) => {
      for (const { kept, key } of unreadable) await rows[kept].delete(key as never);
    };
    await this.access.change(tables, forget, undefined);
  }

  async readSound(key: string): Promise<Sound | undefined> {
    const row = await this.access.read(["sounds"], ({ sounds }) => sounds.get(key), undefined);
    return soundOf(row);
  }

  /** Sounds can be made again, so what does not fit is no trouble worth telling. */
  async writeSound(key: string, sound: Sound): Promise<void> {
    await this.access.store.change(["sounds"], ({ sounds }) => sounds.put({ key, sound })).catch(() => undefined);
  }

  /** Lets go of those whose keys begin otherwise. */
  async forgetSoundsBut(prefix: string): Promise<void> {
    const forget = async ({ sounds }: Rows<"sounds">) =>
      sounds.delete(...(await sounds.keys()).filter((key) => !key.startsWith(prefix)));
    await this.access.change(["sounds"], forget, undefined);
  }

  /** Settings; members that can't be read are as in a new browser. @throws NotCheckedError */
  async readSettings(): Promise<Settings> {
    const { readSettingsRow } = await loadChecks();
    const row = await this.access.read(["settings"], ({ settings }) => settings.get("settings"), undefined);
    return readSettingsRow(row);
  }

  async writeSettings(settings: Settings): Promise<void> {
    await this.access.change(["settings"], (rows) => rows.settings.put({ key: "settings", settings }), undefined);
  }

  /** Profiles of devices, by name. @throws NotCheckedError */
  async readProfiles(): Promise<Readonly<Record<string, DeviceProfile>>> {
    const { readProfileRow } = await loadChecks();
    const { good } = checkRows(await this.rowsOf("profiles"), readProfileRow);
    return Object.fromEntries(good.map((profile) => [profile.device, profile]));
  }

  async writeProfile(profile: DeviceProfile): Promise<void> {
    await this.access.change(["profiles"], ({ profiles }) => profiles.put(profile), undefined);
  }

  /** The player's own grooves, by name. @throws NotCheckedError */
  async readGrooves(): Promise<readonly Groove[]> {
    const { checkGrooveRow } = await loadChecks();
    return checkRows(await this.rowsOf("grooves"), checkGrooveRow).good;
  }

  /** @returns false where the store does not take it, or it could not be read back */
  async writeGroove(groove: Groove): Promise<boolean> {
    const { checkGrooveRow } = await loadChecks();
    if (checkRows([groove], checkGrooveRow).unreadable.length > 0) return false;
    return this.access.change(["grooves"], async ({ grooves }) => (await grooves.put(groove), true), false);
  }

  async removeGroove(name: string): Promise<void> {
    await this.access.change(["grooves"], ({ grooves }) => grooves.delete(name), undefined);
  }

  /** The player's own kits, by name. @throws NotCheckedError */
  async readKits(): Promise<readonly OwnKit[]> {
    const { checkKitRow } = await loadChecks();
    return checkRows(await this.rowsOf("ownKits"), checkKitRow).good;
  }

  /** @returns false where the store does not take it, or it could not be read back */
  async writeKit(kit: OwnKit): Promise<boolean> {
    const { checkKitRow } = await loadChecks();
    if (checkRows([kit], checkKitRow).unreadable.length > 0) return false;
    return this.access.change(["ownKits"], async ({ ownKits }) => (await ownKits.put(kit), true), false);
  }

  /** @returns puts the samples back that it alone had, for when the kit itself is written again */
  async removeKit(name: string): Promise<() => Promise<void>> {
    const kit = await this.access.read(["ownKits"], ({ ownKits }) => ownKits.get(name), undefined);
    const putSamplesBack = await this.samples.hold([kit]);
    await this.access.change(["ownKits"], ({ ownKits }) => ownKits.delete(name), undefined);
    return putSamplesBack;
  }

  private rowsOf(name: "grooves" | "ownKits" | "profiles"): Promise<readonly unknown[]> {
    return this.access.read([name], (rows) => rows[name].list(), []);
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
    const isSeeded = async ({ marks }: Rows<"marks">) => (await marks.get(SEEDED)) !== undefined;
    if (await this.access.read(["marks"], isSeeded, false)) return;
    const changedAt = this.now();
    // Wanted once in a browser's life.
    const demo = await import("@/core/demo/demo").catch(() => undefined);
    if (!demo) return void (this.seeding = undefined);
    const { demoBeats, demoEchoes, demoSamples } = demo;
    // The first of the list stays the first on the shelf.
    const records = demoBeats().map((beat, index) => ({ id: beat.id, changedAt: changedAt - index, beat }));
    const seed = async ({ beats, marks, lookback, samples }: Rows<"beats" | "marks" | "lookback" | "samples">) => {
      if ((await marks.get(SEEDED)) !== undefined) return true;
      // One that came back from a backup is the player's.
      const known = new Set(await beats.keys());
      await beats.put(...records.filter(({ id }) => !known.has(id)));
      await samples.put(...Object.entries(demoSamples()).map(([id, wav]) => ({ id, wav, addedAt: changedAt })));
      await lookback.add(chunkOf(demoEchoes(changedAt)));
      await marks.put({ key: SEEDED });
      return true;
    };
    const seeded = await this.access.change(["beats", "marks", "lookback", "samples"], seed, false);
    if (seeded) return;
    this.beats.offerTrial(records);
    // The store may answer later, and then has its own.
    this.seeding = undefined;
  }
}

/** Something that can't be read, and what it was of. */
export interface Unreadable {
  /** The table that it lies in, and its key there. */
  readonly kept: "damaged" | "grooves" | "ownKits" | "profiles" | "keptStates";
  readonly key: string | number;
  readonly of: DamagedRecord["table"] | "grooves" | "ownKits" | "profiles" | "keptStates";
  readonly problem: string;
  readonly record: unknown;
}

const KEY_OF = { grooves: "name", ownKits: "name", profiles: "device", keptStates: "id" } as const;

function listed(table: keyof typeof KEY_OF, rows: readonly UnreadableRow[]): readonly Unreadable[] {
  return rows.map(({ row, problem }) => {
    const key = (row as Record<string, string | number>)[KEY_OF[table]]!;
    return { kept: table, key, of: table, problem, record: row };
  });
}

/** A stored sound, or undefined for anything else: it can be rendered again. */
function soundOf(row: unknown): Sound | undefined {
  const { sound } = (row ?? {}) as Partial<SoundRecord>;
  if (!sound || !Array.isArray(sound.layers) || !Array.isArray(sound.velocities)) return undefined;
  return sound.layers.flat().every((one) => one instanceof Float32Array) ? sound : undefined;
}
