import type { Part, PatternRef } from "@/core/beat/beat";
import { findPart } from "@/core/beat/edit";
import { emptyTable, type EventTable } from "@/core/sound/player/event-table";
import type { SoundId, Sounds } from "@/core/sound/signal/sound";
import type { SwitchMoment } from "@/core/sound/player/track";
import type { Meter } from "@/core/time/meter";
import { ticksToSeconds } from "@/core/time/tempo";
import { asTicks, type Ticks } from "@/core/time/ticks";
import type { TransportAnchor } from "@/core/time/transport-anchor";
import { anchorTicksAt } from "@/core/time/transport-anchor";
import type { Engine } from "@/engine/audio-engine";
import type { FromEngine, ToEngine } from "@/engine/protocol";
import { clickSettings } from "./click-settings";
import { TableThrottle } from "./table-throttle";
import { Controller } from "../state/controller";
import { PartAnchors } from "./part-anchors";
import { PartOrders } from "./part-orders";
import { PartTables, tableSource } from "./part-tables";
import { SentTables } from "./sent-tables";
import { stretchesAt, type Audible, type Stretches } from "./stretch";
import { isRecorded, placeOf, spanOf, type QueuedPattern } from "../state/workspace-state";

/** What is struck now sounds in the next lap: several strokes may go there together. */
const MOST_PATIENCE_MS = 400;

/** A click without a beat, for tapping along. */
export interface ClickSegment {
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
  private segment = 0;
  /** The run with which the transport began; news of earlier ones is old. */
  private firstSegment = 0;
  private clickSegment: number | undefined;
  /** Strokes that came before the audio thread had said where its parts begin; undefined once it has. */
  private unanchored: (() => void)[] | undefined;
  /** By part, the pattern that the audio thread is in. */
  private readonly playing = new Map<number, number>();
  /** By part, what the audio thread will go on with; and what it was told not to. */
  private readonly queuedSegments = new Map<number, number>();
  private unqueuedSegment: number | undefined;
  private readonly sent = new SentTables();
  private readonly due = new TableThrottle(() => this.sendTable());
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
    this.clickSegment = undefined;
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
  audibleAt(performanceMs: number, partId = this.state.patternRef.partId): Audible | undefined {
    if (!this.engine) return undefined;
    const frame = this.engine.audibleFrameAt(performanceMs);
    const anchor = this.anchors.at(partId, frame);
    return anchor && { ticks: anchorTicksAt(anchor, frame, this.engine.sampleRate), anchor };
  }

  /** Where a stroke that was made at a moment may belong: in the stretch that was audible, and in the next one. */
  stretchesAt(audible: Audible): Stretches {
    const { anchor } = audible;
    const next = this.anchors.after(anchor, this.engine!.sampleRate);
    return stretchesAt(this.state, audible, { opens: anchor.segment === this.firstSegment, next });
  }

  /** The stretch of transport that a run of a part is in. */
  anchorOf(partId: number, segment: number): TransportAnchor | undefined {
    return this.anchors.ofSegment(partId, segment);
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
      const { segment } = this;
      const { bpm, parts } = this.beat;
      const begun = { segment, frame: downbeatFrame, ticks: asTicks(0), bpm };
      const places = parts.map(({ id }) => this.soundingPlace(id));
      this.anchors.reset(
        ...places.map((patternRef) => ({ ...begun, ...patternRef, span: spanOf(this.state, patternRef) })),
      );
      this.endUnanchored();
    }
    const laps = this.state.settings.stopAfterLaps;
    engine.send({
      type: "start",
      order: { segment: this.segment, countInBars, laps, ...(downbeatFrame && { downbeatFrame }) },
    });
  }

  /** A click on its own, in place of the loop, until `stop`. */
  startClick({ bpm, meter, lengthTicks, countInBars, laps, downbeatMs }: ClickSegment): void {
    const { engine } = this;
    if (!engine) return;
    void engine.resume();
    this.begin();
    this.endUnanchored();
    this.clickSegment = this.segment;
    this.due.drop();
    const { partId } = this.state.patternRef;
    engine.send({ type: "tables", tables: [{ ...emptyTable(bpm, meter, lengthTicks), partId }] });
    this.sendClick();
    const downbeat = downbeatMs === undefined ? {} : { downbeatFrame: engine.audibleFrameAt(downbeatMs) };
    engine.send({ type: "start", order: { segment: this.segment, countInBars, laps, leadOnly: true, ...downbeat } });
  }

  stop(): void {
    this.engine?.send({ type: "stop" });
    this.ended();
  }

  /** The audio thread has stopped by itself. */
  ended(): void {
    this.endUnanchored();
    this.anchors.reset();
    this.clickSegment = undefined;
    this.queuedSegments.clear();
    this.playing.clear();
    this.sent.clear();
    this.sendTable();
    this.sendClick();
  }

  /** The run that the next pattern to take over will begin. */
  nextSegment(): number {
    return ++this.segment;
  }

  /** Lets another pattern take over, beginning a run of its own. @param lapOf the part whose lap ends then */
  queue(patternRef: PatternRef, moment: SwitchMoment, segment: number, lapOf = patternRef.partId): void {
    this.due.flush();
    this.engine?.send({
      type: "queue",
      table: this.tables.compile(this.state, patternRef, segment),
      segment,
      moment,
      lapOf,
    });
    if (moment === "now") {
      this.queuedSegments.delete(patternRef.partId);
      this.playing.set(patternRef.partId, patternRef.patternId);
    } else this.queuedSegments.set(patternRef.partId, segment);
  }

  /** Another part is open: the click goes by it. */
  openedPart(): void {
    this.sendTable();
    this.sendClick();
  }

  /** The audio thread reports where it is. @returns false for news of a run that is over */
  follow(anchor: TransportAnchor): boolean {
    const running = this.state.transport.running || this.clickSegment === anchor.segment;
    if (!running || anchor.segment < this.firstSegment) return false;
    this.anchors.add(anchor);
    if (this.unanchored && this.beat.parts.every(({ id }) => this.anchors.now(id))) this.endUnanchored();
    return this.clickSegment === undefined;
  }

  /** The pattern that plays is another one now. */
  tookOver(patternRef: PatternRef): void {
    this.queuedSegments.delete(patternRef.partId);
    this.playing.set(patternRef.partId, patternRef.patternId);
    this.sendTable();
    // Whether it clicks depends on what is in the pattern.
    this.sendClick();
  }

  /** Leads the audio thread back, where it went on before it heard that nothing is queued any more. */
  revertTakeover({ segment, partId, patternId }: TransportAnchor): void {
    if (segment === this.unqueuedSegment) this.tookOver({ partId, patternId });
  }

  /** True for the run that the audio thread reported last of the open part. */
  isSegment(segment: number): boolean {
    return this.anchors.now(this.state.patternRef.partId)?.segment === segment;
  }

  isClickSegment(segment: number): boolean {
    return this.clickSegment === segment;
  }

  /** A hit that was heard when it was struck; playback has it from that lap of that run on. */
  heardFrom(hitId: number, segment: number, lap: number): void {
    this.tables.heardFrom(hitId, segment, lap);
  }

  /**
   * The beat, the region or the tempo has changed.
   * @param patient by what sounds in the next lap at the earliest
   */
  changed(patient = false): void {
    if (this.clickSegment !== undefined) return;
    // Neither a fader nor another sound waits for tables.
    if (!patient && this.leading !== undefined) {
      this.orders.tellLanes(this.beat);
      this.orders.tellKnownMixes(this.beat, (partId) => isRecorded(this.state, partId));
    }
    this.due.ask(patient ? this.patienceMs : 0);
  }

  sendClick(): void {
    this.send({ type: "click", click: clickSettings(this.state, this.clickSegment !== undefined) });
    // What is being recorded is heard, whatever is muted.
    this.sendMixes();
  }

  private begin(): void {
    if (this.clickSegment !== undefined) this.send({ type: "stop" });
    this.firstSegment = ++this.segment;
    this.anchors.reset();
    this.unanchored ??= [];
    this.tables.forgetFresh();
    this.clickSegment = undefined;
    this.queuedSegments.clear();
    this.sent.clear();
    for (const { id } of this.beat.parts) this.playing.set(id, this.soundingPlace(id).patternId);
  }

  /** Where a part plays; an echo may be heard in a pattern of its own. */
  private soundingPlace(partId: number): PatternRef {
    const { preview } = this.state;
    return preview?.patternRef.partId === partId ? preview.patternRef : placeOf(this.state, partId);
  }

  /** Far less than a lap of any part. */
  private get patienceMs(): number {
    const laps = this.beat.parts.map(({ id }) => spanOf(this.state, placeOf(this.state, id)).lengthTicks);
    const lapMs = 1000 * ticksToSeconds(asTicks(Math.min(...laps)), this.beat.bpm);
    return Math.min(MOST_PATIENCE_MS, lapMs / 4);
  }

  private sendTable(): void {
    this.due.drop();
    if (!this.engine || this.clickSegment !== undefined) return;
    const startMs = performance.now();
    this.orders.tellLanes(this.beat);
    this.dropQueued();
    const open = this.state.patternRef.partId;
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
    const patternRef = this.soundingPlace(part.id);
    const next = queued[part.id];
    const playing = this.playing.get(part.id);
    // An undo can take away the pattern that is playing, and an echo may be heard in one of its own.
    if (transport.running && playing !== undefined && playing !== patternRef.patternId) {
      this.queue(patternRef, "now", this.nextSegment());
      this.queueAgain(part.id, patternRef, next);
      return [];
    }
    if (!this.hasChanged(part, patternRef, next)) return [];
    const now = this.tables.compile(this.state, patternRef, this.currentSegment(patternRef));
    return next ? [now, this.tables.compile(this.state, next.patternRef, next.segment)] : [now];
  }

  /** What was to follow the pattern that was taken away follows the one in its place; unless that is the same. */
  private queueAgain(partId: number, patternRef: PatternRef, next: QueuedPattern | undefined): void {
    if (!next) return;
    const { [partId]: _, ...queued } = this.state.queued;
    if (next.patternRef.patternId === patternRef.patternId) return this.set({ queued });
    const again = { patternRef: next.patternRef, moment: next.moment, segment: this.nextSegment() };
    this.set({ queued: { ...queued, [partId]: again } });
    this.queue(again.patternRef, again.moment, again.segment);
  }

  /** A part has its table already, as long as what it is made of is the same, and its hits sound as before. */
  private hasChanged(part: Part, patternRef: PatternRef, next: QueuedPattern | undefined): boolean {
    const runs = [this.currentSegment(patternRef), ...(next ? [next.segment] : [])];
    const source = tableSource(this.state, part, [patternRef, ...(next ? [next.patternRef] : [])], runs);
    // A voice that it also plays is held as long as the hit was.
    const ringsOut = part.kind === "kit" && part.alsoPlays === undefined;
    return this.sent.markIfChanged(part.id, source, ringsOut);
  }

  /** An undo can take away the pattern that is queued. */
  private dropQueued(): void {
    for (const [partId, segment] of this.queuedSegments) {
      if (this.state.queued[partId]?.segment === segment) continue;
      this.send({ type: "unqueue", segment });
      this.unqueuedSegment = segment;
      this.queuedSegments.delete(partId);
    }
  }

  private sendMixes(): void {
    // Parts are known from their first tables on.
    if (this.leading !== undefined) this.orders.tellMixes(this.beat, (partId) => isRecorded(this.state, partId));
  }

  private currentSegment(patternRef: PatternRef): number {
    return this.anchors.segmentOf(patternRef.patternId) ?? this.segment;
  }
}
