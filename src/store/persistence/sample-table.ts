import type { OwnSamples } from "@/core/sound/own-sample";
import type { BeatRecord, EchoPocketDatabase, SampleRecord } from "./database";
import type { StoreAccess } from "./store-access";

/** What nobody uses yet may be on its way into a beat that is not saved. */
const KEPT_AT_LEAST_MS = 10 * 60_000;

/** Of a record with a beat its pads, of another one all: a beat may have a hundred thousand hits. It may be damaged. */
function whereSamplesAre(record: unknown): unknown {
  const parts = (record as Partial<BeatRecord>).beat?.parts;
  return Array.isArray(parts) ? parts.map((part: { pads?: unknown } | undefined) => part?.pads) : record;
}

/** The samples of the player's own, each once, by the digest of its WAV file. */
export class SampleTable {
  private readonly database: EchoPocketDatabase;

  constructor(
    private readonly access: StoreAccess,
    private readonly now: () => number,
  ) {
    this.database = access.database;
  }

  /** @returns false where the store does not take all of them; then none is there that was not before */
  async put(files: Readonly<Record<string, Uint8Array<ArrayBuffer>>>): Promise<boolean> {
    const records = Object.entries(files).map(([id, wav]): SampleRecord => ({ id, wav, addedAt: this.now() }));
    const { samples } = this.database;
    return this.access.attempt(
      () => this.database.transaction("rw", samples, async () => (await samples.bulkPut(records), true)),
      false,
    );
  }

  /** Their WAV files; without those that are not there. */
  async files(ids: readonly string[]): Promise<Readonly<Record<string, Uint8Array<ArrayBuffer>>>> {
    const records = await this.access.attempt(() => this.database.samples.bulkGet([...ids]), []);
    return Object.fromEntries(records.flatMap((record) => (record ? [[record.id, record.wav]] : [])));
  }

  /** The same as samples; one that is damaged is as good as none. */
  async read(ids: readonly string[]): Promise<OwnSamples> {
    const files = await this.files(ids);
    const { readSampleWav } = await import("@/core/formats/sample-wav");
    return Object.fromEntries(
      Object.entries(files).flatMap(([id, wav]) => {
        try {
          return [[id, readSampleWav(wav)]];
        } catch {
          return [];
        }
      }),
    );
  }

  /** Clears what no beat uses, nor a state of one that can be gone back to, nor a kit. @returns how many went */
  async clearUnused(): Promise<number> {
    const { beats, steps, keptStates, ownKits, samples } = this.database;
    const clear = () =>
      this.database.transaction("rw", [beats, steps, keptStates, ownKits, samples], async () => {
        const before = this.now() - KEPT_AT_LEAST_MS;
        const ids = new Set(await samples.filter(({ addedAt }) => addedAt < before).primaryKeys());
        const uses = (record: unknown) => {
          if (ids.size === 0) return;
          const text = JSON.stringify(whereSamplesAre(record));
          for (const id of ids) if (text.includes(id)) ids.delete(id);
        };
        for (const table of [beats, steps, keptStates, ownKits]) if (ids.size > 0) await table.each(uses);
        await samples.bulkDelete([...ids]);
        return ids.size;
      });
    return this.access.attempt(clear, 0);
  }
}
