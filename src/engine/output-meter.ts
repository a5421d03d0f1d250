import { Limiter } from "@/core/sound/mix/limiter";
import { LoudnessMeter } from "@/core/sound/loudness/loudness";
import type { MeterReport } from "./protocol";

/** Levels move over a block, and the limiter looks ahead: for so long what was turned down just now is still on its way. */
const ON_ITS_WAY_SECONDS = 0.02;

/** What leaves the app: it is kept below the ceiling, and measured. */
export class OutputMeter {
  /** The music, before click and limiter, goes in here. */
  readonly loudness: LoudnessMeter;
  private readonly limiter: Limiter;
  private peakLeft = 0;
  private peakRight = 0;
  private limited = false;
  private since = 0;
  /** When it is measured anew, and what reports then say. */
  private anew = { frame: Infinity, since: 0 };

  constructor(private readonly sampleRate: number) {
    this.loudness = new LoudnessMeter(sampleRate);
    this.limiter = new Limiter(sampleRate);
  }

  /** Measures anew, when what is on its way at a frame is through. @param since what reports say from then on */
  measure(since: number, frame: number): void {
    this.anew = { frame: frame + ON_ITS_WAY_SECONDS * this.sampleRate, since };
  }

  /** A block is about to begin. @returns true where it is measured anew from here on: all that was measured is forgotten */
  begin(frame: number): boolean {
    if (frame < this.anew.frame) return false;
    this.take();
    this.loudness.reset();
    this.since = this.anew.since;
    this.anew.frame = Infinity;
    return true;
  }

  /** Limits a block in its place. */
  process(left: Float32Array, right: Float32Array): void {
    if (this.limiter.process(left, right)) this.limited = true;
    for (let index = 0; index < left.length; index++) {
      this.peakLeft = Math.max(this.peakLeft, Math.abs(left[index]!));
      this.peakRight = Math.max(this.peakRight, Math.abs(right[index]!));
    }
  }

  /** What was measured since this was asked last. */
  take(): Omit<MeterReport, "parts"> {
    const { peakLeft, peakRight, limited, since } = this;
    const { momentary: momentaryLufs, integrated: integratedLufs } = this.loudness;
    const overDb = this.limiter.takeReduction();
    [this.peakLeft, this.peakRight, this.limited] = [0, 0, false];
    return { peakLeft, peakRight, limited, overDb, momentaryLufs, integratedLufs, since };
  }
}
