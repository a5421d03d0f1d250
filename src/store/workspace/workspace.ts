import { createStore } from "zustand/vanilla";
import type { Pass } from "@/core/beat/beat";
import * as edits from "@/core/beat/edit";
import { findLane, keyLanes, padsOf } from "@/core/beat/lanes";
import { findPart, findPattern } from "@/core/beat/edit";
import * as passEdits from "@/core/beat/edits/pass-edit";
import { changeQuantize, type QuantizeChange } from "@/core/beat/quantize-settings";
import * as takes from "@/core/beat/edits/takes";
import type { Meter } from "@/core/time/meter";
import type { Engine } from "@/engine/audio-engine";
import type { FromEngine } from "@/engine/protocol";
import { isPressed, rateOf, type Command, type CommandListener, type PressedCommand } from "@/inputs/commands";
import type { PadListener, PadRelease, PlayedHit } from "@/inputs/played-hit";
import { BeatDocument } from "../document/beat-document";
import { Clipboard } from "../editing/clipboard";
import { HitEditor } from "../editing/hit-editor";
import { MixDesk } from "../editing/mix-desk";
import { Calibrator } from "../input/calibrator";
import { DeviceHub } from "../input/device-hub";
import { EchoReview } from "../echoes/echo-review";
import { ReadingSession, type FindReadings } from "../echoes/reading-session";
import { Recall } from "../echoes/recall";
import { EchoMemory } from "../echoes/echo-memory";
import { Eraser } from "../input/eraser";
import { ChangeView } from "../view/change-view";
import { LaneView } from "../view/lane-view";
import { PartList } from "../editing/part-list";
import { LevelMeters } from "../engine/level-meters";
import { PatternSegment } from "../engine/pattern-segment";
import { Playback } from "../engine/playback";
import { Recorder } from "../input/recorder";
import { StepInput } from "../input/step-input";
import { NoteRepeat } from "../input/note-repeat";
import type { Repository } from "../persistence/repository";
import { localStorageOf } from "../persistence/tables/unload-backup";
import type { Settings } from "../settings";
import { SoundLoader, type SoundLoaderDeps } from "../engine/sound-loader";
import { StrokeRouter } from "../input/stroke-router";
import { TempoTap } from "../engine/tempo-tap";
import { TimingControl } from "../timing/timing-control";
import { TransportControl } from "../engine/transport-control";
import { Controller } from "../state/controller";
import { startState, type OpenedBeat } from "../state/start-state";
import type { Stack, View, WorkspaceState } from "../state/workspace-state";

export interface WorkspaceDeps extends OpenedBeat {
  /** Who this page is to the other tabs. */
  readonly editor?: string;
  readonly findReadings: FindReadings;
  readonly render: SoundLoaderDeps["render"];
  readonly derive: SoundLoaderDeps["derive"];
}

/**
 * One open beat: its parts wired together, and the edits that need no more than the document. Decisions about time are
 * the core's. It knows no React.
 */
export class Workspace extends Controller implements PadListener, CommandListener {
  readonly document: BeatDocument;
  readonly mix: MixDesk;
  readonly playback: Playback;
  readonly levels = new LevelMeters();
  readonly sounds: SoundLoader;
  readonly transport: TransportControl;
  readonly router: StrokeRouter;
  readonly recorder: Recorder;
  readonly eraser: Eraser;
  readonly repeat: NoteRepeat;
  readonly patterns: PatternSegment;
  readonly parts: PartList;
  readonly tempoTap: TempoTap;
  readonly timing: TimingControl;
  readonly lanes: LaneView;
  readonly hits: HitEditor;
  readonly step: StepInput;
  readonly echoes: EchoMemory;
  readonly readings: ReadingSession;
  readonly recall: Recall;
  readonly review: EchoReview;
  readonly calibrator: Calibrator;
  readonly devices: DeviceHub;
  private readonly repository: Repository;
  private readonly closers: (() => void)[] = [];
  private isClosed = false;

  constructor(deps: WorkspaceDeps) {
    super(createStore<WorkspaceState>(() => startState(deps)));
    const { store } = this;
    const { repository, findReadings, editor } = deps;
    this.repository = repository;
    this.document = new BeatDocument(store, repository, editor);
    this.playback = new Playback(store);
    this.mix = new MixDesk(store, this.playback, this.document);
    const { render, derive } = deps;
    this.sounds = new SoundLoader(store, { playback: this.playback, repository, render, derive });
    this.transport = new TransportControl(store, this.playback, this.document);
    this.eraser = new Eraser(store, this.playback, this.document);
    this.repeat = new NoteRepeat(store, this.playback);
    this.recorder = new Recorder(store, this);
    this.patterns = new PatternSegment(store, this.playback, this.document);
    this.tempoTap = new TempoTap(store, this.playback, this.document);
    this.lanes = new LaneView(store);
    this.step = new StepInput(store, this.document, this.lanes);
    const changes = new ChangeView(store, this.patterns, this.lanes);
    this.echoes = new EchoMemory(store, repository.lookback);
    const { echoes, playback, document, patterns, transport } = this;
    this.router = new StrokeRouter(store, this);
    const readings = new ReadingSession(store, findReadings);
    const recall = new Recall(store, { echoes, readings, playback, document, patterns, transport });
    [this.readings, this.recall] = [readings, recall];
    this.review = new EchoReview(store, { echoes, readings, recall });
    this.timing = new TimingControl(store, this.playback, this.document, repository);
    const clipboard = new Clipboard(localStorageOf(globalThis));
    this.hits = new HitEditor(store, { document, playback, lanes: this.lanes, timing: this.timing, clipboard });
    this.calibrator = new Calibrator(store, this.playback);
    this.devices = new DeviceHub(store, { listener: this, playback: this.playback, repository });
    this.parts = new PartList(store, this);
    this.closers.push(
      this.document.onChange((patient) => {
        this.playback.changed(patient);
        this.sounds.follow();
        this.devices.followNames();
      }),
      this.document.onTravel((before) => changes.show(before)),
      repository.onMemoryReason(() => this.set({ memoryReason: repository.memoryReason })),
      repository.beats.onWritten(() => this.document.written()),
    );
  }

  // ---- sound and input

  attachEngine(engine: Engine): void {
    const detach = this.playback.attach(engine, (message) => this.receive(message));
    const undoEnd = engine.onEnded(() => {
      detach();
      this.soundFailed();
      void engine.close();
    });
    this.closers.push(detach, undoEnd);
  }

  /** There is no sound, or none any more. */
  soundFailed(): void {
    this.transport.stop();
    this.playback.detach();
    this.set({ sound: "failed", soundProgress: undefined });
  }

  /** It is being started again. */
  soundStarts(): void {
    this.set({ sound: "loading" });
  }

  strike(hit: PlayedHit): void {
    if (this.state.calibration && !this.state.calibration.finished) return this.calibrator.tap(hit.device, hit.timeMs);
    const struck = { ...hit, timeMs: this.struckAt(hit) };
    this.router.strike(struck);
    this.review.playedOn();
  }

  release(release: PadRelease): void {
    this.router.release({ ...release, timeMs: this.struckAt(release) });
  }

  choke(release: PadRelease): void {
    this.router.choke({ ...release, timeMs: this.struckAt(release) });
  }

  press(lane: number, velocity: number, partId?: number): void {
    this.router.press(lane, velocity, partId);
  }

  command(command: Command, down: boolean, timeMs: number): void {
    const rate = rateOf(command);
    if (rate) return this.repeat.holdRate(rate, down);
    if (command === "erase") return this.eraser.hold(down, timeMs);
    if (down && isPressed(command)) this.runCommand(command, timeMs);
  }

  /** What is open or chosen is left. */
  letGo(): void {
    if (this.state.openEcho) this.review.open(undefined);
    if (this.state.tapped) this.tempoTap.drop();
    if (this.state.midi.learning) this.devices.learn(undefined);
    if (this.state.selected.length > 0) this.lanes.select([]);
    else if (this.state.step.on) this.step.toggle();
  }

  // ---- edits of the document

  /** @param gesture nudges of one gesture are one step of undo */
  setTempo(bpm: number, gesture?: string): void {
    // Setting a tempo ends the tapped-tempo preview.
    if (this.state.tapped) this.tempoTap.drop();
    this.document.edit(edits.setTempo(this.beat, bpm), `Tempo ${bpm}`, gesture);
  }

  /** @param by in BPM; nudges one after the other are one step of undo */
  nudgeTempo(by: number): void {
    this.setTempo(Number((this.beat.bpm + by).toFixed(2)), "nudge tempo");
  }

  setMeter(meter: Meter): void {
    this.document.edit(edits.setMeter(this.beat, meter), "Meter");
  }

  setBars(bars: number, gesture?: string): void {
    const label = `Loop of ${bars} ${bars === 1 ? "bar" : "bars"}`;
    this.document.edit(edits.setBars(this.beat, this.state.patternRef, bars), label, gesture);
  }

  setPad(padId: number, change: { readonly muted?: boolean; readonly soloed?: boolean }): void {
    const { partId } = this.state.patternRef;
    const name = findLane(findPart(this.beat, partId), padId)?.name ?? "";
    const what = "muted" in change ? (change.muted ? "Mute" : "Unmute") : change.soloed ? "Solo" : "End solo of";
    this.document.edit(edits.setPad(this.beat, partId, padId, change), `${what} ${name}`);
  }

  /** The lanes of the open part that a key strikes, by the key's place. */
  lanesAt(key: number): readonly number[] {
    const { partId } = this.state.patternRef;
    return keyLanes(findPart(this.beat, partId), key, this.state.octaves[partId]);
  }

  /** Everything is heard again. */
  endSolo(): void {
    const { patternRef } = this.state;
    const { passes } = findPattern(this.beat, patternRef);
    let beat = passes
      .filter(({ soloed }) => soloed)
      .reduce((now, { id }) => passEdits.soloPass(now, patternRef, id, false), this.beat);
    for (const pad of padsOf(findPart(beat, patternRef.partId)))
      if (pad.soloed) beat = edits.setPad(beat, patternRef.partId, pad.id, { soloed: false });
    for (const { id, soloed } of beat.parts) if (soloed) beat = edits.setPart(beat, id, { soloed: false });
    this.document.edit(beat, "Solo off");
  }

  clearPad(padId: number): void {
    this.document.edit(passEdits.clearPad(this.beat, this.state.patternRef, padId), "Clear pad");
  }

  clearPattern(): void {
    this.document.edit(passEdits.clearPattern(this.beat, this.state.patternRef), "Clear pattern");
  }

  setPass(passId: number, change: Partial<Pick<Pass, "muted" | "quantize">>, gesture?: string): void {
    this.document.edit(edits.setPass(this.beat, this.state.patternRef, passId, change), "Pass", gesture);
  }

  /** @param change of what corrects it now: what was drawn last may be older */
  setPassQuantize(passId: number, change: QuantizeChange, gesture?: string): void {
    const pass = findPattern(this.beat, this.state.patternRef).passes.find(({ id }) => id === passId);
    if (pass) this.setPass(passId, { quantize: changeQuantize(pass.quantize, change) }, gesture);
  }

  renamePass(passId: number, name: string): void {
    this.document.edit(passEdits.renamePass(this.beat, this.state.patternRef, passId, name), "Rename pass");
  }

  soloPass(passId: number, soloed: boolean): void {
    this.document.edit(passEdits.soloPass(this.beat, this.state.patternRef, passId, soloed), "Solo pass");
  }

  mergePassDown(passId: number): void {
    this.document.edit(passEdits.mergePassDown(this.beat, this.state.patternRef, passId), "Merge passes");
  }

  unmaskPass(passId: number): void {
    this.document.edit(passEdits.unmaskPass(this.beat, this.state.patternRef, passId), "Let double triggers sound");
  }

  removePass(passId: number): void {
    this.document.edit(edits.removePass(this.beat, this.state.patternRef, passId), "Delete pass");
  }

  chooseTake(passId: number): void {
    this.document.edit(takes.chooseTake(this.beat, this.state.patternRef, passId), "Choose take");
  }

  /** Lets the take before or after the one that sounds be heard, in the newest group of takes. */
  stepTake(by: 1 | -1): void {
    const stepped = takes.stepTake(this.beat, this.state.patternRef, by);
    this.document.edit(stepped, "Choose take", "choose take");
  }

  keepTake(passId: number): void {
    this.document.edit(takes.keepTake(this.beat, this.state.patternRef, passId), "Keep take");
  }

  dropTakes(take: number): void {
    this.document.edit(takes.dropTakes(this.beat, this.state.patternRef, take), "Drop takes");
  }

  // ---- settings

  setSettings(change: Partial<Settings>): void {
    this.set({ settings: { ...this.state.settings, ...change } });
    void this.repository.writeSettings(this.state.settings);
    this.playback.sendClick();
    this.devices.followStandIn();
  }

  showView(view: View): void {
    this.set({ view });
  }

  showStack(stack: Stack): void {
    this.set({ stack });
    if (stack !== "echoes") this.review.open(undefined);
  }

  // ---- the end

  get closed(): boolean {
    return this.isClosed;
  }

  async close(): Promise<void> {
    this.isClosed = true;
    this.transport.stop();
    this.recorder.writeEnds();
    this.tempoTap.stop();
    this.eraser.stop();
    this.devices.close();
    this.closers.forEach((close) => close());
    await this.echoes.close();
    await this.document.flush();
    this.document.stop();
    await this.playback.close();
  }

  // ---- inside

  private runCommand(command: PressedCommand, timeMs: number): void {
    switch (command) {
      case "play":
        return this.transport.togglePlay();
      case "record":
        return this.transport.toggleRecord();
      case "practice":
        return this.transport.togglePractice();
      case "mode":
        return this.transport.nextMode();
      case "click":
        return this.setSettings({ clickOn: !this.state.settings.clickOn });
      case "undo":
        return this.document.undo();
      case "redo":
        return this.document.redo();
      case "nextPattern":
        return this.patterns.nextEmpty();
      case "nextPart":
        return this.parts.step(1);
      case "tapTempo":
        return this.tempoTap.tap(timeMs);
      default:
        return command satisfies never;
    }
  }

  /** When a stroke was made, which is before it arrived. */
  private struckAt({ device, timeMs }: { readonly device: string; readonly timeMs: number }): number {
    return timeMs - (this.state.midi.profiles[device]?.delayMs ?? 0);
  }

  private receive(message: FromEngine): void {
    switch (message.type) {
      case "meter":
        this.mix.report(message);
        return this.levels.take(message);
      case "repeated":
        return this.router.repeated(message.note);
      case "anchor":
        if (!this.playback.follow(message.anchor)) return;
        return this.patterns.followed(message.anchor);
      case "queued":
        return this.patterns.announced(message);
      case "ended":
        if (this.playback.isClickSegment(message.segment)) {
          this.playback.ended();
          return this.calibrator.finish();
        }
        return this.transport.ended(message.segment);
      default:
        return message satisfies never;
    }
  }
}
