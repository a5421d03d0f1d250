import { createStore, type StoreApi } from "zustand/vanilla";
import type { Beat, Pass, PatternPlace } from "@/core/beat/beat";
import { patternLengthTicks } from "@/core/beat/beat";
import * as edits from "@/core/beat/edit";
import { commit, redo, startHistory, undo } from "@/core/beat/history";
import { firstPlace } from "@/core/beat/new-beat";
import { DRUM_IDS } from "@/core/drums";
import { compileEvents } from "@/core/playback/compile-events";
import { recordStroke, STROKE_LENGTH_TICKS } from "@/core/record/record-stroke";
import { fromDb } from "@/core/sound/dsp";
import type { Kit } from "@/core/sound/kit";
import type { Ticks } from "@/core/time/ticks";
import type { TransportAnchor } from "@/core/time/transport-anchor";
import { anchorTicksAt } from "@/core/time/transport-anchor";
import type { Engine } from "@/engine/audio-engine";
import type { FromEngine } from "@/engine/protocol";
import type { PadListener, PadRelease, PlayedHit } from "@/inputs/played-hit";
import { Autosave } from "./autosave";
import type { Repository } from "./repository";
import type { Settings } from "./settings";
import { SILENT_METER, STOPPED, type WorkspaceState } from "./workspace-state";

export interface WorkspaceDeps {
  readonly beat: Beat;
  readonly readOnly: boolean;
  readonly settings: Settings;
  readonly repository: Repository;
}

/** A stroke that was just made, for the lights; it is no state, it is gone at once. */
export type StrikeListener = (hit: PlayedHit) => void;

interface HeldPad {
  readonly place: PatternPlace;
  readonly passId: number;
  readonly hitId: number;
  readonly strokeTicks: Ticks;
}

/** Anchors kept of a run: a hit's audible moment lies a little before the newest one may have begun. */
const ANCHORS_KEPT = 8;

/**
 * One open beat: its document with undo, the transport, recording and saving. Decisions about time are the core's; this
 * joins them to the audio engine and the repository. It knows no React.
 */
export class Workspace implements PadListener {
  readonly store: StoreApi<WorkspaceState>;
  private readonly repository: Repository;
  private readonly autosave: Autosave;
  private readonly strikeListeners = new Set<StrikeListener>();
  private readonly held = new Map<number, HeldPad>();
  private readonly closers: (() => void)[] = [];
  private readonly soundsFromLap = new Map<number, number>();
  private engine: Engine | undefined;
  private anchors: readonly TransportAnchor[] = [];
  private sentLengthTicks = 0 as Ticks;
  private isClosed = false;
  private run = 0;
  private recordings = 0;

  constructor({ beat, readOnly, settings, repository }: WorkspaceDeps) {
    this.repository = repository;
    this.store = createStore<WorkspaceState>(() => ({
      history: startHistory(beat),
      place: firstPlace(beat),
      readOnly,
      transport: STOPPED,
      openPass: undefined,
      saveState: "saved",
      memoryReason: repository.memoryReason,
      sound: "loading",
      outputLatencyMs: 0,
      meter: SILENT_METER,
      limitedOnce: false,
      settings,
      lostPass: undefined,
      notice: "",
    }));
    this.autosave = new Autosave(
      {
        repository,
        current: () => ({
          beat: this.beat,
          openPass: this.state.openPass,
          journalTaken: this.state.lostPass !== undefined,
        }),
        onSaved: (onDisk) => this.set({ saveState: this.autosave.pending ? "saving" : onDisk ? "saved" : "memory" }),
      },
      beat,
    );
    this.closers.push(repository.onMemoryReason(() => this.set({ memoryReason: repository.memoryReason })));
    if (!readOnly)
      void repository
        .readJournal(beat.id)
        .then((lost) => lost && lost.pass.hits.length > 0 && this.set({ lostPass: lost }));
  }

  get state(): WorkspaceState {
    return this.store.getState();
  }

  get beat(): Beat {
    return this.state.history.present;
  }

  // ---- sound

  /** Joins the audio engine to the beat; from here on it follows every change. */
  attachEngine(engine: Engine, kit: Kit): void {
    this.engine = engine;
    engine.setKit(kit);
    this.sendTable();
    this.sendClick();
    const follow = () =>
      this.set({ sound: engine.running ? "ready" : "waiting", outputLatencyMs: engine.outputLatencyMs });
    this.closers.push(
      engine.subscribe((message) => this.receive(message)),
      engine.onRunningChange(follow),
    );
    follow();
  }

  soundFailed(): void {
    this.set({ sound: "failed" });
  }

  /** A gesture was made: the browser may now let sound out. */
  async wakeSound(): Promise<void> {
    await this.engine?.resume();
  }

  /** The position that is audible at a moment, from the first downbeat; undefined while stopped. */
  audibleTicksAt(performanceMs: number): Ticks | undefined {
    if (!this.engine || !this.state.transport.running || this.anchors.length === 0) return undefined;
    const frame = this.engine.audibleFrameAt(performanceMs);
    const anchor = this.anchors.findLast((candidate) => candidate.frame <= frame) ?? this.anchors[0];
    return anchorTicksAt(anchor, frame, this.engine.sampleRate);
  }

  onStrike(listener: StrikeListener): () => void {
    this.strikeListeners.add(listener);
    return () => this.strikeListeners.delete(listener);
  }

  // ---- transport

  play(): void {
    if (!this.state.transport.running) this.start(0, false);
  }

  stop(): void {
    if (!this.state.transport.running) return;
    this.leaveRecord();
    this.engine?.stop();
    this.anchors = [];
    this.set({ transport: STOPPED });
    this.sendClick();
  }

  togglePlay(): void {
    if (this.state.transport.running) this.stop();
    else this.play();
  }

  /** In and out of record; when stopped, starts the transport with the count-in. */
  toggleRecord(): void {
    const { transport, readOnly, settings } = this.state;
    if (readOnly) return this.set({ notice: "This beat is open in another tab; here it can only be played." });
    if (!this.engine) return this.set({ notice: "There is no sound yet to record to." });
    if (!transport.running) return this.start(settings.countInBars, true);
    if (transport.recording) this.leaveRecord();
    else this.enterRecord();
    this.sendClick();
  }

  private start(countInBars: number, recording: boolean): void {
    if (!this.engine) return;
    void this.engine.resume();
    this.run++;
    this.anchors = [];
    this.soundsFromLap.clear();
    this.set({ transport: { anchor: undefined, running: true, recording: false }, limitedOnce: false });
    if (recording) this.enterRecord();
    this.sendTable();
    this.sendClick();
    this.engine.start(this.run, countInBars);
  }

  private enterRecord(): void {
    // The journal is needed for the new pass; an old one that is still offered goes into the stack, silent.
    if (this.state.lostPass) this.takeLostPass(true);
    this.recordings++;
    this.set({
      transport: { ...this.state.transport, recording: true },
      openPass: { place: this.state.place, passId: undefined },
    });
  }

  private leaveRecord(): void {
    if (!this.state.transport.recording) return;
    this.set({ transport: { ...this.state.transport, recording: false }, openPass: undefined });
    this.autosave.changed();
  }

  // ---- playing

  strike(hit: PlayedHit): void {
    void this.engine?.resume();
    const part = edits.findPart(this.beat, this.state.place.partId);
    const pad = part.pads.find(({ id }) => id === hit.pad);
    if (!pad) return;
    this.engine?.hit(DRUM_IDS.indexOf(pad.drum), hit.velocity);
    this.strikeListeners.forEach((listener) => listener(hit));
    this.record(hit);
  }

  release({ pad, timeMs }: PadRelease): void {
    const held = this.held.get(pad);
    this.held.delete(pad);
    const now = this.audibleTicksAt(timeMs);
    if (!held || now === undefined) return;
    const known = edits.findPattern(this.beat, held.place).passes.find(({ id }) => id === held.passId);
    if (!known?.hits.some(({ id }) => id === held.hitId)) return;
    const lengthTicks = Math.max(STROKE_LENGTH_TICKS, now - held.strokeTicks) as Ticks;
    this.commit(
      edits.setHitLength(this.beat, held.place, held.passId, held.hitId, lengthTicks),
      "Record",
      this.recordKey(),
    );
  }

  private record(hit: PlayedHit): void {
    const { openPass, transport } = this.state;
    if (!transport.recording || !openPass) return;
    const transportTicks = this.audibleTicksAt(hit.timeMs);
    if (transportTicks === undefined) return;
    const recorded = recordStroke(this.beat, openPass, { pad: hit.pad, velocity: hit.velocity, transportTicks });
    if (!recorded) return;
    this.soundsFromLap.set(recorded.hitId, recorded.soundsFromLap);
    const passId = recorded.openPass.passId!;
    this.held.set(hit.pad, { place: openPass.place, passId, hitId: recorded.hitId, strokeTicks: transportTicks });
    this.set({ openPass: recorded.openPass });
    this.commit(recorded.beat, "Record", this.recordKey());
  }

  /** The hits of one trip in and out of record are one step of undo. */
  private recordKey(): string {
    return `record ${this.recordings}`;
  }

  // ---- editing

  undo(): void {
    const label = this.state.history.past.at(-1)?.label;
    if (label) this.replaceHistory(undo(this.state.history), `Undone: ${label}`);
  }

  redo(): void {
    const label = this.state.history.future[0]?.label;
    if (label) this.replaceHistory(redo(this.state.history), `Redone: ${label}`);
  }

  rename(name: string): void {
    this.edit(edits.renameBeat(this.beat, name), "Rename");
  }

  /** @param gesture nudges of one gesture are one step of undo */
  setTempo(bpm: number, gesture?: string): void {
    this.edit(edits.setTempo(this.beat, bpm), "Tempo", gesture);
  }

  setBars(bars: number): void {
    this.edit(edits.setBars(this.beat, this.state.place, bars), "Loop length");
  }

  setInputQuantize(change: Partial<Beat["inputQuantize"]>, gesture?: string): void {
    this.edit(edits.setInputQuantize(this.beat, change), "Input quantize", gesture);
  }

  setPad(padId: number, change: { readonly muted?: boolean; readonly soloed?: boolean }): void {
    this.edit(edits.setPad(this.beat, this.state.place.partId, padId, change), "muted" in change ? "Mute" : "Solo");
  }

  setPass(passId: number, change: Partial<Pick<Pass, "name" | "muted" | "quantize">>): void {
    this.edit(edits.setPass(this.beat, this.state.place, passId, change), "Pass");
  }

  removePass(passId: number): void {
    this.edit(edits.removePass(this.beat, this.state.place, passId), "Delete pass");
  }

  /** Puts the pass of a crashed page on top of its pattern, with new ids. */
  takeLostPass(muted = false): void {
    const { lostPass } = this.state;
    if (!lostPass) return;
    const { hits, ...pass } = lostPass.pass;
    const added = edits.addPass(this.beat, lostPass.place, { ...pass, muted });
    this.edit(edits.addHits(added.beat, lostPass.place, added.passId, hits), "Bring back a pass");
    this.set({ lostPass: undefined });
  }

  dropLostPass(): void {
    this.set({ lostPass: undefined });
    void this.repository.clearJournal(this.beat.id);
  }

  setSettings(change: Partial<Settings>): void {
    this.set({ settings: { ...this.state.settings, ...change } });
    void this.repository.writeSettings(this.state.settings);
    this.sendClick();
  }

  forgetLimited(): void {
    this.set({ limitedOnce: false });
  }

  // ---- the end

  /** For a page that goes away in peace: everything, also the open pass. */
  async flush(): Promise<void> {
    if (!this.state.readOnly && this.autosave.pending) await this.autosave.flush(true);
  }

  get closed(): boolean {
    return this.isClosed;
  }

  async close(): Promise<void> {
    this.isClosed = true;
    this.stop();
    this.closers.forEach((close) => close());
    await this.flush();
    this.autosave.stop();
    await this.engine?.close();
  }

  // ---- inside

  private edit(beat: Beat, label: string, mergeKey?: string): void {
    if (this.state.readOnly)
      return this.set({ notice: "This beat is open in another tab; here it can only be played." });
    this.commit(beat, label, mergeKey);
  }

  private commit(beat: Beat, label: string, mergeKey?: string): void {
    this.replaceHistory(commit(this.state.history, beat, label, mergeKey), "");
  }

  private replaceHistory(history: WorkspaceState["history"], notice: string): void {
    if (history.present === this.beat) return;
    this.set({ history, notice, saveState: "saving" });
    this.sendTable();
    this.autosave.changed();
  }

  private sendTable(): void {
    const lengthTicks = openLengthTicks(this.state);
    // With another length the laps are counted anew, and what was fresh in the old ones is fresh no more.
    if (lengthTicks !== this.sentLengthTicks) this.soundsFromLap.clear();
    this.sentLengthTicks = lengthTicks;
    this.engine?.setTable(
      compileEvents(this.beat, this.state.place, { run: this.run, soundsFromLap: this.soundsFromLap }),
    );
  }

  private sendClick(): void {
    const { settings, transport } = this.state;
    const on = settings.clickOn && (settings.clickWhen === "always" || transport.recording);
    this.engine?.setClick({ on, gain: fromDb(settings.clickDb) });
  }

  private receive(message: FromEngine): void {
    if (message.type === "meter") {
      const { peakLeft, peakRight, limited } = message;
      const limitedOnce = this.state.limitedOnce || limited;
      // A silent app at rest draws nothing.
      if (peakLeft === 0 && peakRight === 0 && this.state.meter === SILENT_METER) return;
      this.set({
        meter: peakLeft === 0 && peakRight === 0 ? SILENT_METER : { peakLeft, peakRight, limited },
        limitedOnce,
      });
      return;
    }
    const { anchor } = message;
    if (!anchor || anchor.run !== this.run || !this.state.transport.running) return;
    this.anchors = [...this.anchors, anchor].slice(-ANCHORS_KEPT);
    this.set({ transport: { ...this.state.transport, anchor } });
  }

  private set(change: Partial<WorkspaceState>): void {
    this.store.setState(change);
  }
}

/** The length of the pattern that is open. */
export function openLengthTicks({ history, place }: WorkspaceState): Ticks {
  return patternLengthTicks(edits.findPattern(history.present, place), history.present.meter);
}
