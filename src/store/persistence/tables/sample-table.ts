import type { OwnSamples } from "@/core/sound/kits/own-sample";
import { checkRows, loadChecks } from "../rows/load-checks";
import type { BeatRecord, SampleRecord } from "../rows/rows";
import type { StoreAccess } from "./store-access";

/** What nobody uses yet may be on its way into a beat that is not saved. */
const KEPT_AT_LEAST_MS = 10 * 60_000;

/** Of a record with a beat its pads, of another one all: a beat may have a hundred thousand hits. It may be damaged. */
function whereSamplesAre(record: unknown): unknown {
  const parts = (record as Partial<BeatRecord> | null | undefined)?.beat?.parts;
  return Array.isArray(parts) ? parts.map((part: { pads?: unknown } | undefined) => part?.pads) : record;
}

const textOf = (record: unknown) => JSON.stringify(whereSamplesAre(record) ?? null);

/** A digest, as samples are named by. */
const SAMPLE_ID = /[0-9a-f]{32}/g;

/** One that does not say since when it is there stays. */
function isOlder(row: unknown, beforeMs: number): boolean {
  const { addedAt } = (row ?? {}) as Partial<SampleRecord>;
  return addedAt !== undefined && addedAt < beforeMs;
}

/** The samples of the player's own, each once, by the digest of its WAV file. */
export class SampleTable {
  constructor(
    private readonly access: StoreAccess,
    private readonly now: () => number,
  ) {}

  /** @returns false where the store does not take all of them; then none is there that was not before */
  async put(files: Readonly<Record<string, Uint8Array<ArrayBuffer>>>): Promise<boolean> {
    const rows = Object.entries(files).map(([id, wav]): SampleRecord => ({ id, wav, addedAt: this.now() }));
    return this.access.change(["samples"], async ({ samples }) => (await samples.put(...rows), true), false);
  }

  /** Their WAV files; without those that are not there, or can't be read. */
  async files(ids: readonly string[]): Promise<Readonly<Record<string, Uint8Array<ArrayBuffer>>>> {
    const records = await this.rows(ids);
    return Object.fromEntries(records.map(({ id, wav }) => [id, wav]));
  }

  /** Reads samples; those that are missing or can't be read are left out. */
  async read(ids: readonly string[]): Promise<OwnSamples> {
    const [records, { readSampleWav }] = await Promise.all([this.rows(ids), loadChecks()]);
    return Object.fromEntries(records.map(({ id, wav }) => [id, readSampleWav(wav)]));
  }

  /** Holds the samples that records name, whatever they are, which are about to go. @returns puts the samples back */
  async hold(records: readonly unknown[]): Promise<() => Promise<void>> {
    const ids = new Set(records.flatMap((record) => textOf(record).match(SAMPLE_ID) ?? []));
    const held = ids.size === 0 ? {} : await this.files([...ids]);
    return async () => {
      if (Object.keys(held).length > 0) await this.put(held);
    };
  }

  /** Clears what no beat uses, nor a state of one that can be gone back to, nor a kit. @returns how many went */
  async clearUnused(): Promise<number> {
    const tables = ["beats", "steps", "keptStates", "ownKits", "samples"] as const;
    return this.access.change(
      tables,
      async (rows) => {
        const before = this.now() - KEPT_AT_LEAST_MS;
        const ids = new Set<string>();
        await rows.samples.each((row, id) => {
          if (isOlder(row, before)) ids.add(id);
          return true;
        });
        const uses = (row: unknown) => {
          const text = textOf(row);
          for (const id of ids) if (text.includes(id)) ids.delete(id);
          return ids.size > 0;
        };
        for (const name of ["beats", "steps", "keptStates", "ownKits"] as const)
          if (ids.size > 0) await rows[name].each(uses);
        await rows.samples.delete(...ids);
        return ids.size;
      },
      0,
    );
  }

  private async rows(ids: readonly string[]): Promise<readonly SampleRecord[]> {
    const get = () => this.access.read(["samples"], ({ samples }) => Promise.all(ids.map((id) => samples.get(id))), []);
    const [{ checkSampleRow }, rows] = await Promise.all([loadChecks(), get()]);
    return checkRows(
      rows.filter((row) => row !== undefined),
      checkSampleRow,
    ).good;
  }
}
