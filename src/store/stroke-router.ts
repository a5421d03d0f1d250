import { findPart } from "@/core/beat/edit";
import { placeIn, type PlacedStroke, type Stroke } from "@/core/record/placed-stroke";
import type { RepeatedNote } from "@/core/sound/note-repeater";
import { earlyReachTicks, gridOfTicks } from "@/core/time/grid";
import { barTicks } from "@/core/time/meter";
import type { Ticks } from "@/core/time/ticks";
import type { PadListener, PadRelease, PlayedHit } from "@/inputs/played-hit";
import type { EchoMemory } from "./echo-memory";
import type { Eraser } from "./eraser";
import type { Playback, Stretch } from "./playback";
import type { Recorder } from "./recorder";
import type { NoteRepeat } from "./note-repeat";
import type { TransportControl } from "./transport-control";
import { Controller, type WorkspaceStore } from "./controller";

/** A stroke that was just made, for the lights; it is no state, it is gone at once. */
export type StrikeListener = (hit: Pick<PlayedHit, "pad" | "velocity">) => void;

export interface StrokeRouterDeps {
  readonly playback: Playback;
  readonly transport: TransportControl;
  readonly eraser: Eraser;
  readonly repeat: NoteRepeat;
  readonly recorder: Recorder;
  readonly echoes: EchoMemory;
}

/** What becomes of a stroke: sound at once, and one place in time, which the recorder and the lookback both have. */
export class StrokeRouter extends Controller implements PadListener {
  private readonly listeners = new Set<StrikeListener>();

  constructor(
    store: WorkspaceStore,
    private readonly deps: StrokeRouterDeps,
  ) {
    super(store);
  }

  onStrike(listener: StrikeListener): () => void {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  }

  strike(hit: PlayedHit): void {
    const { playback, eraser, repeat, transport } = this.deps;
    void playback.resume();
    if (!this.isPad(hit.pad)) return;
    if (this.state.erasing.on) return eraser.press(hit.pad, hit.timeMs);
    this.listeners.forEach((listener) => listener(hit));
    if (hit.masked) return playback.whenSettled(() => this.write(hit));
    const first = this.state.transport.waiting;
    if (!first && repeat.hold({ pad: hit.pad, velocity: hit.velocity })) return;
    const { partId } = this.state.place;
    const { pad: lane, velocity, cutSeconds = 0 } = hit;
    playback.send({ type: "hit", partId, lane, velocity, cutSeconds });
    if (first) transport.startOnStroke(hit.timeMs);
    playback.whenSettled(() => this.write(hit, first));
  }

  release(release: PadRelease): void {
    const { playback, eraser, repeat, recorder } = this.deps;
    eraser.release(release.pad, release.timeMs);
    repeat.release(release.pad);
    playback.whenSettled(() => recorder.release(release));
  }

  choke(release: PadRelease): void {
    const { playback, recorder } = this.deps;
    playback.send({ type: "choke", partId: this.state.place.partId, lane: release.pad });
    playback.whenSettled(() => recorder.choke(release));
  }

  press(pad: number, velocity: number): void {
    this.deps.repeat.press(pad, velocity);
  }

  /** A stroke that the audio thread made of a held pad. */
  repeated({ partId, pad, velocity, lineTicks, run, stepTicks }: RepeatedNote): void {
    const { playback, recorder, echoes } = this.deps;
    this.listeners.forEach((listener) => listener({ pad, velocity }));
    const anchor = playback.anchorOf(partId, run);
    const made = { grid: gridOfTicks(stepTicks)!, strength: 1, reach: 1 };
    const placed =
      anchor && lineTicks !== undefined
        ? this.place({ pad, velocity, quantize: made }, playback.stretchesAt({ ticks: lineTicks, anchor }).now)
        : undefined;
    const recorded = placed !== undefined && recorder.record(placed, undefined);
    echoes.note({ pad, velocity, timeMs: performance.now(), device: "Note repeat" }, placed, recorded);
  }

  /** @param downbeat it began the run, so it is the downbeat, whatever the clocks' last digits say */
  private write(hit: PlayedHit, downbeat = false): void {
    const placed = this.placeOf(hit, downbeat);
    const recorded = placed !== undefined && this.deps.recorder.record(placed, hit);
    this.deps.echoes.note(hit, placed, recorded);
  }

  /** Where a stroke belongs; undefined while the transport stands, or where its pattern is gone. */
  private placeOf({ pad, velocity, masked, timeMs }: PlayedHit, downbeat: boolean): PlacedStroke | undefined {
    const { playback } = this.deps;
    const audible = playback.audibleAt(timeMs);
    if (!audible) return undefined;
    const stroke: Stroke = { pad, velocity, ...(masked && { masked }) };
    const { now, next } = playback.stretchesAt(audible);
    if (downbeat) return this.place(stroke, { ...now, ticks: 0 as Ticks });
    // Just before another pattern takes over, a stroke is early on that one's downbeat.
    const bar = barTicks(this.beat.meter);
    const reach = earlyReachTicks(this.beat.inputQuantize.grid, bar, bar);
    return this.place(stroke, next && next.ticks >= -reach ? next : now);
  }

  private place(stroke: Stroke, { ticks, ...run }: Stretch): PlacedStroke | undefined {
    const { partId, patternId } = run.place;
    if (!findPart(this.beat, partId).patterns.some(({ id }) => id === patternId)) return undefined;
    return placeIn(this.beat, { ...run, hearing: this.state.hearing }, stroke, ticks);
  }

  private isPad(padId: number): boolean {
    return findPart(this.beat, this.state.place.partId).pads.some(({ id }) => id === padId);
  }
}
