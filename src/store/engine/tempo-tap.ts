import { setTempo } from "@/core/beat/edit";
import { barTicks, pulseTicks } from "@/core/time/meter";
import { addTap, readTaps } from "@/core/time/tap-tempo";
import { TICKS_PER_QUARTER } from "@/core/time/ticks";
import type { BeatDocument } from "../document/beat-document";
import type { Playback } from "./playback";
import { Controller, type WorkspaceStore } from "../state/controller";

/** So many intervals without a tap, and the click answers in their tempo. */
const ANSWER_AFTER_INTERVALS = 1.6;

/** Tap tempo: the taps propose, the click answers, and only then the beat takes it over. */
export class TempoTap extends Controller {
  private taps: readonly number[] = [];
  private answer: ReturnType<typeof setTimeout> | undefined;

  constructor(
    store: WorkspaceStore,
    private readonly playback: Playback,
    private readonly document: BeatDocument,
  ) {
    super(store);
  }

  /** Never while record is on: the key lies beside a pad. */
  tap(timeMs: number): void {
    if (this.state.transport.writing === "record")
      return this.set({ notice: "No tapping of a tempo while record is on." });
    const wasRow = this.taps.length;
    this.taps = addTap(this.taps, timeMs);
    if (this.taps.length === 1 && wasRow > 0) this.silence();
    const tapped = readTaps(this.taps, this.pulse());
    if (!tapped) return;
    this.silence();
    this.set({ tapped });
    const intervalMs = (60_000 * this.pulse()) / (tapped.bpm * TICKS_PER_QUARTER);
    this.answer = setTimeout(() => this.click(), intervalMs * ANSWER_AFTER_INTERVALS);
  }

  /** The beat takes the tapped tempo. */
  take(): void {
    const { tapped } = this.state;
    if (!tapped) return;
    this.drop();
    const bpm = Math.round(tapped.bpm * 10) / 10;
    this.document.edit(setTempo(this.beat, bpm), `Tempo ${bpm}`);
  }

  drop(): void {
    this.taps = [];
    this.silence();
    this.set({ tapped: undefined });
    this.playback.changed();
    this.playback.sendClick();
  }

  stop(): void {
    clearTimeout(this.answer);
  }

  /** The click at the tapped tempo, in the phase of the taps; a running loop takes the tempo for a try instead. */
  private click(): void {
    const { tapped, transport } = this.state;
    if (!tapped) return;
    const { meter } = this.beat;
    if (transport.running) {
      this.playback.changed();
      this.playback.sendClick();
      return;
    }
    this.playback.startClick({
      bpm: tapped.bpm,
      meter,
      lengthTicks: barTicks(meter),
      countInBars: 0,
      laps: 0,
      downbeatMs: tapped.lastTapMs,
    });
  }

  private silence(): void {
    clearTimeout(this.answer);
    if (!this.state.transport.running) this.playback.stop();
  }

  /** A tap is a felt beat of a compound meter, else a quarter. */
  private pulse(): number {
    return Math.max(TICKS_PER_QUARTER, pulseTicks(this.beat.meter));
  }
}
