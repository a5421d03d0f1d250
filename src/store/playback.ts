import type { Beat, PatternPlace } from "@/core/beat/beat";
import { wholeSpan } from "@/core/beat/beat";
import { findPattern } from "@/core/beat/edit";
import { compileEvents } from "@/core/playback/compile-events";
import type { StrokeRun } from "@/core/record/placed-stroke";
import type { ClickSettings } from "@/core/sound/click-track";
import { fromDb } from "@/core/sound/dsp";
import { emptyTable, type EventTable } from "@/core/sound/event-table";
import type { Kit } from "@/core/sound/kit";
import type { SwitchMoment } from "@/core/sound/track";
import { gridTicks } from "@/core/time/grid";
import type { LoopSpan } from "@/core/time/loop-span";
import type { Meter } from "@/core/time/meter";
import type { Ticks } from "@/core/time/ticks";
import type { TransportAnchor } from "@/core/time/transport-anchor";
import { anchorTicksAt } from "@/core/time/transport-anchor";
import type { Engine } from "@/engine/audio-engine";
import type { FromEngine, ToEngine } from "@/engine/protocol";
import { Controller } from "./controller";
import { SILENT_METER, spanOf } from "./workspace-state";

/** Anchors kept: a hit's audible moment lies a little before the newest one may have begun. */
const ANCHORS_KEPT = 8;
/** A flood of changes reaches the audio thread at most so often, and never takes more than a quarter of the page's time. */
const TABLE_INTERVAL_MS = 40;
const TABLE_SHARE = 4;

/** What is audible at a moment. */
export interface Audible {
  /** From the first downbeat; negative in the count-in. */
  readonly ticks: Ticks;
  readonly anchor: TransportAnchor;
}

/** A stretch of transport in one pattern, and where in it something was. */
export interface Stretch extends Omit<StrokeRun, "hearing"> {
  readonly ticks: Ticks;
}

interface Moment {
  readonly atTicks: Ticks;
}

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
  private anchors: readonly TransportAnchor[] = [];
  private readonly soundsFrom = new Map<number, { readonly run: number; readonly lap: number }>();
  private run = 0;
  /** The run with which the transport began; news of earlier ones is old. */
  private firstRun = 0;
  private clickRun: number | undefined;
  private playing: PatternPlace | undefined;
  /** What the audio thread will go on with, and what it was told not to. */
  private queuedRun: number | undefined;
  private unqueuedRun: number | undefined;
  private readonly sentSpans = new Map<number, LoopSpan>();
  private tableTimer: ReturnType<typeof setTimeout> | undefined;
  private nextTableMs = 0;

  /** Joins the engine to the beat; from here on it follows every change. @returns the undo */
  attach(engine: Engine, kit: Kit | undefined, receive: (message: FromEngine) => void): () => void {
    this.engine = engine;
    if (kit) engine.send({ type: "kit", kit });
    this.sendTable();
    this.sendClick();
    const follow = () =>
      this.set({ sound: engine.running ? "ready" : "waiting", outputLatencyMs: engine.outputLatencyMs });
    const undoMessages = engine.subscribe(receive);
    const undoRunning = engine.onRunningChange(follow);
    follow();
    return () => {
      this.dropTimer();
      undoMessages();
      undoRunning();
    };
  }

  /** The sound is gone; another engine may be joined to the beat later. */
  detach(): void {
    this.engine = undefined;
    this.anchors = [];
    this.clickRun = undefined;
    this.sentSpans.clear();
  }

  /** Does something once it is known what was audible when: at once, but for the moments after the sound stood still. */
  whenSettled(work: () => void): void {
    if (this.engine) this.engine.whenSettled(work);
    else work();
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

  /** What is audible at a moment of `performance.now()`; undefined while stopped. */
  audibleAt(performanceMs: number): Audible | undefined {
    if (!this.engine) return undefined;
    const frame = this.engine.audibleFrameAt(performanceMs);
    const anchor = this.anchors.findLast((candidate) => candidate.frame <= frame) ?? this.anchors[0];
    return anchor && { ticks: anchorTicksAt(anchor, frame, this.engine.sampleRate), anchor };
  }

  /**
   * Where a stroke that was made at a moment may belong: in the stretch that was audible, or in the one that follows it,
   * where the audio thread has said when that will be; both from their own first downbeat.
   */
  stretchesAt({ ticks, anchor }: Audible): { readonly now: Stretch; readonly next: Stretch | undefined } {
    const { run, patternId, span, bpm } = anchor;
    const { partId } = this.state.place;
    const opens = run === this.firstRun;
    const change = this.changeAfter(anchor);
    return {
      now: { run, place: { partId, patternId }, span, bpm, opens, ticks },
      next: change && { ...change, bpm, opens: false, ticks: (ticks - change.atTicks) as Ticks },
    };
  }

  /** The stretch of transport that a run is in. */
  anchorOf(run: number): TransportAnchor | undefined {
    return this.anchors.findLast((anchor) => anchor.run === run);
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
      // The engine will say the same; strokes that come before its answer need it now.
      const span = spanOf(this.state, this.state.place);
      const { patternId } = this.state.place;
      const { run } = this;
      const { bpm } = this.beat;
      this.anchors = [{ run, frame: downbeatFrame, ticks: 0 as Ticks, bpm, patternId, span }];
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
    this.clickRun = this.run;
    this.dropTimer();
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
    this.anchors = [];
    this.clickRun = undefined;
    this.queuedRun = undefined;
    this.playing = undefined;
    this.sendTable();
    this.sendClick();
  }

  /** The run that the next pattern to take over will begin. */
  nextRun(): number {
    return ++this.run;
  }

  /** Lets another pattern take over, beginning a run of its own. */
  queue(place: PatternPlace, moment: SwitchMoment, run: number): void {
    this.flushTable();
    this.engine?.send({ type: "queue", table: this.compile(place, run), run, moment });
    this.queuedRun = moment === "now" ? undefined : run;
    if (moment === "now") this.playing = place;
  }

  /** The audio thread reports where it is. @returns false for news of a run that is over */
  follow(anchor: TransportAnchor): boolean {
    const running = this.state.transport.running || this.clickRun === anchor.run;
    if (!running || anchor.run < this.firstRun) return false;
    this.anchors = [...this.anchors.filter((known) => !sameMoment(known, anchor)), anchor].slice(-ANCHORS_KEPT);
    return this.clickRun === undefined;
  }

  /** The pattern that plays is another one now. */
  tookOver(place: PatternPlace): void {
    this.queuedRun = undefined;
    this.playing = place;
    this.sendTable();
    // Whether it clicks depends on what is in the pattern.
    this.sendClick();
  }

  /** Leads the audio thread back, where it went on before it heard that nothing is queued any more. */
  leadBack({ run, patternId }: TransportAnchor): void {
    if (run === this.unqueuedRun) this.tookOver({ ...this.state.place, patternId });
  }

  /** True for the run that the audio thread reported last. */
  isRun(run: number): boolean {
    return this.anchors.at(-1)?.run === run;
  }

  isClickRun(run: number): boolean {
    return this.clickRun === run;
  }

  /** A hit that was heard when it was struck; playback has it from that lap of that run on. */
  heardFrom(hitId: number, run: number, lap: number): void {
    this.soundsFrom.set(hitId, { run, lap });
  }

  /** The beat, the region or the tempo has changed. */
  changed(): void {
    if (this.clickRun !== undefined || this.tableTimer !== undefined) return;
    const waitMs = this.nextTableMs - performance.now();
    if (waitMs <= 0) return this.sendTable();
    this.tableTimer = setTimeout(() => this.sendTable(), waitMs);
  }

  sendClick(): void {
    const { settings, transport, tapped } = this.state;
    const alone = this.clickRun !== undefined;
    // An empty pattern has nothing else by which one hears that it plays.
    const empty = findPattern(this.beat, this.state.place).passes.every(({ hits }) => hits.length === 0);
    const wanted =
      settings.clickWhen === "always" || (settings.clickWhen === "recording" && (transport.writing !== "off" || empty));
    const click: ClickSettings = {
      on: alone || tapped !== undefined || this.state.preview !== undefined || (settings.clickOn && wanted),
      gain: fromDb(settings.clickDb),
      accent: settings.clickAccent,
      subdivisionTicks: alone ? 0 : (gridTicks(settings.clickSubdivision) ?? 0),
    };
    this.engine?.send({ type: "click", click });
  }

  /** Meters, thirty times a second. */
  meter({ peakLeft, peakRight, limited }: Extract<FromEngine, { type: "meter" }>): void {
    const silent = peakLeft === 0 && peakRight === 0;
    // A silent app at rest draws nothing.
    if (silent && this.state.meter === SILENT_METER) return;
    this.set({
      meter: silent ? SILENT_METER : { peakLeft, peakRight, limited },
      limitedOnce: this.state.limitedOnce || limited,
    });
  }

  /** The change of patterns that a stretch of transport ends with, as far as the audio thread has said. */
  private changeAfter(anchor: TransportAnchor): (Omit<Stretch, "bpm" | "opens" | "ticks"> & Moment) | undefined {
    const { place, queued } = this.state;
    const index = this.anchors.findIndex((later, at) => at > this.anchors.indexOf(anchor) && later.run !== anchor.run);
    const next = this.anchors[index];
    if (next) {
      if (next.ticks !== 0) return undefined;
      const atTicks = anchorTicksAt(this.anchors[index - 1]!, next.frame, this.engine!.sampleRate);
      return { run: next.run, place: { ...place, patternId: next.patternId }, span: next.span, atTicks };
    }
    if (queued?.at?.inRun !== anchor.run) return undefined;
    return { run: queued.run, place: queued.place, span: spanOf(this.state, queued.place), atTicks: queued.at.atTicks };
  }

  private begin(): void {
    if (this.clickRun !== undefined) this.send({ type: "stop" });
    this.firstRun = ++this.run;
    this.anchors = [];
    this.soundsFrom.clear();
    this.clickRun = undefined;
    this.queuedRun = undefined;
    this.playing = this.sounding.place;
  }

  /** The beat, or what is heard in its place. */
  private get sounding(): { readonly beat: Beat; readonly place: PatternPlace } {
    return this.state.preview ?? { beat: this.beat, place: this.state.place };
  }

  private flushTable(): void {
    if (this.tableTimer !== undefined) this.sendTable();
  }

  private dropTimer(): void {
    clearTimeout(this.tableTimer);
    this.tableTimer = undefined;
  }

  private sendTable(): void {
    this.dropTimer();
    if (!this.engine || this.clickRun !== undefined) return;
    const startMs = performance.now();
    const { transport, queued } = this.state;
    const { place } = this.sounding;
    this.dropQueued();
    // An undo can take away the pattern that is playing, and an echo may be heard in one of its own.
    if (transport.running && this.playing && this.playing.patternId !== place.patternId)
      this.queue(place, "now", this.nextRun());
    else this.engine.send({ type: "tables", tables: [this.compile(place, this.currentRun(place))] });
    if (queued) this.engine.send({ type: "tables", tables: [this.compile(queued.place, queued.run)] });
    const tookMs = performance.now() - startMs;
    this.nextTableMs = performance.now() + Math.max(TABLE_INTERVAL_MS, TABLE_SHARE * tookMs);
  }

  /** An undo can take away the pattern that is queued. */
  private dropQueued(): void {
    if (this.queuedRun === undefined || this.queuedRun === this.state.queued?.run) return;
    this.send({ type: "unqueue", run: this.queuedRun });
    this.unqueuedRun = this.queuedRun;
    this.queuedRun = undefined;
  }

  private currentRun(place: PatternPlace): number {
    return this.anchors.findLast(({ patternId }) => patternId === place.patternId)?.run ?? this.run;
  }

  private compile(place: PatternPlace, run: number): EventTable {
    const { preview } = this.state;
    const heard = preview?.place.patternId === place.patternId ? preview.beat : this.beat;
    const span = heard === this.beat ? spanOf(this.state, place) : wholeSpan(findPattern(heard, place), heard.meter);
    const sent = this.sentSpans.get(place.patternId);
    // In another stretch the laps are counted anew, and what was fresh in the old one is fresh no more.
    if (sent && (sent.startTicks !== span.startTicks || sent.lengthTicks !== span.lengthTicks)) this.soundsFrom.clear();
    this.sentSpans.set(place.patternId, span);
    const { tapped } = this.state;
    const beat = tapped && this.state.transport.running ? { ...heard, bpm: tapped.bpm } : heard;
    const fresh = { run, soundsFrom: this.soundsFrom };
    const { hearing, recording } = this.state;
    const recordingPassId = recording?.passId;
    return compileEvents(beat, place, { span, fresh, hearing, ...(recordingPassId && { recordingPassId }) });
  }
}

function sameMoment(a: TransportAnchor, b: TransportAnchor): boolean {
  return a.run === b.run && a.ticks === b.ticks && Math.abs(a.frame - b.frame) < 1;
}
