import type { Lane, Mix } from "@/core/beat/beat";
import { findPart } from "@/core/beat/edit";
import { findLane } from "@/core/beat/lanes";
import { setPadSound, type PadSoundChange } from "@/core/beat/edits/own-kit";
import { setPadMix, turnAllDown } from "@/core/beat/edits/mix-edit";
import { formatPosition } from "@/core/time/position";
import { asTicks, wrap } from "@/core/time/ticks";
import type { MeterReport } from "@/engine/protocol";
import type { Playback } from "../engine/playback";
import { PeakHold } from "../engine/peak-hold";
import { Controller, type WorkspaceStore } from "../state/controller";
import type { BeatDocument } from "../document/beat-document";

/** Nothing decays faster. */
const MIN_DECAY_SECONDS = 0.02;

/** Levels, places, the room, and what is too loud; of pads also how their sounds go. */
export class MixDesk extends Controller {
  readonly peaks = new PeakHold();
  private measured = 0;

  constructor(
    store: WorkspaceStore,
    private readonly playback: Playback,
    private readonly document: BeatDocument,
  ) {
    super(store);
  }

  /** @param gesture changes of one gesture are one step of undo */
  setPad(padId: Lane, change: Partial<Mix>, gesture?: string): void {
    const { partId } = this.state.patternRef;
    const name = findLane(findPart(this.beat, partId), padId)?.name ?? "";
    this.document.edit(setPadMix(this.beat, partId, padId, change), `${mixWord(change)} of ${name}`, gesture);
  }

  /** So many semitones higher; it is made anew, and until that is done played faster. */
  setTune(padId: Lane, semitones: number, gesture?: string): void {
    this.setSound(padId, { tuneSemitones: semitones || undefined }, "Tune", gesture);
  }

  /** It falls by 60 dB in so long; 0 is as it does by itself. */
  setDecay(padId: Lane, seconds: number, gesture?: string): void {
    const decaySeconds = seconds > 0 ? Math.max(MIN_DECAY_SECONDS, seconds) : undefined;
    this.setSound(padId, { decaySeconds }, "Decay", gesture);
  }

  /** How loud everything was. */
  report(meter: MeterReport): void {
    // What is on its way is of before.
    if (meter.since < this.measured) return;
    this.peaks.take(meter);
    if (meter.limited) this.clipped(meter);
  }

  /** What was too loud has been looked at; peaks and loudness are measured anew. */
  lookedAt(): void {
    this.peaks.clear();
    this.playback.send({ type: "measure", since: ++this.measured });
    this.set({ clip: undefined });
  }

  /** All parts softer, by as much as it was too loud and a little more. */
  turnDown(): void {
    const { clip } = this.state;
    if (!clip) return;
    const byDb = cureDb(clip.overDb);
    if (this.document.edit(turnAllDown(this.beat, byDb), `All levels down by ${byDb} dB`)) this.lookedAt();
  }

  /** Which lane was the loudest then, and where; it stays until it is looked at, with the most that was ever too much. */
  private clipped({ parts, overDb }: MeterReport): void {
    const before = this.state.clip;
    if (before && before.overDb >= overDb) return;
    const lanes = parts.flatMap(({ partId, lanes: own }) => own.map((one) => ({ partId, ...one })));
    const loudest = lanes.reduce<(typeof lanes)[number] | undefined>(
      (most, one) => (most && most.peak >= one.peak ? most : one),
      undefined,
    );
    this.set({ clip: { overDb, partId: loudest?.partId, lane: loudest?.lane, at: this.placeNow() } });
  }

  private setSound(padId: Lane, change: PadSoundChange, what: string, gesture?: string): void {
    const { partId } = this.state.patternRef;
    const name = findLane(findPart(this.beat, partId), padId)?.name ?? "";
    this.document.edit(setPadSound(this.beat, partId, padId, change), `${what} of ${name}`, gesture);
  }

  private placeNow(): string | undefined {
    const audible = this.playback.audibleAt(performance.now());
    if (!audible) return undefined;
    const { span } = audible.anchor;
    // It is measured a little before it is heard.
    const ticks = Math.max(0, audible.ticks);
    return formatPosition(asTicks(span.startTicks + wrap(ticks, span.lengthTicks)), this.beat.meter);
  }
}

/** What of a mix is changed. */
export function mixWord(change: Partial<Mix>): string {
  if ("roomDb" in change) return "Room";
  return "pan" in change ? "Place" : "Level";
}

/** So much softer it is clean, with half a decibel to spare. @returns whole decibels */
export function cureDb(overDb: number): number {
  return Math.max(1, Math.ceil(overDb + 0.5));
}
