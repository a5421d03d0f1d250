import type { Beat } from "@/core/beat/beat";
import { findPattern, removePass } from "@/core/beat/edit";
import type { OpenPass } from "@/core/record/record-stroke";
import type { Repository } from "./repository";

const SAVE_DELAY_MS = 400;
/** Shorter than any lap, so that a crash loses no more of the pass than this. */
const JOURNAL_INTERVAL_MS = 500;

export interface AutosaveDeps {
  readonly repository: Pick<Repository, "save" | "writeJournal" | "clearJournal">;
  /** `journalTaken`: the journal holds the pass of an earlier page that nobody has decided about yet. */
  current(): { readonly beat: Beat; readonly openPass: OpenPass | undefined; readonly journalTaken: boolean };
  onSaved(onDisk: boolean): void;
}

/**
 * Saves a while after the last edit. While a pass is open the beat is saved without it and the pass goes to the
 * journal, so that after a crash the player is asked instead of finding half a pass.
 */
export class Autosave {
  private saveTimer: ReturnType<typeof setTimeout> | undefined;
  private journalTimer: ReturnType<typeof setTimeout> | undefined;
  private saved: Beat;

  constructor(
    private readonly deps: AutosaveDeps,
    start: Beat,
  ) {
    this.saved = start;
  }

  get pending(): boolean {
    return this.deps.current().beat !== this.saved;
  }

  /** To be called after every change. */
  changed(): void {
    clearTimeout(this.saveTimer);
    this.saveTimer = setTimeout(() => void this.flush(), SAVE_DELAY_MS);
    if (this.deps.current().openPass?.passId !== undefined) {
      this.journalTimer ??= setTimeout(() => void this.writeJournal(), JOURNAL_INTERVAL_MS);
    }
  }

  /** Saves now. @param whole also with the open pass, for a page that is going away in peace */
  async flush(whole = false): Promise<void> {
    clearTimeout(this.saveTimer);
    const { beat, openPass, journalTaken } = this.deps.current();
    const settled = whole ? beat : withoutOpenPass(beat, openPass);
    const onDisk = await this.deps.repository.save(settled);
    if (settled === beat) {
      this.stopJournal();
      if (!journalTaken) await this.deps.repository.clearJournal(beat.id);
      this.saved = beat;
    }
    this.deps.onSaved(onDisk);
  }

  stop(): void {
    clearTimeout(this.saveTimer);
    this.stopJournal();
  }

  private stopJournal(): void {
    clearTimeout(this.journalTimer);
    this.journalTimer = undefined;
  }

  private async writeJournal(): Promise<void> {
    this.journalTimer = undefined;
    const { beat, openPass } = this.deps.current();
    if (!openPass) return;
    const pass = findPattern(beat, openPass.place).passes.find(({ id }) => id === openPass.passId);
    if (pass) await this.deps.repository.writeJournal({ beatId: beat.id, place: openPass.place, pass });
  }
}

function withoutOpenPass(beat: Beat, open: OpenPass | undefined): Beat {
  if (open?.passId === undefined) return beat;
  const known = findPattern(beat, open.place).passes.some(({ id }) => id === open.passId);
  return known ? removePass(beat, open.place, open.passId) : beat;
}
