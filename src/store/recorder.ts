import type { PatternPlace } from "@/core/beat/beat";
import { addHits, addPass, findPart, findPattern, setHitLength } from "@/core/beat/edit";
import type { PlacedStroke } from "@/core/record/placed-stroke";
import { hitOf, recordStroke, STROKE_LENGTH_TICKS, type Recording } from "@/core/record/record-stroke";
import { secondsToTicks } from "@/core/time/tempo";
import type { Seconds, Ticks } from "@/core/time/ticks";
import type { PadRelease, PlayedHit } from "@/inputs/played-hit";
import type { BeatDocument } from "./beat-document";
import { lapLabel } from "./lap-label";
import type { Playback } from "./playback";
import type { TransportControl } from "./transport-control";
import { Controller, type WorkspaceStore } from "./controller";

/** The newest hit of a pad, whose end is not known yet. */
interface OpenHit {
  readonly place: PatternPlace;
  readonly passId: number;
  readonly hitId: number;
  readonly struckMs: number;
  readonly bpm: number;
  /** Its length is settled: it was cut off as it began. */
  readonly cut: boolean;
}

export interface RecorderDeps {
  readonly playback: Playback;
  readonly document: BeatDocument;
  readonly transport: TransportControl;
}

/** Makes hits of strokes, where they belong. */
export class Recorder extends Controller {
  private readonly open = new Map<number, OpenHit>();

  constructor(
    store: WorkspaceStore,
    private readonly deps: RecorderDeps,
  ) {
    super(store);
  }

  /**
   * Writes a stroke while record is on; what leads into the first lap is kept for later.
   * @param hit the stroke of a hand, whose end is still to come
   * @returns true when it is in the beat now
   */
  record(placed: PlacedStroke, hit: PlayedHit | undefined): boolean {
    const { recording, transport } = this.state;
    if (!recording || transport.writing !== "record") return false;
    if (placed.lap < 0) this.keepPickUp(placed);
    if (placed.lap < 0) return false;
    const written = recordStroke(this.beat, recording, placed);
    if (!this.deps.document.admits(written.beat)) return false;
    this.deps.playback.heardFrom(written.hitId, placed.run, written.soundsFromLap);
    this.set({ recording: written.recording });
    this.leadInto(written.recording.passId!);
    this.commit(written.beat, written.recording);
    if (hit && !hit.masked) this.begin(hit, placed, written.recording.passId!, written.hitId);
    return true;
  }

  release({ pad, timeMs }: PadRelease): void {
    const open = this.open.get(pad);
    if (open && !open.cut) this.endHit(open, pad, timeMs, false);
  }

  choke({ pad, timeMs }: PadRelease): void {
    const open = this.open.get(pad);
    if (open) this.endHit(open, pad, timeMs, true);
  }

  /** Brings in what was played before the first downbeat: it leads into every lap. */
  takePickUp(): void {
    const { pickUp } = this.state;
    if (!pickUp || !this.isThere(pickUp.place) || !this.deps.document.admits(this.beat)) return;
    const { place, hits, passId } = pickUp;
    const led = findPattern(this.beat, place).passes.some(({ id }) => id === passId);
    const quantize = this.beat.inputQuantize;
    const into = led
      ? { beat: this.beat, passId: passId! }
      : addPass(this.beat, place, { name: "Pick-up", muted: false, quantize });
    this.set({ pickUp: undefined });
    this.deps.document.edit(addHits(into.beat, place, into.passId, hits), "Bring in the pick-up");
  }

  dropPickUp(): void {
    this.set({ pickUp: undefined });
  }

  private keepPickUp(placed: PlacedStroke): void {
    if (placed.masked) return;
    const before = this.state.pickUp?.hits ?? [];
    this.set({ pickUp: { place: placed.place, hits: [...before, hitOf(placed)] } });
  }

  /** A pick-up belongs to the pass that it led into: the first one that was recorded after it. */
  private leadInto(passId: number): void {
    const { pickUp } = this.state;
    if (pickUp && pickUp.passId === undefined) this.set({ pickUp: { ...pickUp, passId } });
  }

  /** Its length will be known when the pad is let go; at once where it is cut off. */
  private begin({ pad, timeMs, cutSeconds }: PlayedHit, { place, bpm }: PlacedStroke, passId: number, hitId: number) {
    this.open.set(pad, { place, passId, hitId, struckMs: timeMs, bpm, cut: cutSeconds !== undefined });
    const { recording } = this.state;
    if (cutSeconds === undefined || !recording) return;
    const cutTicks = secondsToTicks(cutSeconds as Seconds, bpm);
    this.commit(setHitLength(this.beat, place, passId, hitId, cutTicks, true), recording);
  }

  private endHit(open: OpenHit, pad: number, timeMs: number, choked: boolean): void {
    this.open.delete(pad);
    const { recording, transport } = this.state;
    if (!transport.running || !recording || !this.isThere(open.place)) return;
    const held = secondsToTicks(((timeMs - open.struckMs) / 1000) as Seconds, open.bpm);
    const lengthTicks = Math.max(STROKE_LENGTH_TICKS, held) as Ticks;
    const { passes } = findPattern(this.beat, open.place);
    if (!passes.some(({ id }) => id === open.passId)) return;
    // A cymbal may be grabbed long after the stick left it, so its hit stays open for that.
    if (!choked) this.open.set(pad, { ...open, cut: true });
    this.commit(setHitLength(this.beat, open.place, open.passId, open.hitId, lengthTicks, choked), recording);
  }

  /** The hits of one lap are one step of undo, and it says what they are. */
  private commit(beat: typeof this.beat, { place, lap, counts }: Recording): void {
    const label = lapLabel(lap, counts, findPart(beat, place.partId).pads);
    this.deps.document.edit(beat, label, `${this.deps.transport.recordKey} ${place.patternId} lap ${lap}`);
  }

  private isThere({ partId, patternId }: PatternPlace): boolean {
    return findPart(this.beat, partId).patterns.some(({ id }) => id === patternId);
  }
}
