import type { MeterReport } from "@/engine/protocol";

/** The highest amplitude of each lane and part, and of the sum, until it is looked at anew. Past the state: it changes all the time. */
export class PeakHold {
  private readonly peaks = new Map<string, number>();

  take({ peakLeft, peakRight, overDb, parts }: MeterReport): void {
    // What the limiter took away was there before it.
    this.raise("sum", Math.max(peakLeft, peakRight) * Math.pow(10, overDb / 20));
    for (const { partId, peak, lanes } of parts) {
      this.raise(String(partId), peak);
      for (const { lane, peak: lanePeak } of lanes) this.raise(`${partId} ${lane}`, lanePeak);
    }
  }

  get sum(): number {
    return this.peaks.get("sum") ?? 0;
  }

  ofPart(partId: number): number {
    return this.peaks.get(String(partId)) ?? 0;
  }

  ofLane(partId: number, lane: number): number {
    return this.peaks.get(`${partId} ${lane}`) ?? 0;
  }

  clear(): void {
    this.peaks.clear();
  }

  private raise(key: string, peak: number): void {
    if (peak > (this.peaks.get(key) ?? 0)) this.peaks.set(key, peak);
  }
}
