import { barTicks } from "@/core/time/meter";
import { ticksToSeconds } from "@/core/time/tempo";
import { asTicks, TICKS_PER_QUARTER } from "@/core/time/ticks";
import { tapOffset } from "@/core/timing/tap-offset";
import type { Playback } from "../engine/playback";
import { Controller, type WorkspaceStore } from "../state/controller";
import type { Calibration } from "../state/workspace-state";

const CALIBRATION_BPM = 110;
const BARS = 8;
const METER = { beats: 4, unit: 4 } as const;

/** Eight bars of click to tap along to: how late each device's strokes arrive. */
export class Calibrator extends Controller {
  constructor(
    store: WorkspaceStore,
    private readonly playback: Playback,
  ) {
    super(store);
  }

  start(): void {
    if (this.state.transport.running || !this.playback.attached) return;
    this.set({
      calibration: { device: undefined, offsetsMs: [], finished: false, result: undefined },
      tapped: undefined,
    });
    this.playback.startClick({
      bpm: CALIBRATION_BPM,
      meter: METER,
      lengthTicks: asTicks(BARS * barTicks(METER)),
      countInBars: 1,
      laps: 1,
    });
  }

  /** @param arrivedMs when the stroke came in, nothing taken off */
  tap(device: string, arrivedMs: number): void {
    const { calibration } = this.state;
    const audible = this.playback.audibleAt(arrivedMs);
    if (!calibration || calibration.finished || !audible) return;
    if (calibration.device !== undefined && calibration.device !== device) return;
    const beat = Math.round(audible.ticks / TICKS_PER_QUARTER) * TICKS_PER_QUARTER;
    if (beat < 0) return;
    const offsetMs = ticksToSeconds(asTicks(audible.ticks - beat), CALIBRATION_BPM) * 1000;
    this.update({ ...calibration, device, offsetsMs: [...calibration.offsetsMs, offsetMs] });
  }

  /** The eight bars are over. */
  finish(): void {
    const { calibration } = this.state;
    if (calibration) this.update({ ...calibration, finished: true, result: tapOffset(calibration.offsetsMs) });
  }

  close(): void {
    if (this.state.calibration && !this.state.calibration.finished) this.playback.stop();
    this.set({ calibration: undefined });
  }

  private update(calibration: Calibration): void {
    this.set({ calibration });
  }
}
