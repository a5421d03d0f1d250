import { isSilent } from "@/engine/worth-reporting";
import type { MeterReport } from "@/engine/protocol";

const SILENT: MeterReport = {
  peakLeft: 0,
  peakRight: 0,
  parts: [],
  limited: false,
  overDb: 0,
  momentaryLufs: -Infinity,
  integratedLufs: -Infinity,
  since: 0,
};

/**
 * Levels of the music, thirty times a second while it sounds. It is no part of the workspace's state: nothing but meters shows it, and each
 * change of that state asks every part of the page whether it has to be drawn again.
 */
export class LevelMeters {
  private report = SILENT;
  private readonly listeners = new Set<() => void>();

  get latest(): MeterReport {
    return this.report;
  }

  /** @returns the undo */
  onChange(listener: () => void): () => void {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  }

  take(report: MeterReport): void {
    // What was measured stays to be read.
    this.report = isSilent(report) ? { ...SILENT, integratedLufs: report.integratedLufs } : report;
    for (const listener of this.listeners) listener();
  }
}
