import type { PatternPlace } from "@/core/beat/beat";
import { findPart, findPattern, setHitLength } from "@/core/beat/edit";
import { DRUM_IDS } from "@/core/drums";
import { placeStroke } from "@/core/record/place-stroke";
import {
  recordAt,
  recordStroke,
  startRecording,
  STROKE_LENGTH_TICKS,
  type RecordedStroke,
  type Recording,
  type Stroke,
} from "@/core/record/record-stroke";
import type { RepeatedNote } from "@/core/sound/note-repeater";
import { earlyReachTicks, gridOfTicks } from "@/core/time/grid";
import { barTicks } from "@/core/time/meter";
import { nextLoopLine } from "@/core/time/loop-span";
import { secondsToTicks } from "@/core/time/tempo";
import type { Seconds, Ticks } from "@/core/time/ticks";
import type { PadListener, PadRelease, PlayedHit } from "@/inputs/played-hit";
import type { BeatDocument } from "./beat-document";
import type { Eraser } from "./eraser";
import type { Audible, Playback } from "./playback";
import type { RepeatHand } from "./repeat-hand";
import type { TransportControl } from "./transport-control";
import { WorkspacePart, type WorkspaceStore } from "./workspace-part";
import { spanOf } from "./workspace-state";

/** A stroke that was just made, for the lights; it is no state, it is gone at once. */
export type StrikeListener = (hit: Pick<PlayedHit, "pad" | "velocity">) => void;

/** The newest hit of a pad, whose end is not known yet. */
interface OpenHit {
  readonly place: PatternPlace;
  readonly passId: number;
  readonly hitId: number;
  readonly run: number;
  readonly strokeTicks: Ticks;
  /** Its length is settled: it was cut off as it began. */
  readonly cut: boolean;
}

export interface RecorderDeps {
  readonly playback: Playback;
  readonly document: BeatDocument;
  readonly transport: TransportControl;
  readonly eraser: Eraser;
  readonly repeat: RepeatHand;
}

/** What becomes of a stroke: sound at once, and a hit where it was audible. */
export class Recorder extends WorkspacePart implements PadListener {
  private readonly listeners = new Set<StrikeListener>();
  private readonly open = new Map<number, OpenHit>();

  constructor(
    store: WorkspaceStore,
    private readonly deps: RecorderDeps,
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
    const drum = this.drumOf(hit.pad);
    if (drum === undefined) return;
    if (this.state.erasing.on) return eraser.press(hit.pad, hit.timeMs);
    this.listeners.forEach((listener) => listener(hit));
    if (hit.masked) return this.record(hit);
    const first = this.state.transport.waiting;
    if (!first && repeat.hold({ pad: hit.pad, drum, velocity: hit.velocity })) return;
    playback.send({ type: "hit", drum, velocity: hit.velocity, cutSeconds: hit.cutSeconds ?? 0 });
    if (first) transport.startOnStroke(hit.timeMs);
    this.record(hit, first);
  }

  release({ pad, timeMs }: PadRelease): void {
    const { eraser, repeat } = this.deps;
    eraser.release(pad, timeMs);
    repeat.release(pad);
    const open = this.open.get(pad);
    if (open && !open.cut) this.endHit(open, pad, timeMs, false);
  }

  choke({ pad, timeMs }: PadRelease): void {
    const drum = this.drumOf(pad);
    if (drum === undefined) return;
    this.deps.playback.send({ type: "choke", drum });
    const open = this.open.get(pad);
    if (open) this.endHit(open, pad, timeMs, true);
  }

  press(pad: number, velocity: number): void {
    this.deps.repeat.press(pad, velocity);
  }

  /** A stroke that the audio thread made of a held pad. */
  repeated({ pad, velocity, lineTicks, run, stepTicks }: RepeatedNote): void {
    this.listeners.forEach((listener) => listener({ pad, velocity }));
    const anchor = this.deps.playback.anchorOf(run);
    if (!anchor || lineTicks === undefined) return;
    const grid = gridOfTicks(stepTicks)!;
    const quantize = { grid, strength: 1, reach: 1 };
    this.write({ pad, velocity, transportTicks: lineTicks, quantize }, { ticks: lineTicks, anchor });
  }

  /** @param downbeat it began the run, so it is the downbeat, whatever the clocks' last digits say */
  private record(hit: PlayedHit, downbeat = false): void {
    const audible = this.deps.playback.audibleAt(hit.timeMs);
    if (!audible) return;
    const ticks = downbeat ? (0 as Ticks) : audible.ticks;
    const { pad, velocity, masked, cutSeconds } = hit;
    const written = this.write({ pad, velocity, transportTicks: ticks, ...(masked && { masked }) }, audible);
    if (!written || masked) return;
    const { recording, hitId } = written;
    const open = { place: recording.place, passId: recording.passId!, hitId, run: audible.anchor.run };
    this.open.set(pad, { ...open, strokeTicks: ticks, cut: cutSeconds !== undefined });
    if (cutSeconds === undefined) return;
    const cutTicks = secondsToTicks(cutSeconds as Seconds, this.beat.bpm);
    this.commit(setHitLength(this.beat, open.place, open.passId, hitId, cutTicks, true), recording);
  }

  /** Makes a hit of a stroke, in the pattern that was audible when it was made. */
  private write(made: Stroke, audible: Audible): RecordedStroke | undefined {
    const { recording, hearing } = this.state;
    const stroke: Stroke = hearing === "grooved" ? made : { ...made, unfelt: true };
    if (!recording || this.state.transport.writing !== "record") return undefined;
    const early = this.writeAhead(stroke, audible);
    if (early) return early;
    const place = { partId: recording.place.partId, patternId: audible.anchor.patternId };
    if (!this.isThere(place)) return undefined;
    const into = recording.place.patternId === place.patternId ? recording : startRecording(place, recording.mode);
    return this.keep(recordStroke(this.beat, into, stroke, audible.anchor.span), audible.anchor.run);
  }

  /** Just before another pattern takes over, a stroke is early on that one's downbeat. */
  private writeAhead(stroke: Stroke, { ticks, anchor }: Audible): RecordedStroke | undefined {
    const { queued, recording } = this.state;
    if (!queued || queued.moment === "now" || anchor.run === queued.run) return undefined;
    const bar = barTicks(this.beat.meter);
    const grid = stroke.quantize?.grid ?? this.beat.inputQuantize.grid;
    const lapEnd = (Math.floor(ticks / anchor.span.lengthTicks) + 1) * anchor.span.lengthTicks;
    const boundary =
      queued.moment === "lap" ? lapEnd : nextLoopLine((Math.floor(ticks) + 1) as Ticks, bar, bar, anchor.span);
    const toBoundary = boundary - ticks;
    const span = spanOf(this.state, queued.place);
    if (toBoundary > earlyReachTicks(grid, bar, bar)) return undefined;
    const at = placeStroke(-toBoundary as Ticks, span, bar, grid);
    if (!at) return undefined;
    const into = startRecording(queued.place, recording!.mode);
    return this.keep(recordAt(this.beat, into, stroke, at, span), queued.run);
  }

  private keep(recorded: RecordedStroke | undefined, run: number): RecordedStroke | undefined {
    if (!recorded) return undefined;
    this.deps.playback.heardFrom(recorded.hitId, run, recorded.soundsFromLap);
    this.set({ recording: recorded.recording });
    this.commit(recorded.beat, recorded.recording);
    return recorded;
  }

  private endHit(open: OpenHit, pad: number, timeMs: number, choked: boolean): void {
    this.open.delete(pad);
    const audible = this.deps.playback.audibleAt(timeMs);
    const { recording } = this.state;
    if (!audible || audible.anchor.run !== open.run || !recording || !this.isThere(open.place)) return;
    const lengthTicks = Math.max(STROKE_LENGTH_TICKS, audible.ticks - open.strokeTicks) as Ticks;
    const { passes } = findPattern(this.beat, open.place);
    if (!passes.some(({ id }) => id === open.passId)) return;
    // A cymbal may be grabbed long after the stick left it, so its hit stays open for that.
    if (!choked) this.open.set(pad, { ...open, cut: true });
    this.commit(setHitLength(this.beat, open.place, open.passId, open.hitId, lengthTicks, choked), recording);
  }

  private commit(beat: RecordedStroke["beat"], { place, mode, lap }: Recording): void {
    const perLap = mode === "overdub" ? "" : ` lap ${lap}`;
    this.deps.document.edit(beat, "Record", `${this.deps.transport.recordKey} ${place.patternId}${perLap}`);
  }

  private isThere({ partId, patternId }: PatternPlace): boolean {
    return findPart(this.beat, partId).patterns.some(({ id }) => id === patternId);
  }

  private drumOf(padId: number): number | undefined {
    const pad = findPart(this.beat, this.state.place.partId).pads.find(({ id }) => id === padId);
    return pad && DRUM_IDS.indexOf(pad.drum);
  }
}
