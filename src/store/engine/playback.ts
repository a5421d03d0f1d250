import type { Part, PatternRef } from "@/core/beat/beat";
import { findPart } from "@/core/beat/edit";
import { emptyTable, type EventTable } from "@/core/sound/event-table";
import type { SoundId, Sounds } from "@/core/sound/sound";
import type { SwitchMoment } from "@/core/sound/track";
import type { Meter } from "@/core/time/meter";
import { ticksToSeconds } from "@/core/time/tempo";
import type { Ticks } from "@/core/time/ticks";
import type { TransportAnchor } from "@/core/time/transport-anchor";
import { anchorTicksAt } from "@/core/time/transport-anchor";
import type { Engine } from "@/engine/audio-engine";
import type { FromEngine, ToEngine } from "@/engine/protocol";
import { clickSettings } from "./click-settings";
import { DueTables } from "./due-tables";
import { Controller } from "../workspace/controller";
import { PartAnchors } from "./part-anchors";
import { PartOrders } from "./part-orders";
import { PartTables, tableSource } from "./part-tables";
import { SentTables } from "./sent-tables";
import { stretchesAt, type Audible, type Stretches } from "./stretch";
import { isRecorded, placeOf, spanOf, type QueuedPattern } from "../workspace/workspace-state";

/** What is struck now sounds in the next lap: several strokes may go there together. */
const MOST_PATIENCE_MS = 400;

/** A click without a beat, for tapping along. */
export interface ClickRun {
  readonly bpm: number;
  readonly meter: Meter;
  readonly lengthTicks: Ticks;
  readonly countInBars: number;
  readonly laps: number;
  /** When the first click was, if it was a tap. */
  readonly downbeatMs?: number;
}

/** Joins the beat to the audio engine: what plays, where it is, and which hits playback has already. */
export class Playback extends Controller {
  private engine: Engine | undefined;
  private readonly anchors = new PartAnchors();
  private readonly tables = new PartTables();
  private run = 0;
  /** The run with which the transport began; news of earlier ones is old. */
  private firstRun = 0;
  private clickRun: number | undefined;
  /** Strokes that came before the audio thread had said where its parts begin; undefined once it has. */
  private unanchored: (() => void)[] | undefined;
  /** By part, the pattern that the audio thread is in. */
  private readonly playing = new Map<number, number>();
  /** By part, what the audio thread will go on with; and what it was told not to. */
  private readonly queuedRuns = new Map<number, number>();
  private unqueuedRun: number | undefined;
  private readonly sent = new SentTables();
  private readonly due = new DueTables(() => this.sendTable());
  private readonly soundsThere = new Set<SoundId>();
  private readonly orders = new PartOrders(
    (order) => this.send(order),
    (id) => this.soundsThere.has(id),
  );
  private leading: number | undefined;

  /** Joins the engine to the beat; from here on it follows every change. @returns the undo */
  attach(engine: Engine, receive: (message: FromEngine) => void): () => void {
    this.engine = engine;
    this.sendTable();
    this.sendClick();
    const follow = () =>
      this.set({ sound: engine.running ? "ready" : "waiting", outputLatencyMs: engine.outputLatencyMs });
    const undoMessages = engine.subscribe(receive);
    const undoRunning = engine.onRunningChange(follow);
    follow();
    return () => {
      this.due.drop();
      undoMessages();
      undoRunning();
    };
  }

  /** The sound is gone; another engine may be joined to the beat later. */
  detach(): void {
    this.engine = undefined;
    this.anchors.reset();
    this.clickRun = undefined;
    this.tables.forgetSpans();
    this.sent.clear();
    this.orders.forgetAll();
    this.soundsThere.clear();
    this.leading = undefined;
  }

  /** Sounds that are there from here on. */
  addSounds(sounds: Sounds): void {
    this.send({ type: "sounds", sounds });
    for (const id of Object.keys(sounds)) this.soundsThere.add(id);
    if (this.engine && this.leading !== undefined) this.orders.tellLanes(this.beat, true);
  }

  /** A sound that does not come: no lane waits for it, and what else the lane strikes is heard. */
  giveUpSound(id: SoundId): void {
    this.soundsThere.add(id);
    if (this.engine && this.leading !== undefined) this.orders.tellLanes(this.beat, true);
  }

  /** Sounds that are needed no more; no lane strikes them by now. */
  dropSounds(ids: readonly SoundId[]): void {
    for (const id of ids) this.soundsThere.delete(id);
    this.send({ type: "drop-sounds", ids });
  }

  /**
   * Does something once it is known what was audible when: at once, but for the moments after the sound stood still, and after the
   * transport was started.
   */
  whenSettled(work: () => void): void {
    if (this.engine) this.engine.whenSettled(() => (this.unanchored ? this.unanchored.push(work) : work()));
    else work();
  }

  /** Writes what was struck until now, before something else begins or the transport stops. */
  settleNow(): void {
    this.engine?.settleNow();
    this.endUnanchored();
  }

  private endUnanchored(): void {
    const { unanchored } = this;
    this.unanchored = undefined;
    unanchored?.forEach((work) => work());
  }

  get attached(): boolean {
    return this.engine !== undefined;
  }

  async resume(): Promise<void> {
    await this.engine?.resume();
  }

  async close(): Promise<void> {
    await this.engine?.close();
  }

  send(order: ToEngine): void {
    this.engine?.send(order);
  }

  /** What is audible of a part, else of the open one, at a moment of `performance.now()`; undefined while stopped. */
  audibleAt(performanceMs: number, partId = this.state.place.partId): Audible | undefined {
    if (!this.engine) return undefined;
    const frame = this.engine.audibleFrameAt(performanceMs);
    const anchor = this.anchors.at(partId, frame);
    return anchor && { ticks: anchorTicksAt(anchor, frame, this.engine.sampleRate), anchor };
  }

  /** Where a stroke that was made at a moment may belong: in the stretch that was audible, and in the next one. */
  stretchesAt(audible: Audible): Stretches {
    const { anchor } = audible;
    const next = this.anchors.after(anchor, this.engine!.sampleRate);
    return stretchesAt(this.state, audible, { opens: anchor.run === this.firstRun, next });
  }

  /** The stretch of transport that a run of a part is in. */
  anchorOf(partId: number, run: number): TransportAnchor | undefined {
    return this.anchors.ofRun(partId, run);
  }

  /** Starts the loop. @param downbeatMs when a stroke was its downbeat */
  start(countInBars: number, downbeatMs?: number): void {
    const { engine } = this;
    if (!engine) return;
    void engine.resume();
    this.begin();
    this.sendTable();
    const downbeatFrame = downbeatMs === undefined ? undefined : engine.audibleFrameAt(downbeatMs);
    if (downbeatFrame !== undefined) {
      // The engine will say the same; strokes that come before its answer, in any part, need it now.
      const { run } = this;
      const { bpm, parts } = this.beat;
      const begun = { run, frame: downbeatFrame, ticks: 0 as Ticks, bpm };
      const places = parts.map(({ id }) => this.soundingPlace(id));
      this.anchors.reset(...places.map((place) => ({ ...begun, ...place, span: spanOf(this.state, place) })));
      this.endUnanchored();
    }
    const laps = this.state.settings.stopAfterLaps;
    engine.send({
      type: "start",
      order: { run: this.run, countInBars, laps, ...(downbeatFrame && { downbeatFrame }) },
    });
  }

  /** A click on its own, in place of the loop, until `stop`. */
  startClick({ bpm, meter, lengthTicks, countInBars, laps, downbeatMs }: ClickRun): void {
    const { engine } = this;
    if (!engine) return;
    void engine.resume();
    this.begin();
    this.endUnanchored();
    this.clickRun = this.run;
    this.due.drop();
    const { partId } = this.state.place;
    engine.send({ type: "tables", tables: [{ ...emptyTable(bpm, meter, lengthTicks), partId }] });
    this.sendClick();
    const downbeat = downbeatMs === undefined ? {} : { downbeatFrame: engine.audibleFrameAt(downbeatMs) };
    engine.send({ type: "start", order: { run: this.run, countInBars, laps, leadOnly: true, ...downbeat } });
  }

  stop(): void {
    this.engine?.send({ type: "stop" });
    this.ended();
  }

  /** The audio thread has stopped by itself. */
  ended(): void {
    this.endUnanchored();
    this.anchors.reset();
    this.clickRun = undefined;
    this.queuedRuns.clear();
    this.playing.clear();
    this.sent.clear();
    this.sendTable();
    this.sendClick();
  }

  /** The run that the next pattern to take over will begin. */
  nextRun(): number {
    return ++this.run;
  }

  /** Lets another pattern take over, beginning a run of its own. @param lapOf the part whose lap ends then */
  queue(place: PatternRef, moment: SwitchMoment, run: number, lapOf = place.partId): void {
    this.due.flush();
    this.engine?.send({ type: "queue", table: this.tables.compile(this.state, place, run), run, moment, lapOf });
    if (moment === "now") {
      this.queuedRuns.delete(place.partId);
      this.playing.set(place.partId, place.patternId);
    } else this.queuedRuns.set(place.partId, run);
  }

  /** Another part is open: the click goes by it. */
  openedPart(): void {
    this.sendTable();
    this.sendClick();
  }

  /** The audio thread reports where it is. @returns false for news of a run that is over */
  follow(anchor: TransportAnchor): boolean {
    const running = this.state.transport.running || this.clickRun === anchor.run;
    if (!running || anchor.run < this.firstRun) return false;
    this.anchors.add(anchor);
    if (this.unanchored && this.beat.parts.every(({ id }) => this.anchors.now(id))) this.endUnanchored();
    return this.clickRun === undefined;
  }

  /** The pattern that plays is another one now. */
  tookOver(place: PatternRef): void {
    this.queuedRuns.delete(place.partId);
    this.playing.set(place.partId, place.patternId);
    this.sendTable();
    // Whether it clicks depends on what is in the pattern.
    this.sendClick();
  }

  /** Leads the audio thread back, where it went on before it heard that nothing is queued any more. */
  leadBack({ run, partId, patternId }: TransportAnchor): void {
    if (run === this.unqueuedRun) this.tookOver({ partId, patternId });
  }

  /** True for the run that the audio thread reported last of the open part. */
  isRun(run: number): boolean {
    return this.anchors.now(this.state.place.partId)?.run === run;
  }

  isClickRun(run: number): boolean {
    return this.clickRun === run;
  }

  /** A hit that was heard when it was struck; playback has it from that lap of that run on. */
  heardFrom(hitId: number, run: number, lap: number): void {
    this.tables.heardFrom(hitId, run, lap);
  }

  /**
   * The beat, the region or the tempo has changed.
   * @param patient by what sounds in the next lap at the earliest
   */
  changed(patient = false): void {
    if (this.clickRun !== undefined) return;
    // Neither a fader nor another sound waits for tables.
    if (!patient && this.leading !== undefined) {
      this.orders.tellLanes(this.beat);
      this.orders.tellKnownMixes(this.beat, (partId) => isRecorded(this.state, partId));
    }
    this.due.ask(patient ? this.patienceMs : 0);
  }

  sendClick(): void {
    this.send({ type: "click", click: clickSettings(this.state, this.clickRun !== undefined) });
    // What is being recorded is heard, whatever is muted.
    this.sendMixes();
  }

  private begin(): void {
    if (this.clickRun !== undefined) this.send({ type: "stop" });
    this.firstRun = ++this.run;
    this.anchors.reset();
    this.unanchored ??= [];
    this.tables.forgetFresh();
    this.clickRun = undefined;
    this.queuedRuns.clear();
    this.sent.clear();
    for (const { id } of this.beat.parts) this.playing.set(id, this.soundingPlace(id).patternId);
  }

  /** Where a part plays; an echo may be heard in a pattern of its own. */
  private soundingPlace(partId: number): PatternRef {
    const { preview } = this.state;
    return preview?.place.partId === partId ? preview.place : placeOf(this.state, partId);
  }

  /** Far less than a lap of any part. */
  private get patienceMs(): number {
    const laps = this.beat.parts.map(({ id }) => spanOf(this.state, placeOf(this.state, id)).lengthTicks);
    const lapMs = 1000 * ticksToSeconds(Math.min(...laps) as Ticks, this.beat.bpm);
    return Math.min(MOST_PATIENCE_MS, lapMs / 4);
  }

  private sendTable(): void {
    this.due.drop();
    if (!this.engine || this.clickRun !== undefined) return;
    const startMs = performance.now();
    this.orders.tellLanes(this.beat);
    this.dropQueued();
    const open = this.state.place.partId;
    const others = this.beat.parts.filter(({ id }) => id !== open);
    const tables = [findPart(this.beat, open), ...others].flatMap((part) => this.tablesOf(part));
    if (tables.length > 0) this.engine.send({ type: "tables", tables });
    if (this.leading !== open) this.send({ type: "lead", partId: open });
    this.leading = open;
    this.orders.dropParts(this.beat, (partId) => {
      this.sent.forget(partId);
      this.playing.delete(partId);
    });
    this.sendMixes();
    this.due.sent(startMs);
  }

  /** What a part plays and goes on with; nothing where that is what it has already. */
  private tablesOf(part: Part): readonly EventTable[] {
    const { transport, queued } = this.state;
    const place = this.soundingPlace(part.id);
    const next = queued[part.id];
    const playing = this.playing.get(part.id);
    // An undo can take away the pattern that is playing, and an echo may be heard in one of its own.
    if (transport.running && playing !== undefined && playing !== place.patternId) {
      this.queue(place, "now", this.nextRun());
      this.queueAgain(part.id, place, next);
      return [];
    }
    if (!this.isNews(part, place, next)) return [];
    const now = this.tables.compile(this.state, place, this.currentRun(place));
    return next ? [now, this.tables.compile(this.state, next.place, next.run)] : [now];
  }

  /** What was to follow the pattern that was taken away follows the one in its place; unless that is the same. */
  private queueAgain(partId: number, place: PatternRef, next: QueuedPattern | undefined): void {
    if (!next) return;
    const { [partId]: _, ...queued } = this.state.queued;
    if (next.place.patternId === place.patternId) return this.set({ queued });
    const again = { place: next.place, moment: next.moment, run: this.nextRun() };
    this.set({ queued: { ...queued, [partId]: again } });
    this.queue(again.place, again.moment, again.run);
  }

  /** A part has its table already, as long as what it is made of is the same, and its hits sound as before. */
  private isNews(part: Part, place: PatternRef, next: QueuedPattern | undefined): boolean {
    const runs = [this.currentRun(place), ...(next ? [next.run] : [])];
    const source = tableSource(this.state, part, [place, ...(next ? [next.place] : [])], runs);
    // A voice that it also plays is held as long as the hit was.
    const ringsOut = part.kind === "kit" && part.alsoPlays === undefined;
    return this.sent.isNews(part.id, source, ringsOut);
  }

  /** An undo can take away the pattern that is queued. */
  private dropQueued(): void {
    for (const [partId, run] of this.queuedRuns) {
      if (this.state.queued[partId]?.run === run) continue;
      this.send({ type: "unqueue", run });
      this.unqueuedRun = run;
      this.queuedRuns.delete(partId);
    }
  }

  private sendMixes(): void {
    // Parts are known from their first tables on.
    if (this.leading !== undefined) this.orders.tellMixes(this.beat, (partId) => isRecorded(this.state, partId));
  }

  private currentRun(place: PatternRef): number {
    return this.anchors.runOf(place.patternId) ?? this.run;
  }
}
