import { knownPart } from "@/core/beat/edit";
import { findLane } from "@/core/beat/lanes";
import { placeIn, type PlacedStroke, type IncomingStroke } from "@/core/record/placed-stroke";
import type { RepeatedNote } from "@/core/sound/player/note-repeater";
import { earlyReachTicks, gridOfTicks } from "@/core/time/grid";
import { barTicks } from "@/core/time/meter";
import { asTicks } from "@/core/time/ticks";
import type { PadListener, PadRelease, PlayedHit } from "@/inputs/played-hit";
import type { EchoMemory } from "../echoes/echo-memory";
import type { Eraser } from "./eraser";
import type { Playback } from "../engine/playback";
import type { Stretch } from "../engine/stretch";
import type { Recorder } from "./recorder";
import type { StepInput } from "./step-input";
import type { NoteRepeat } from "./note-repeat";
import type { TransportControl } from "../engine/transport-control";
import { Controller, type WorkspaceStore } from "../state/controller";

/** A stroke that was just made, for the lights; it is no state, it is gone at once. */
export type StrikeListener = (hit: Required<Pick<PlayedHit, "partId" | "lane" | "velocity">>) => void;

export interface StrokeRouterDeps {
  readonly playback: Playback;
  readonly transport: TransportControl;
  readonly eraser: Eraser;
  readonly repeat: NoteRepeat;
  readonly recorder: Recorder;
  readonly echoes: EchoMemory;
  readonly step: StepInput;
}

/** What becomes of a stroke: sound at once, and one place in time, which the recorder and the lookback both have. */
export class StrokeRouter extends Controller implements PadListener {
  private readonly listeners = new Set<StrikeListener>();
  /** By device and pad that is down, the part in which it was struck; and the same of those that may still be grabbed. */
  private readonly held = new Map<string, number>();
  private readonly struck = new Map<string, number>();

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
    const partId = this.partOf(hit);
    if (partId === undefined) return;
    this.held.set(keyOf(hit), partId);
    this.struck.set(keyOf(hit), partId);
    if (this.state.erasing.on) return eraser.press(partId, hit.lane, hit.timeMs);
    this.listeners.forEach((listener) => listener({ ...hit, partId }));
    if (this.deps.step.takes(partId)) return this.writeStep(hit, partId);
    if (hit.masked) return this.writeWhenSettled(hit, partId, false);
    const first = this.state.transport.waiting;
    if (!first && repeat.hold(partId, { lane: hit.lane, velocity: hit.velocity })) return;
    const { lane, velocity, cutSeconds = 0 } = hit;
    playback.send({ type: "hit", partId, lane, velocity, cutSeconds });
    if (first) transport.startOnStroke(hit.timeMs);
    this.writeWhenSettled(hit, partId, first);
  }

  /** Heard at once, and written where the cursor is; it was not played in time, so no echo comes of it. */
  private writeStep({ lane, velocity, timeMs, masked }: PlayedHit, partId: number): void {
    if (masked) return;
    this.deps.playback.send({ type: "hit", partId, lane, velocity, cutSeconds: 0 });
    this.deps.step.strike({ lane, velocity }, timeMs);
  }

  release(release: PadRelease): void {
    const { playback, eraser, repeat, recorder, echoes } = this.deps;
    const partId = this.letGo(release);
    eraser.release(partId, release.lane, release.timeMs);
    repeat.release(partId, release.lane);
    playback.send({ type: "let-go", partId, lane: release.lane });
    playback.whenSettled(() => {
      recorder.release(partId, release);
      echoes.ended(partId, release.lane, release.timeMs);
    });
  }

  choke(release: PadRelease): void {
    const { playback, recorder } = this.deps;
    // What rings is where it was struck, whatever is open, or the device plays, by now.
    const partId = this.struck.get(keyOf(release)) ?? release.partId ?? this.state.patternRef.partId;
    playback.send({ type: "choke", partId, lane: release.lane });
    playback.whenSettled(() => recorder.choke(partId, release));
  }

  press(lane: number, velocity: number, partId = this.state.patternRef.partId): void {
    this.deps.repeat.press(partId, lane, velocity);
  }

  /** A stroke that the audio thread made of a held pad. */
  repeated({ partId, lane, velocity, lineTicks, segment, stepTicks }: RepeatedNote): void {
    const { playback, recorder, echoes } = this.deps;
    this.listeners.forEach((listener) => listener({ partId, lane, velocity }));
    const anchor = playback.anchorOf(partId, segment);
    const made = { grid: gridOfTicks(stepTicks)!, strength: 1, reach: 1 };
    // A note that repeats is held from line to line.
    const held = knownPart(this.beat, partId)?.kind === "tonal" && { lengthTicks: asTicks(stepTicks) };
    const placed =
      anchor && lineTicks !== undefined
        ? this.place(
            { lane, velocity, quantize: made, ...held },
            playback.stretchesAt({ ticks: lineTicks, anchor }).now,
          )
        : undefined;
    const timeMs = performance.now();
    const recorded = placed !== undefined && recorder.record(placed, undefined, this.openLap(placed, timeMs));
    echoes.note({ lane, velocity, timeMs, device: "Note repeat", partId }, placed, recorded);
  }

  /** Where it belongs is known when the clock can be trusted; what the page must not forget is known at once. */
  private writeWhenSettled(hit: PlayedHit, partId: number, downbeat: boolean): void {
    let written = false;
    this.deps.playback.whenSettled(() => {
      written = true;
      this.write(hit, partId, downbeat);
    });
    if (!written) this.deps.echoes.noteUnplaced({ ...hit, partId });
  }

  /** @param downbeat it began the run, so it is the downbeat, whatever the clocks' last digits say */
  private write(hit: PlayedHit, partId: number, downbeat: boolean): void {
    const placed = this.placeOf(hit, partId, downbeat);
    const recorded = placed !== undefined && this.deps.recorder.record(placed, hit, this.openLap(placed, hit.timeMs));
    this.deps.echoes.note({ ...hit, partId }, placed, recorded);
  }

  /** The lap of the open part in which a stroke was made: what is played in several parts at once is one step of undo. */
  private openLap(placed: PlacedStroke, timeMs: number): number {
    const { partId } = this.state.patternRef;
    if (placed.patternRef.partId === partId) return placed.lap;
    const { lane, velocity } = placed;
    return this.placeOf({ lane, velocity, timeMs, device: "" }, partId, false)?.lap ?? 0;
  }

  /** Where a stroke belongs; undefined while the transport stands, or where its pattern is gone. */
  private placeOf(
    { lane, velocity, masked, timeMs }: PlayedHit,
    partId: number,
    downbeat: boolean,
  ): PlacedStroke | undefined {
    const { playback } = this.deps;
    const audible = playback.audibleAt(timeMs, partId);
    if (!audible) return undefined;
    const stroke: IncomingStroke = { lane, velocity, ...(masked && { masked }) };
    const { now, next } = playback.stretchesAt(audible);
    if (downbeat) return this.place(stroke, { ...now, ticks: asTicks(0) });
    // Just before another pattern takes over, a stroke is early on that one's downbeat.
    const bar = barTicks(this.beat.meter);
    const reach = earlyReachTicks(this.beat.inputQuantize.grid, bar, bar);
    return this.place(stroke, next && next.ticks >= -reach ? next : now);
  }

  private place(stroke: IncomingStroke, { ticks, ...segment }: Stretch): PlacedStroke | undefined {
    const { partId, patternId } = segment.patternRef;
    if (!knownPart(this.beat, partId)?.patterns.some(({ id }) => id === patternId)) return undefined;
    return placeIn(this.beat, { ...segment, timingView: this.state.timingView }, stroke, ticks);
  }

  /** The part that a stroke plays; undefined where it has no such lane. */
  private partOf({ partId = this.state.patternRef.partId, lane }: PlayedHit): number | undefined {
    const part = knownPart(this.beat, partId);
    return part && findLane(part, lane) && partId;
  }

  /** A pad is let go in the part in which it was struck, whichever is open by then. */
  private letGo(release: PadRelease): number {
    const struckIn = this.held.get(keyOf(release)) ?? release.partId ?? this.state.patternRef.partId;
    this.held.delete(keyOf(release));
    return struckIn;
  }
}

const keyOf = ({ device, lane }: Pick<PadRelease, "device" | "lane">) => `${device} ${lane}`;
