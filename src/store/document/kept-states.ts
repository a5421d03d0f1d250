import type { Beat } from "@/core/beat/beat";
import type { Repository } from "../persistence/repository";
import { MAX_KEPT_STATES, type KeptState } from "../persistence/tables/state-table";
import { newId } from "../new-id";
import { Controller, type WorkspaceStore } from "../state/controller";
import type { BeatDocument } from "./beat-document";
import { plainName } from "@/core/beat/plain-name";

const NOT_TAKEN = "The browser’s store does not take it; nothing was kept.";

/** The beat as it is now, kept under a name to go back to, or saved beside it as another one. */
export class KeptStates extends Controller {
  private restore: (() => Promise<void>) | undefined;

  constructor(
    store: WorkspaceStore,
    private readonly repository: Repository,
    private readonly document: BeatDocument,
  ) {
    super(store);
  }

  /** Reads what is kept. */
  async open(): Promise<void> {
    this.set({ removedState: undefined });
    await this.list();
  }

  /** @param name a blank one is that of the moment */
  async keep(name: string): Promise<void> {
    if (!this.document.admits(this.beat)) return;
    if (this.state.keptStates.length >= MAX_KEPT_STATES)
      return this.set({ notice: `${MAX_KEPT_STATES} states are the most; delete one to make room.` });
    const wanted = nameOf(name, `State ${this.state.keptStates.length + 1}`);
    const kept = await this.repository.states.keep(wanted, this.beat);
    await this.list();
    this.set({ notice: kept ? `Saved as “${wanted}”.` : NOT_TAKEN });
  }

  /** The beat becomes what it was, under the name that it has now; one step of undo. */
  async goBack({ id, name }: KeptState): Promise<void> {
    const kept = await this.repository.states.read(id);
    if (!kept) return this.set({ notice: `“${name}” can’t be read.` });
    this.document.edit(asItWas(this.beat, kept), `Go back to “${name}”`);
  }

  async remove({ id, name }: KeptState): Promise<void> {
    if (!this.document.admits(this.beat)) return;
    this.restore = await this.repository.states.remove(id);
    await this.list();
    this.set({ removedState: this.restore && name });
  }

  /** The one that was deleted last is there again. */
  async bringBack(): Promise<void> {
    await this.restore?.();
    this.restore = undefined;
    await this.open();
  }

  /** Puts a copy of the beat on the shelf; this one stays open. */
  async saveAs(name: string): Promise<void> {
    const copy = { ...this.beat, id: newId(), name: nameOf(name, this.beat.name) };
    const { beats } = this.repository;
    const added = await beats.add(copy, "free");
    this.set({
      notice: beats.isUnwritten(added.id) ? NOT_TAKEN : `“${added.name}” is on the shelf; this one stays open.`,
    });
  }

  private async list(): Promise<void> {
    this.set({ keptStates: await this.repository.states.list(this.beat.id) });
  }
}

function nameOf(name: string, otherwise: string): string {
  return plainName(name) || otherwise;
}

/** Ids that were given since are not given again. */
function asItWas({ name, nextId }: Beat, kept: Beat): Beat {
  return { ...kept, name, nextId: Math.max(nextId, kept.nextId) };
}
