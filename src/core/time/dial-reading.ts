import { toLap } from "./lap";
import type { Meter } from "./meter";
import { barTicks, pulseTicks } from "./meter";
import type { Ticks } from "./ticks";

/** Where a running loop is, as a player counts it. */
export interface DialReading {
  /** True ahead of the first downbeat. */
  readonly countingIn: boolean;
  /** Trips round the loop, from 1; 0 in the count-in. */
  readonly lap: number;
  /** From 1, within the loop or within the count-in. */
  readonly bar: number;
  /** The felt beat within the bar, from 1. */
  readonly beat: number;
  /** Felt beats left to the first downbeat, in the count-in. */
  readonly beatsLeft: number;
  /** Ratio 0..1 of the loop, or of the bar while counting in. */
  readonly share: number;
}

/**
 * @param transportTicks from the first downbeat; negative in the count-in
 * @example readDial(8640, 7680, { beats: 4, unit: 4 }) // { countingIn: false, lap: 2, bar: 1, beat: 2, beatsLeft: 0, share: 0.125 }
 */
export function readDial(transportTicks: Ticks, lengthTicks: Ticks, meter: Meter): DialReading {
  const bar = barTicks(meter);
  const pulse = pulseTicks(meter);
  const countingIn = transportTicks < 0;
  const { lap, loopTicks } = toLap(transportTicks, countingIn ? bar : lengthTicks);
  return {
    countingIn,
    lap: countingIn ? 0 : lap + 1,
    bar: countingIn ? 1 : Math.floor(loopTicks / bar) + 1,
    beat: Math.floor((loopTicks % bar) / pulse) + 1,
    beatsLeft: countingIn ? Math.ceil(-transportTicks / pulse) : 0,
    share: loopTicks / (countingIn ? bar : lengthTicks),
  };
}

/** Felt beats in the loop: the dial's marks. @example pulsesIn(7680, { beats: 4, unit: 4 }) // 8 */
export function pulsesIn(lengthTicks: Ticks, meter: Meter): number {
  return Math.round(lengthTicks / pulseTicks(meter));
}
