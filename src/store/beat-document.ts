import type { Beat } from "@/core/beat/beat";
import { addHits, addPass } from "@/core/beat/edit";
import { commit, redo, undo, type History } from "@/core/beat/history";
import { existingPlace } from "@/core/beat/pattern-edit";
import { Autosave } from "./autosave";
import type { Repository } from "./repository";
import { WorkspacePart, type WorkspaceStore } from "./workspace-part";

export const READ_ONLY_NOTICE = "This beat is open in another tab; here it can only be played.";

/** The document of an open beat: its edits, their undo, and keeping it. */
export class BeatDocument extends WorkspacePart {
  private readonly autosave: Autosave;
  private readonly listeners = new Set<() => void>();

  constructor(
    store: WorkspaceStore,
    private readonly repository: Repository,
  ) {
    super(store);
    this.autosave = new Autosave(
      {
        repository,
        current: () => ({
          beat: this.beat,
          recording: this.state.recording,
          journalTaken: this.state.lostPass !== undefined,
        }),
        onSaved: (onDisk) => this.set({ saveState: this.autosave.pending ? "saving" : onDisk ? "saved" : "memory" }),
      },
      this.beat,
    );
    if (!this.state.readOnly) void this.findLostPass();
  }

  /** @returns the undo of the subscription; the listener hears of every change of the beat */
  onChange(listener: () => void): () => void {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  }

  /** Makes an edit of the player's; refused where another tab has the beat. */
  edit(beat: Beat, label: string, mergeKey?: string): void {
    if (this.state.readOnly) return this.set({ notice: READ_ONLY_NOTICE });
    this.replace(commit(this.state.history, beat, label, mergeKey), "");
  }

  undo(): void {
    const label = this.state.history.past.at(-1)?.label;
    if (label) this.replace(undo(this.state.history), `Undone: ${label}`);
  }

  redo(): void {
    const label = this.state.history.future[0]?.label;
    if (label) this.replace(redo(this.state.history), `Redone: ${label}`);
  }

  /** Puts the pass of a crashed page on top of its pattern, with new ids. */
  takeLostPass(muted = false): void {
    const { lostPass } = this.state;
    if (!lostPass) return;
    const { hits, ...pass } = lostPass.pass;
    const place = existingPlace(this.beat, lostPass.place);
    const added = addPass(this.beat, place, { ...pass, muted });
    this.edit(addHits(added.beat, place, added.passId, hits), "Bring back a pass");
    this.set({ lostPass: undefined });
  }

  dropLostPass(): void {
    this.set({ lostPass: undefined });
    void this.repository.clearJournal(this.beat.id);
  }

  /** Something that decides what is kept has changed besides the beat: record went out. */
  settled(): void {
    this.autosave.changed();
  }

  /** For a page that goes away in peace: everything, also the open pass. */
  async flush(): Promise<void> {
    if (!this.state.readOnly && this.autosave.pending) await this.autosave.flush(true);
  }

  /** For a page that the browser takes away: its store answers too late. */
  leave(): void {
    if (!this.state.readOnly && this.autosave.pending) this.repository.leave(this.beat);
    void this.flush();
  }

  stop(): void {
    this.autosave.stop();
  }

  private replace(history: History<Beat>, notice: string): void {
    if (history.present === this.beat) return;
    const place = existingPlace(history.present, this.state.place);
    const { queued } = this.state;
    const queuedIsThere = queued && existingPlace(history.present, queued.place) === queued.place;
    this.set({ history, place, queued: queuedIsThere ? queued : undefined, notice, saveState: "saving" });
    this.listeners.forEach((listener) => listener());
    this.autosave.changed();
  }

  private async findLostPass(): Promise<void> {
    const lost = await this.repository.readJournal(this.beat.id);
    if (lost && lost.pass.hits.length > 0) this.set({ lostPass: lost });
  }
}
