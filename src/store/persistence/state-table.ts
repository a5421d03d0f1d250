import type { Beat } from "@/core/beat/beat";
import { checkBeatRecord } from "./check-record";
import type { EchoPocketDatabase, KeptStateRecord } from "./database";
import type { StoreAccess } from "./store-access";

/** A state of a beat without the beat. */
export type KeptState = Omit<KeptStateRecord, "beat">;

/** States that are kept of one beat. */
export const MAX_KEPT_STATES = 50;

/** Whole beats as they were when the player kept them under a name. What the store does not take is told, and nothing else. */
export class StateTable {
  private readonly database: EchoPocketDatabase;

  constructor(
    private readonly access: StoreAccess,
    private readonly now: () => number,
  ) {
    this.database = access.database;
  }

  /** Those of a beat, the newest first. */
  async list(beatId: string): Promise<readonly KeptState[]> {
    const records = await this.access.attempt(() => this.of(beatId).toArray(), []);
    return records.map(({ beat: _, ...state }) => state).sort((a, b) => b.atMs - a.atMs || b.id - a.id);
  }

  /** @returns false where the store does not take it */
  async keep(name: string, beat: Beat): Promise<boolean> {
    const record = { beatId: beat.id, name, atMs: this.now(), beat };
    return this.access.attempt(async () => (await this.database.keptStates.add(record)) > 0, false);
  }

  /** @returns the beat as it was; undefined where it is not there, or can't be read */
  async read(id: number): Promise<Beat | undefined> {
    const record = await this.access.attempt(() => this.database.keptStates.get(id), undefined);
    if (!record) return undefined;
    try {
      return await checkBeatRecord({ id: record.beatId, changedAt: record.atMs, beat: record.beat });
    } catch {
      return undefined;
    }
  }

  /** @returns the undo; undefined where it is not there */
  async remove(id: number): Promise<(() => Promise<void>) | undefined> {
    const { keptStates } = this.database;
    const record = await this.access.attempt(() => keptStates.get(id), undefined);
    if (!record) return undefined;
    await this.access.attempt(() => keptStates.delete(id), undefined);
    return async () => void (await this.access.attempt(() => keptStates.put(record), undefined));
  }

  private of(beatId: string) {
    return this.database.keptStates.where("beatId").equals(beatId);
  }
}
