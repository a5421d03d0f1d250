import type { Beat, PatternRef } from "@/core/beat/beat";
import { addHits, addPass, findPart, findPattern, knownPart, setHitLength } from "@/core/beat/edit";
import type { PlacedStroke } from "@/core/record/placed-stroke";
import { hitOf, recordStroke, startRecording, STROKE_LENGTH_TICKS } from "@/core/record/record-stroke";
import { secondsToTicks } from "@/core/time/tempo";
import { asSeconds, asTicks, type Ticks } from "@/core/time/ticks";
import type { PadRelease, PlayedHit } from "@/inputs/played-hit";
import type { BeatDocument } from "../document/beat-document";
import { lapLabel, type StrokeCounts } from "./lap-label";
import type { Playback } from "../engine/playback";
import type { TransportControl } from "../engine/transport-control";
import { Controller, type WorkspaceStore } from "../state/controller";

/** A hit whose end is known. */
interface HeldHit extends Pick<OpenHit, "patternRef" | "passId" | "hitId"> {
  readonly lengthTicks: Ticks;
  readonly choked: boolean;
}

/** As long as nothing else is written. */
const ENDS_MS = 300;

/** The newest hit of a pad, whose end is not known yet. */
interface OpenHit {
  readonly patternRef: PatternRef;
  readonly passId: number;
  readonly hitId: number;
  readonly struckMs: number;
  readonly bpm: number;
  /** Its length is settled: it was cut off as it began. */
  readonly cut: boolean;
}

interface Step {
  readonly key: string;
  readonly lap: number;
  readonly parts: ReadonlyMap<number, StrokeCounts>;
}

export interface RecorderDeps {
  readonly playback: Playback;
  readonly document: BeatDocument;
  readonly transport: TransportControl;
}

/** Makes hits of strokes, where they belong. */
export class Recorder extends Controller {
  /** By part and pad. */
  private readonly open = new Map<string, OpenHit>();
  /** Hits of kits that were let go, and are not yet written so. */
  private readonly ends: HeldHit[] = [];
  private endsTimer: ReturnType<typeof setTimeout> | undefined;
  /** The step of undo that is being made: what a lap of the open part has got so far, and in which parts. */
  private step: Step = { key: "", lap: 0, parts: new Map() };

  constructor(
    store: WorkspaceStore,
    private readonly deps: RecorderDeps,
  ) {
    super(store);
  }

  /**
   * Writes a stroke while record is on; what leads into the first lap is kept for later.
   * @param hit the stroke of a hand, whose end is still to come
   * @param openLap the lap of the open part in which it was made
   * @returns true when it is in the beat now
   */
  record(placed: PlacedStroke, hit: PlayedHit | undefined, openLap: number): boolean {
    const { recordings, transport, mode } = this.state;
    if (transport.writing !== "record") return false;
    if (placed.lap < 0) this.keepPickUp(placed);
    if (placed.lap < 0) return false;
    const { partId } = placed.patternRef;
    this.writeEnds();
    const recording = recordings[partId] ?? startRecording(placed.patternRef, mode);
    const written = recordStroke(this.beat, recording, placed);
    if (!this.deps.document.admits(written.beat)) return false;
    this.deps.playback.heardFrom(written.hitId, placed.segment, written.soundsFromLap);
    this.set({ recordings: { ...recordings, [partId]: written.recording } });
    this.leadInto(written.recording.passId!);
    this.count(placed, openLap);
    this.commit(written.beat);
    // It is heard from now on, whatever is muted.
    if (!(partId in recordings)) this.deps.playback.sendClick();
    if (hit && !hit.masked) this.begin(hit, placed, written.recording.passId!, written.hitId);
    return true;
  }

  release(partId: number, { lane, timeMs }: PadRelease): void {
    const open = this.open.get(`${partId} ${lane}`);
    if (open && !open.cut) this.endHit(open, lane, timeMs, false);
  }

  choke(partId: number, { lane, timeMs }: PadRelease): void {
    const open = this.open.get(`${partId} ${lane}`);
    if (open) this.endHit(open, lane, timeMs, true);
  }

  /** Brings in what was played before the first downbeat: it leads into every lap. */
  takePickUp(): void {
    const { pickUp } = this.state;
    if (!pickUp || !this.isThere(pickUp.patternRef) || !this.deps.document.admits(this.beat)) return;
    const { patternRef, hits, passId } = pickUp;
    const led = findPattern(this.beat, patternRef).passes.some(({ id }) => id === passId);
    const quantize = this.beat.inputQuantize;
    const into = led
      ? { beat: this.beat, passId: passId! }
      : addPass(this.beat, patternRef, { name: "Pick-up", muted: false, quantize });
    this.set({ pickUp: undefined });
    this.deps.document.edit(addHits(into.beat, patternRef, into.passId, hits), "Bring in the pick-up");
  }

  dropPickUp(): void {
    this.set({ pickUp: undefined });
  }

  private keepPickUp(placed: PlacedStroke): void {
    if (placed.masked) return;
    const before = this.state.pickUp?.hits ?? [];
    this.set({ pickUp: { patternRef: placed.patternRef, hits: [...before, hitOf(placed)] } });
  }

  /** A pick-up belongs to the pass that it led into: the first one that was recorded after it. */
  private leadInto(passId: number): void {
    const { pickUp } = this.state;
    if (pickUp && pickUp.passId === undefined) this.set({ pickUp: { ...pickUp, passId } });
  }

  /** Its length will be known when the pad is let go; at once where it is cut off. */
  private begin(
    { lane, timeMs, cutSeconds }: PlayedHit,
    { patternRef, bpm }: PlacedStroke,
    passId: number,
    hitId: number,
  ) {
    const key = `${patternRef.partId} ${lane}`;
    this.open.set(key, { patternRef, passId, hitId, struckMs: timeMs, bpm, cut: cutSeconds !== undefined });
    if (cutSeconds === undefined) return;
    const cutTicks = secondsToTicks(asSeconds(cutSeconds), bpm);
    this.commit(setHitLength(this.beat, patternRef, passId, hitId, cutTicks, true));
  }

  private endHit(open: OpenHit, lane: number, timeMs: number, choked: boolean): void {
    const key = `${open.patternRef.partId} ${lane}`;
    this.open.delete(key);
    if (!this.isThere(open.patternRef)) return;
    // A stroke of a kit has no end that matters once it is written; a note lasts as long as it is held.
    const { kind, alsoPlays } = findPart(this.beat, open.patternRef.partId);
    if (kind === "kit" && this.state.transport.writing !== "record") return;
    const held = secondsToTicks(asSeconds((timeMs - open.struckMs) / 1000), open.bpm);
    const lengthTicks = asTicks(Math.max(STROKE_LENGTH_TICKS, held));
    // A cymbal may be grabbed long after the stick left it, so its hit stays open for that.
    if (!choked) this.open.set(key, { ...open, cut: true });
    this.ends.push({ ...open, lengthTicks, choked });
    // Nobody sees or hears how long a drum was held: it is written along with the next stroke, or at leisure.
    if (choked || kind === "tonal" || alsoPlays !== undefined) this.writeEnds();
    else this.endsTimer ??= setTimeout(() => this.writeEnds(), ENDS_MS);
  }

  /** Writes what is known and not written yet of how long pads were held: it belongs to the strokes' own steps of undo. */
  writeEnds(): void {
    clearTimeout(this.endsTimer);
    this.endsTimer = undefined;
    const ends = this.ends.splice(0);
    if (ends.length > 0) this.deps.document.amend((beat) => ends.reduce(ended, beat), this.state.mode === "overdub");
  }

  /** A lap of the open part is one step of undo, with all that is struck meanwhile in others. */
  private count({ patternRef: { partId }, lane, masked }: PlacedStroke, openLap: number): void {
    const lap = Math.max(0, openLap);
    const key = `${this.deps.transport.recordKey} ${this.state.patternRef.patternId} lap ${lap}`;
    const parts = key === this.step.key ? this.step.parts : new Map<number, StrokeCounts>();
    const before = parts.get(partId) ?? {};
    const counts = { ...before, [lane]: (before[lane] ?? 0) + (masked ? 0 : 1) };
    this.step = { key, lap, parts: new Map([...parts, [partId, counts]]) };
  }

  /** The hits of one lap are one step of undo, and it says what they are. */
  private commit(beat: Beat): void {
    const { key, lap, parts } = this.step;
    const struck = beat.parts.flatMap((part) => {
      const counts = parts.get(part.id);
      return counts ? [{ part, counts }] : [];
    });
    // What was struck was heard then; replace and takes silence others at once.
    this.deps.document.edit(beat, lapLabel(lap, struck), key, this.state.mode === "overdub");
  }

  private isThere({ partId, patternId }: PatternRef): boolean {
    return knownPart(this.beat, partId)?.patterns.some(({ id }) => id === patternId) ?? false;
  }
}

/** A beat with the end of a hit; the same one where the hit is not there, or ends so already. */
function ended(beat: Beat, { patternRef, passId, hitId, lengthTicks, choked }: HeldHit): Beat {
  const pattern = knownPart(beat, patternRef.partId)?.patterns.find(({ id }) => id === patternRef.patternId);
  const hit = pattern?.passes.find(({ id }) => id === passId)?.hits.findLast(({ id }) => id === hitId);
  const news = hit && (hit.lengthTicks !== lengthTicks || choked !== (hit.choked ?? false));
  return news ? setHitLength(beat, patternRef, passId, hitId, lengthTicks, choked) : beat;
}
