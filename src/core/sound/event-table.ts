import type { Meter } from "../time/meter";
import type { Bpm } from "../time/tempo";
import type { Ticks } from "../time/ticks";

/** What the player plays, flat, so that it can be sent to the audio thread and swapped there between two blocks. */
export interface EventTable {
  readonly bpm: Bpm;
  readonly meter: Meter;
  readonly lengthTicks: Ticks;
  /** Ascending; an event that keeps its id over a swap is the same event, wherever it went. */
  readonly ids: Int32Array;
  /** In [-length, length): where in the lap; negative is before the lap's downbeat. */
  readonly ticks: Float64Array;
  /** Index into the kit's drums. */
  readonly drums: Uint8Array;
  /** 1..127 */
  readonly velocities: Uint8Array;
  /** Which of the kit's variants. */
  readonly variants: Uint8Array;
  /** The first lap in which the event sounds, in the run named by `run`; in other runs it always sounds. */
  readonly fromLaps: Int32Array;
  readonly run: number;
}

export function emptyTable(bpm: Bpm, meter: Meter, lengthTicks: Ticks): EventTable {
  const none = new Uint8Array(0);
  return {
    bpm,
    meter,
    lengthTicks,
    ids: new Int32Array(0),
    ticks: new Float64Array(0),
    drums: none,
    velocities: none,
    variants: none,
    fromLaps: new Int32Array(0),
    run: -1,
  };
}
