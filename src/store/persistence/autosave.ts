import type { Beat, Pattern } from "@/core/beat/beat";
import { removePass } from "@/core/beat/edit";
import { newPasses, type KeptPass } from "@/core/beat/edits/kept-pass";
import type { Recording } from "@/core/record/record-stroke";
import type { History } from "@/core/beat/history";
import { sameBesideIds } from "@/core/beat/same-beside-ids";
import type { BeatTable } from "./tables/beat-table";
import type { KeptBeat, Saved } from "./rows/kept-beat";
import { StepLog } from "./rows/step-log";

/** A beat is saved when nothing was changed for so long, and at the latest so long after the first change. */
const SAVE_DELAY_MS = 400;
const LONGEST_WAIT_MS = 1500;
/** The same while nothing has changed but the open pass, which the journal holds: the rest is on disk as it is. */
const LONGEST_WAIT_RECORDING_MS = 6000;
/** Shorter than any lap, so that a crash loses no more of what is recorded than this. */
const JOURNAL_INTERVAL_MS = 500;

export interface AutosaveDeps {
  readonly beats: Pick<BeatTable, "save" | "writeJournal" | "leave" | "hasLostSteps">;
  /** Who this page is as an editor. */
  readonly editor?: string;
  /** `lost`: what an earlier page did not live to keep, and nobody has decided about yet. */
  current(): {
    readonly history: History<Beat>;
    readonly recordings: readonly Recording[];
    readonly recoverable: readonly KeptPass[];
  };
  onSaved(saved: Saved): void;
}

/**
 * Saves a while after an edit. While a pass is open the beat is saved without it, and the journal holds it, so that after a
 * crash the player is asked instead of finding half a pass. Beat and journal on disk are always the whole together: what was
 * recorded since the last save is in the journal, too.
 */
export class Autosave {
  private saveTimer: ReturnType<typeof setTimeout> | undefined;
  private journalTimer: ReturnType<typeof setTimeout> | undefined;
  private changedAtMs = 0;
  private unsavedSinceMs: number | undefined;
  private openPasses: ReadonlySet<string> = new Set();
  /** The history as it was given to be saved last, with what was open, and the beat as it is on disk. */
  private given!: History<Beat>;
  private settled!: Beat;
  private steps!: StepLog;

  /** @param start what is on disk */
  constructor(
    private readonly deps: AutosaveDeps,
    start: History<Beat>,
  ) {
    this.restart(start);
  }

  get pending(): boolean {
    return this.deps.current().history !== this.given;
  }

  /** What is on disk is this. */
  restart(history: History<Beat>): void {
    this.stop();
    this.given = history;
    this.settled = history.present;
    this.steps = new StepLog(history);
  }

  /** To be called after every change. */
  changed(): void {
    this.changedAtMs = performance.now();
    this.unsavedSinceMs ??= this.changedAtMs;
    const { recordings } = this.deps.current();
    const open = new Set(recordings.map(({ patternRef, passId }) => `${patternRef.patternId} ${passId}`));
    const settled = [...this.openPasses].some((pass) => !open.has(pass));
    this.openPasses = open;
    if (settled) this.saveSoon();
    else this.saveTimer ??= setTimeout(() => this.saveWhenQuiet(), SAVE_DELAY_MS);
    if (recordings.length > 0) this.journalTimer ??= setTimeout(() => void this.writeJournal(), JOURNAL_INTERVAL_MS);
  }

  /** Saves now. @param whole also with the open pass, for a page that is going away in peace */
  async flush(whole = false): Promise<void> {
    this.stopSave();
    const { steps } = this;
    const { history } = this.deps.current();
    const kept = this.keptBeat(whole);
    const saved = await this.deps.beats.save(kept, this.deps.editor);
    if (saved === "disk") steps.written(kept.steps);
    if (saved !== "taken") {
      this.settled = kept.beat;
      if (kept.beat === history.present) this.given = history;
    }
    this.deps.onSaved(saved);
  }

  /** Leaves everything for the next page, for one that the browser takes away. */
  leave(): void {
    this.deps.beats.leave(this.keptBeat(true), this.deps.editor);
  }

  stop(): void {
    this.stopSave();
    this.stopJournal();
  }

  private get beat(): Beat {
    return this.deps.current().history.present;
  }

  private keptBeat(whole: boolean): Required<KeptBeat> {
    const { history, recoverable: lost, recordings } = this.deps.current();
    const open = whole ? [] : recordings;
    const beat = withoutOpen(history.present, open);
    if (this.deps.beats.hasLostSteps(beat.id)) this.steps.forget();
    const steps = this.steps.changes(history, (one) => withoutOpen(one, open));
    return { beat, passes: [...lost, ...newPasses(history.present, beat)], steps };
  }

  private onlyOpenIsNew(): boolean {
    const { recordings } = this.deps.current();
    return recordings.length > 0 && sameBesideIds(withoutOpen(this.beat, recordings), this.settled);
  }

  /** One timer for a flood of changes: it waits on until the last of them is old enough, or the first one is too old. */
  private saveWhenQuiet(): void {
    this.saveTimer = undefined;
    const nowMs = performance.now();
    const quietMs = this.changedAtMs + SAVE_DELAY_MS - nowMs;
    const longestMs = this.onlyOpenIsNew() ? LONGEST_WAIT_RECORDING_MS : LONGEST_WAIT_MS;
    const latestMs = (this.unsavedSinceMs ?? nowMs) + longestMs - nowMs;
    const waitMs = Math.min(quietMs, latestMs);
    if (waitMs <= 0) void this.flush();
    else this.saveTimer = setTimeout(() => this.saveWhenQuiet(), waitMs);
  }

  /** At once, but not within the stroke that brought it about. */
  private saveSoon(): void {
    this.stopSave();
    this.saveTimer = setTimeout(() => void this.flush(), 0);
  }

  private stopSave(): void {
    clearTimeout(this.saveTimer);
    this.saveTimer = undefined;
    this.unsavedSinceMs = undefined;
  }

  private stopJournal(): void {
    clearTimeout(this.journalTimer);
    this.journalTimer = undefined;
  }

  private async writeJournal(): Promise<void> {
    this.journalTimer = undefined;
    const { recordings, recoverable: lost } = this.deps.current();
    const { beat } = this;
    if (recordings.length === 0) return;
    const passes = [...lost, ...newPasses(beat, this.settled)];
    if (passes.length > 0) await this.deps.beats.writeJournal(beat.id, passes, this.deps.editor);
  }
}

function withoutOpen(beat: Beat, recordings: readonly Recording[]): Beat {
  return recordings.reduce(withoutOpenPass, beat);
}

function withoutOpenPass(beat: Beat, recording: Recording): Beat {
  if (recording.passId === undefined) return beat;
  const known = patternOf(beat, recording)?.passes.some(({ id }) => id === recording.passId);
  return known ? removePass(beat, recording.patternRef, recording.passId) : beat;
}

/** Its pattern may have been undone. */
function patternOf(beat: Beat, { patternRef }: Recording): Pattern | undefined {
  return beat.parts.find(({ id }) => id === patternRef.partId)?.patterns.find(({ id }) => id === patternRef.patternId);
}
