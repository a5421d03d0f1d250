import { barQuarters } from "@/core/recover/features/bar-place";
import { secondsAt } from "@/core/recover/pulse/pulse";
import type { Reading } from "@/core/recover/readings/reading";
import { ticksToSeconds } from "@/core/time/tempo";
import { asTicks } from "@/core/time/ticks";
import type { OpenEcho } from "@/store/state/open-echo";

/** A line in the picture of an echo. */
export interface MapLine {
  readonly seconds: number;
  readonly strong: boolean;
}

/** Bars and beats of a reading, from its downbeat to its end. @param straight at one tempo, whatever drift there was */
export function readingLines(reading: Reading, straight: boolean): readonly MapLine[] {
  const bar = barQuarters(reading.meter);
  const beat = reading.meter.unit === 8 ? bar / Math.max(1, Math.round(bar / 1.5)) : 1;
  const beats = Math.round((reading.bars * bar) / beat);
  return Array.from({ length: beats + 1 }, (_, index) => ({
    seconds: secondsAt(reading, index * beat, straight),
    strong: Math.abs((index * beat) % bar) < 1e-6,
  }));
}

/** Where every lap began of what was played along. */
export function lapLines({ whole }: OpenEcho): readonly MapLine[] {
  const starts = new Map<number, number>();
  for (const { along, timeMs } of whole.hits)
    if (along && !starts.has(along.lap))
      starts.set(along.lap, timeMs / 1000 - ticksToSeconds(asTicks(along.playedTicks), along.bpm));
  return [...starts.values()].map((seconds) => ({ seconds, strong: true }));
}
