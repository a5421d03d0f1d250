import type { Beat, Pattern } from "@/core/beat/beat";
import { removePass } from "@/core/beat/edit";
import type { Recording } from "@/core/record/record-stroke";
import type { Repository } from "./repository";

const SAVE_DELAY_MS = 400;
/** Shorter than any lap, so that a crash loses no more of the pass than this. */
const JOURNAL_INTERVAL_MS = 500;

export interface AutosaveDeps {
  readonly repository: Pick<Repository, "save" | "writeJournal" | "clearJournal">;
  /** `journalTaken`: the journal holds the pass of an earlier page that nobody has decided about yet. */
  current(): { readonly beat: Beat; readonly recording: Recording | undefined; readonly journalTaken: boolean };
  onSaved(onDisk: boolean): void;
}

/**
 * Saves a while after the last edit. While a pass is open the beat is saved without it and the pass goes to the
 * journal, so that after a crash the player is asked instead of finding half a pass.
 */
export class Autosave {
  private saveTimer: ReturnType<typeof setTimeout> | undefined;
  private journalTimer: ReturnType<typeof setTimeout> | undefined;
  private changedAtMs = 0;
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
    this.changedAtMs = performance.now();
    this.saveTimer ??= setTimeout(() => this.saveWhenQuiet(), SAVE_DELAY_MS);
    if (this.deps.current().recording?.passId !== undefined) {
      this.journalTimer ??= setTimeout(() => void this.writeJournal(), JOURNAL_INTERVAL_MS);
    }
  }

  /** Saves now. @param whole also with the open pass, for a page that is going away in peace */
  async flush(whole = false): Promise<void> {
    this.stopSave();
    const { beat, recording, journalTaken } = this.deps.current();
    const settled = whole ? beat : withoutOpenPass(beat, recording);
    const onDisk = await this.deps.repository.save(settled);
    if (settled === beat) {
      this.stopJournal();
      if (!journalTaken) await this.deps.repository.clearJournal(beat.id);
      this.saved = beat;
    }
    this.deps.onSaved(onDisk);
  }

  stop(): void {
    this.stopSave();
    this.stopJournal();
  }

  /** One timer for a flood of changes: it waits on until the last of them is old enough. */
  private saveWhenQuiet(): void {
    this.saveTimer = undefined;
    const waitMs = this.changedAtMs + SAVE_DELAY_MS - performance.now();
    if (waitMs <= 0) void this.flush();
    else this.saveTimer = setTimeout(() => this.saveWhenQuiet(), waitMs);
  }

  private stopSave(): void {
    clearTimeout(this.saveTimer);
    this.saveTimer = undefined;
  }

  private stopJournal(): void {
    clearTimeout(this.journalTimer);
    this.journalTimer = undefined;
  }

  private async writeJournal(): Promise<void> {
    this.journalTimer = undefined;
    const { beat, recording } = this.deps.current();
    if (!recording) return;
    const pass = patternOf(beat, recording)?.passes.find(({ id }) => id === recording.passId);
    if (pass) await this.deps.repository.writeJournal({ beatId: beat.id, place: recording.place, pass });
  }
}

function withoutOpenPass(beat: Beat, open: Recording | undefined): Beat {
  if (open?.passId === undefined) return beat;
  const known = patternOf(beat, open)?.passes.some(({ id }) => id === open.passId);
  return known ? removePass(beat, open.place, open.passId) : beat;
}

/** Its pattern may have been undone. */
function patternOf(beat: Beat, { place }: Recording): Pattern | undefined {
  return beat.parts.find(({ id }) => id === place.partId)?.patterns.find(({ id }) => id === place.patternId);
}
