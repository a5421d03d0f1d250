import type { Beat, PatternRef } from "@/core/beat/beat";
import { renameBeat } from "@/core/beat/edit";
import { nearlyFull, tooFull } from "@/core/beat/samples/fullness";
import { amend, commit, goToStep, redo, undo, type History, type HistoryStep } from "@/core/beat/history";
import { putBack } from "@/core/beat/edits/kept-pass";
import { firstPlace } from "@/core/beat/new-beat";
import { existingPlace } from "@/core/beat/edits/pattern-edit";
import { CoreError } from "@/core/core-error";
import type { BeatCheck } from "@/core/formats/beat-check";
import { Autosave } from "../persistence/autosave";
import type { LoadedBeat, Saved } from "../persistence/rows/kept-beat";
import type { EditorListener } from "../persistence/editors";
import { checksOrNone } from "../persistence/rows/load-checks";
import type { Repository } from "../persistence/repository";
import { askToPersist } from "../persistence/storage-room";
import { Controller, type WorkspaceStore } from "../state/controller";

export const READ_ONLY_NOTICES = {
  elsewhere: "This beat is open in another tab; here it can only be played.",
  "no locks": "Here the app can't tell whether another tab has this beat, so it can only be played.",
} as const;

type FoundBeat = Extract<LoadedBeat, { status: "found" }>;

/** @param patient what has changed sounds in the next lap at the earliest */
type ChangeListener = (patient: boolean) => void;

/** The document of an open beat: its edits, their undo, and keeping it. */
export class BeatDocument extends Controller implements EditorListener {
  private readonly autosave: Autosave;
  private readonly listeners = new Set<ChangeListener>();
  private readonly travelListeners = new Set<(before: Beat) => void>();
  private askedToPersist = false;
  /** There as soon as it is loaded, as a rule with the beat. */
  private check: BeatCheck | undefined;

  /** @param editor who this page is to the other tabs */
  constructor(
    store: WorkspaceStore,
    private readonly repository: Repository,
    editor?: string,
  ) {
    super(store);
    const current = () => ({
      history: this.state.history,
      recordings: Object.values(this.state.recordings),
      recoverable: this.state.lostPasses,
    });
    const deps = { beats: repository.beats, current, onSaved: (saved: Saved) => this.saved(saved) };
    this.autosave = new Autosave({ ...deps, ...(editor && { editor }) }, this.state.history);
    void this.loadCheck();
  }

  /** Trusts the opened beat: it was checked when it was read. */
  private async loadCheck(): Promise<void> {
    const { beat } = this;
    const checks = await checksOrNone();
    this.check = checks?.newBeatCheck();
    this.check?.trust(beat);
  }

  /** @returns the undo of the subscription; the listener hears of every change of the beat */
  onChange(listener: ChangeListener): () => void {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  }

  /** @returns the undo of the subscription; the listener hears of every step along the history, with the beat before it */
  onTravel(listener: (before: Beat) => void): () => void {
    this.travelListeners.add(listener);
    return () => this.travelListeners.delete(listener);
  }

  /** True where an edit would be taken; else the player is told why not. */
  admits(beat: Beat): boolean {
    const notice = this.state.readOnly ? this.readOnlyNotice : (tooFull(this.beat, beat) ?? this.unkeepable(beat));
    if (notice !== undefined) this.set({ notice });
    return notice === undefined;
  }

  /**
   * Makes an edit of the player's; refused where another tab has the beat, and where it would hold too much.
   * @param patient it sounds in the next lap at the earliest
   * @returns whether it was made; where not, the player has been told why
   */
  edit(beat: Beat, label: string, mergeKey?: string, patient = false): boolean {
    const name = { label, mergeKey, atMs: Date.now() };
    if (!this.admits(beat)) return false;
    this.replace(commit(this.state.history, beat, name), "", patient);
    return true;
  }

  /**
   * Makes a change that is no step of its own, in every step that has what is changed.
   * @param edit gives the same beat back where there is nothing to change
   * @param patient it sounds in the next lap at the earliest
   */
  amend(edit: (beat: Beat) => Beat, patient: boolean): void {
    if (!this.state.readOnly) this.replace(amend(this.state.history, edit), "", patient);
  }

  undo(): void {
    const label = this.state.history.past.at(-1)?.label;
    if (label) this.travel(undo, `Undone: ${label}`);
  }

  redo(): void {
    const label = this.state.history.future[0]?.label;
    if (label) this.travel(redo, `Redone: ${label}`);
  }

  /** Undoes or does again until a step is the last that was made. @param number 0 for the state before the oldest one */
  goToStep(number: number): void {
    this.travel((history) => goToStep(history, number), "Gone along the history");
  }

  private travel(way: (history: History<Beat>) => History<Beat>, notice: string): void {
    if (this.state.readOnly) return this.set({ notice: this.readOnlyNotice });
    const before = this.beat;
    try {
      this.replace(way(this.state.history), notice);
      if (this.beat !== before) this.travelListeners.forEach((listener) => listener(before));
    } catch (error) {
      if (!(error instanceof CoreError)) throw error;
      this.forgetRestored();
    }
  }

  /** What an earlier page made can't be read: from it on there is no way back. The beat stays as it is. */
  private forgetRestored(): void {
    const { past, present, future } = this.state.history;
    const own = ({ document }: HistoryStep<Beat>) => typeof document !== "function";
    const history = { past: past.filter(own), present, future: future.filter(own) };
    this.set({ history, notice: "That step can’t be read any more; the beat stays as it is." });
    this.autosave.changed();
  }

  rename(name: string): void {
    this.edit(renameBeat(this.beat, name), "Rename");
  }

  /** Puts what a crashed page was recording on top of its patterns, with new ids. */
  restoreRecoverable(): void {
    const { lostPasses } = this.state;
    const beat = putBack(this.beat, lostPasses);
    if (lostPasses.length === 0 || !this.admits(beat)) return;
    this.set({ lostPasses: [] });
    this.edit(beat, lostPasses.length === 1 ? "Bring back a pass" : "Bring back passes");
  }

  dropLost(): void {
    this.set({ lostPasses: [] });
    void this.autosave.flush();
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
    if (!this.state.readOnly && this.autosave.pending) this.autosave.leave();
    void this.flush();
  }

  /** What was only in memory is on disk now. */
  written(): void {
    if (this.state.saveState === "memory" && !this.repository.beats.isUnwritten(this.beat.id))
      this.set({ saveState: this.autosave.pending ? "saving" : "saved" });
  }

  /** This tab may edit the beat from now on, and goes on from what is on disk. */
  async begin(): Promise<void> {
    const loaded = await this.repository.load(this.beat.id);
    if (loaded.status !== "found") return this.set({ notice: "This beat is not there any more." });
    this.show(loaded, "This beat can be changed here now; what another tab changed was fetched.");
  }

  /** Another tab goes on with the beat. */
  async end(): Promise<void> {
    this.set({ recordings: {}, transport: { ...this.state.transport, writing: "off", waiting: false } });
    await this.autosave.flush(true);
    this.retire("Another tab goes on with this beat.");
  }

  /** Another tab took the beat while this one was asleep; what it had not saved becomes a beat of its own. */
  stolen(): void {
    if (this.state.readOnly) return;
    if (this.autosave.pending) void this.saveBeside();
    else this.retire("Another tab goes on with this beat.");
  }

  stop(): void {
    this.autosave.stop();
  }

  /** Explains why a beat could not be read back: one wrong number would make all of it unreadable. */
  private unkeepable(beat: Beat): string | undefined {
    const problem = this.check?.problemIn(beat);
    return problem && `That can’t be kept in a beat, so nothing was changed: ${problem}.`;
  }

  private get readOnlyNotice(): string {
    const { editorState } = this.state;
    return READ_ONLY_NOTICES[editorState === "no locks" ? editorState : "elsewhere"];
  }

  private async saveBeside(): Promise<void> {
    const { beat } = this;
    this.retire("Another tab goes on with this beat.");
    const copy = await this.repository.beats.add({ ...beat, name: `${beat.name.slice(0, 100)} (other window)` });
    this.set({ notice: `Another tab goes on with this beat. What was not saved here is “${copy.name}” on the shelf.` });
  }

  private retire(notice: string): void {
    this.autosave.stop();
    this.set({ readOnly: true, editorState: "elsewhere", recordings: {}, notice });
  }

  private saved(saved: Saved): void {
    if (saved === "taken") return this.stolen();
    const onDisk = saved === "disk" ? "saved" : "memory";
    if (saved === "disk" && !this.askedToPersist) {
      this.askedToPersist = true;
      void askToPersist();
    }
    this.set({ saveState: this.autosave.pending ? "saving" : onDisk });
  }

  private show({ beat, passes, history }: FoundBeat, notice: string): void {
    this.autosave.restart(history);
    this.check?.trust(beat);
    this.set({
      history,
      patternRef: existingPlace(beat, this.state.patternRef),
      lostPasses: passes,
      readOnly: false,
      editorState: "editing",
      saveState: "saved",
      selected: [],
      queued: {},
      preview: undefined,
      notice,
    });
    this.listeners.forEach((listener) => listener(false));
  }

  /** Where the player is in a beat that this one becomes; where the open part is gone, the first one is where it plays. */
  private placeIn(beat: Beat): PatternRef {
    const { patternRef, otherPatterns } = this.state;
    if (beat.parts.some(({ id }) => id === patternRef.partId)) return existingPlace(beat, patternRef, this.beat);
    const first = firstPlace(beat);
    return existingPlace(beat, { ...first, patternId: otherPatterns[first.partId] ?? first.patternId });
  }

  private replace(history: History<Beat>, notice: string, patient = false): void {
    if (history.present === this.beat) return;
    const patternRef = this.placeIn(history.present);
    const queued = Object.entries(this.state.queued).filter(
      ([, one]) => existingPlace(history.present, one.patternRef) === one.patternRef,
    );
    const told = notice || (nearlyFull(this.beat, history.present) ?? "");
    this.set({
      history,
      patternRef,
      queued: Object.fromEntries(queued),
      notice: told,
      marked: [],
      saveState: "saving",
    });
    this.listeners.forEach((listener) => listener(patient));
    this.autosave.changed();
  }
}
