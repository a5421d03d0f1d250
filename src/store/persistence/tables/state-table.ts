import type { Beat } from "@/core/beat/beat";
import { checkRows, loadChecks, type UnreadableRow } from "../rows/load-checks";
import type { Rows } from "../rows/row-store";
import type { KeptStateRecord } from "../rows/rows";
import type { SampleTable } from "./sample-table";
import type { StoreAccess } from "./store-access";

/** A state of a beat without the beat. */
export type KeptState = Omit<KeptStateRecord, "beat">;

/** States that are kept of one beat. */
export const MAX_KEPT_STATES = 50;

/** Whole beats as they were when the player kept them under a name. What the store does not take is told, and nothing else. */
export class StateTable {
  private readonly readable = new Set<number>();

  constructor(
    private readonly access: StoreAccess,
    private readonly samples: SampleTable,
    private readonly now: () => number,
  ) {}

  /** Those of a beat that can be read, the newest first. */
  async list(beatId: string): Promise<readonly KeptState[]> {
    const ofBeat = { index: "beatId", value: beatId };
    const rows = await this.access.read(["keptStates"], ({ keptStates }) => keptStates.list(ofBeat), []);
    const { good } = await this.check(rows);
    return good.map(({ beat: _, ...state }) => state).sort((a, b) => b.atMs - a.atMs || b.id - a.id);
  }

  /** Those of all beats that can't be read. States never change, so each that was found good is read once. */
  async unreadable(): Promise<readonly UnreadableRow[]> {
    const read = async ({ keptStates }: Rows<"keptStates">) => {
      const ids = (await keptStates.keys()).filter((id) => !this.readable.has(id));
      return Promise.all(ids.map((id) => keptStates.get(id)));
    };
    const { good, unreadable } = await this.check(await this.access.read(["keptStates"], read, []));
    for (const { id } of good) this.readable.add(id);
    return unreadable;
  }

  /** @returns false where the store does not take it */
  async keep(name: string, beat: Beat): Promise<boolean> {
    const row = { beatId: beat.id, name, atMs: this.now(), beat };
    return this.access.change(["keptStates"], async ({ keptStates }) => (await keptStates.add(row)) > 0, false);
  }

  /** @returns the beat as it was; undefined where it is not there, or can't be read */
  async read(id: number): Promise<Beat | undefined> {
    const row = await this.access.read(["keptStates"], ({ keptStates }) => keptStates.get(id), undefined);
    return (await this.check(row === undefined ? [] : [row])).good[0]?.beat;
  }

  /** @returns the undo; undefined where it is not there */
  async remove(id: number): Promise<(() => Promise<void>) | undefined> {
    const row = await this.access.read(["keptStates"], ({ keptStates }) => keptStates.get(id), undefined);
    if (row === undefined) return undefined;
    const putSamplesBack = await this.samples.hold([row]);
    await this.access.change(["keptStates"], ({ keptStates }) => keptStates.delete(id), undefined);
    return async () => {
      await putSamplesBack();
      await this.access.change(["keptStates"], ({ keptStates }) => keptStates.put(row as KeptStateRecord), undefined);
    };
  }

  private async check(rows: readonly unknown[]) {
    const { checkKeptStateRow } = await loadChecks();
    return checkRows(rows, checkKeptStateRow);
  }
}
