import type { Meter } from "./meter";
import { barTicks, beatTicks } from "./meter";
import type { Ticks } from "./ticks";

/** bar.beat.tick as musicians count: bar and beat from 1, tick from 0 with its fraction. */
export interface Position {
  readonly bar: number;
  readonly beat: number;
  readonly tick: number;
}

/**
 * @param ticks from the loop start; before it bars count down from 0 (the bar before bar 1)
 * @example toPosition(4325, { beats: 4, unit: 4 }) // { bar: 2, beat: 1, tick: 485 }
 */
export function toPosition(ticks: Ticks, meter: Meter): Position {
  const bar = Math.floor(ticks / barTicks(meter));
  const inBar = ticks - bar * barTicks(meter);
  const beat = Math.floor(inBar / beatTicks(meter));
  return { bar: bar + 1, beat: beat + 1, tick: inBar - beat * beatTicks(meter) };
}

/** The inverse of toPosition. @example fromPosition({ bar: 2, beat: 1, tick: 485 }, { beats: 4, unit: 4 }) // 4325 */
export function fromPosition({ bar, beat, tick }: Position, meter: Meter): Ticks {
  return ((bar - 1) * barTicks(meter) + (beat - 1) * beatTicks(meter) + tick) as Ticks;
}

/** @example formatPosition(4325 as Ticks, { beats: 4, unit: 4 }) // "2.1.485" */
export function formatPosition(ticks: Ticks, meter: Meter): string {
  const { bar, beat, tick } = toPosition(Math.round(ticks) as Ticks, meter);
  return `${bar}.${beat}.${String(tick).padStart(3, "0")}`;
}
