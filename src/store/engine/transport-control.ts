import { type RecordMode, RECORD_MODES } from "@/core/record/record-stroke";
import type { BeatDocument } from "../document/beat-document";
import type { Playback } from "./playback";
import { Controller, type WorkspaceStore } from "../state/controller";
import { makingText } from "./sound-loader";
import { settledPlaces, STOPPED, type Writing } from "../state/workspace-state";

const NO_SOUND = {
  failed: "There is no sound to play with.",
  starting: "The sound is being started; a moment.",
} as const;

/** Play, record and practice, and how they begin and end. */
export class TransportControl extends Controller {
  private recordings = 0;

  constructor(
    store: WorkspaceStore,
    private readonly playback: Playback,
    private readonly document: BeatDocument,
  ) {
    super(store);
  }

  /** The hits of one trip in and out of record are one step of undo, and so are those of every lap of a take. */
  get recordKey(): string {
    return `record ${this.recordings}`;
  }

  togglePlay(): void {
    const { running, waiting } = this.state.transport;
    if (running || waiting) this.stop();
    else this.play();
  }

  play(): void {
    if (!this.state.transport.running) this.start(0, "off");
  }

  stop(): void {
    const { running, waiting } = this.state.transport;
    if (!running && !waiting) return;
    this.playback.settleNow();
    const wasRecording = this.state.transport.writing === "record";
    this.set({ transport: STOPPED, recordings: {}, preview: undefined, ...settledPlaces(this.state) });
    if (running) this.playback.stop();
    if (wasRecording) this.document.settled();
  }

  /** The audio thread came to the end of the last lap by itself. */
  ended(segment: number): void {
    if (!this.state.transport.running || !this.playback.isSegment(segment)) return;
    this.playback.settleNow();
    const wasRecording = this.state.transport.writing === "record";
    this.set({ transport: STOPPED, recordings: {}, queued: {}, preview: undefined });
    this.playback.ended();
    if (wasRecording) this.document.settled();
  }

  /** In and out of record; when stopped, starts with the count-in, or waits for the first stroke. */
  toggleRecord(): void {
    const { transport, settings } = this.state;
    if (!this.document.admits(this.beat)) return;
    if (!this.playback.attached) return this.sayNoSound();
    if (transport.waiting) return this.stop();
    if (transport.running) return this.write(transport.writing === "record" ? "off" : "record");
    if (settings.startOnHit)
      this.set({ transport: { ...STOPPED, waiting: true, writing: "record" }, tapped: undefined });
    else this.start(settings.countInBars, "record");
  }

  /** Out of writing and back in while the loop runs; when stopped, starts to practise at once. */
  togglePractice(): void {
    const { transport } = this.state;
    if (!this.document.admits(this.beat)) return;
    if (transport.waiting) this.stop();
    if (!transport.running) return this.start(0, "practice");
    this.write(transport.writing === "practice" ? "record" : "practice");
  }

  /** The stroke that was waited for: it is exactly the downbeat. */
  startOnStroke(timeMs: number): void {
    if (this.state.transport.waiting) this.start(0, "record", timeMs);
  }

  setMode(mode: RecordMode): void {
    this.set({ mode, recordings: {} });
  }

  nextMode(): void {
    this.setMode(RECORD_MODES[(RECORD_MODES.indexOf(this.state.mode) + 1) % RECORD_MODES.length]!);
  }

  private start(countInBars: number, writing: Writing, downbeatMs?: number): void {
    if (!this.playback.attached) return this.sayNoSound();
    const { soundProgress } = this.state;
    if (soundProgress) this.set({ notice: makingText(soundProgress) });
    this.set({
      transport: { ...STOPPED, running: true },
      pickUp: undefined,
      tapped: undefined,
      calibration: undefined,
    });
    if (writing !== "off") this.write(writing);
    this.playback.start(countInBars, downbeatMs);
    this.playback.sendClick();
  }

  private sayNoSound(): void {
    this.set({ notice: this.state.sound === "failed" ? NO_SOUND.failed : NO_SOUND.starting });
  }

  private write(writing: Writing): void {
    this.playback.settleNow();
    const { transport } = this.state;
    const wasRecording = transport.writing === "record";
    if (writing === "record") this.recordings++;
    this.set({
      transport: { ...this.state.transport, writing },
      recordings: {},
      // Who plays in plays to the beat as it is.
      preview: undefined,
      // What is played in is heard corrected and grooved from the next lap on.
      ...(writing === "record" && { timingView: "grooved" }),
    });
    this.playback.changed();
    this.playback.sendClick();
    if (wasRecording) this.document.settled();
  }
}
