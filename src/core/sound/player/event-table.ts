import type { Meter } from "../../time/meter";
import type { Bpm } from "../../time/tempo";
import type { LoopSpan } from "../../time/loop-span";
import type { Ticks } from "../../time/ticks";
import type { Warp } from "../../time/warp";

const { floor, max, min } = Math;

/** What the player plays, flat, so that it can be sent to the audio thread and swapped there between two blocks. */
export interface EventTable {
  /** Tells tables of one part and pattern from those of another. */
  readonly partId: number;
  readonly patternId: number;
  readonly bpm: Bpm;
  readonly meter: Meter;
  /** The stretch of the pattern that goes round. */
  readonly span: LoopSpan;
  /** Where lines are heard that are made while playing; the events have their places already. */
  readonly warp: Warp | undefined;
  /** The same for pads that take another share of the groove. */
  readonly padWarps: ReadonlyMap<number, Warp | undefined>;
  /** Ascending; an event that keeps its id over a swap is the same event, wherever it went. */
  readonly ids: Int32Array;
  /** In [-length, length): where in the lap; negative is before the lap's downbeat. */
  readonly ticks: Float64Array;
  /** 1 where the event sounds ahead of the bar that it belongs to: what leads into a bar that is not played does not sound. */
  readonly leads: Uint8Array;
  /** The events by their place on the circle of the loop, those ahead of the downbeat at its end; of equals as they stand. */
  readonly order: Uint32Array;
  /** 0..127 */
  readonly lanes: Uint8Array;
  /** 1..127 */
  readonly velocities: Uint8Array;
  /** Which of the sound's variants, taken in turn. */
  readonly variants: Uint8Array;
  /** How long it is held: a sound that ends with its note ends then, others ring out. */
  readonly lengthTicks: Float64Array;
  /** 1 where the sound is cut off with its length, whatever it is. */
  readonly choked: Uint8Array;
  /** 1 where it sounds also on a lane that is silenced: what is being recorded is heard. */
  readonly always: Uint8Array;
  /** The first lap in which the event sounds, in the run named by `run`; in other runs it always sounds. */
  readonly fromLaps: Int32Array;
  readonly segment: number;
}

/** Part id of the placeholder table. */
export const NO_PART = -1;

const NO_PAD_WARPS: EventTable["padWarps"] = new Map();

/** The memory of a table's lists, each once: handed over instead of copied, it costs the thread that gets it nothing. */
export function buffersOf(table: EventTable): ArrayBuffer[] {
  const lists = Object.values(table).filter((value): value is Uint8Array<ArrayBuffer> => ArrayBuffer.isView(value));
  return [...new Set(lists.map(({ buffer }) => buffer))];
}

/**
 * @returns a table's `order`
 * @param ticks each in [-lengthTicks, lengthTicks)
 * @example [...orderOf(Float64Array.of(960, -10, 480), 1920)] // [2, 0, 1]
 */
export function orderOf(ticks: Float64Array, lengthTicks: Ticks): Uint32Array {
  const inLoop = ticks.map((tick) => (tick < 0 ? tick + lengthTicks : tick));
  const { starts, order } = inBuckets(inLoop, lengthTicks);
  for (let bucket = 1; bucket < starts.length; bucket++)
    if (starts[bucket]! - starts[bucket - 1]! > 1)
      order.subarray(starts[bucket - 1], starts[bucket]).sort((a, b) => inLoop[a]! - inLoop[b]! || a - b);
  return order;
}

/** Events by the stretch of the loop that they lie in, about one in each: ten thousand are sorted in a moment then. */
function inBuckets(inLoop: Float64Array, lengthTicks: Ticks) {
  const buckets = max(1, inLoop.length);
  const bucketOf = inLoop.map((tick) => min(buckets - 1, floor((tick / lengthTicks) * buckets)));
  const starts = new Uint32Array(buckets + 1);
  for (const bucket of bucketOf) starts[bucket + 1]!++;
  for (let bucket = 1; bucket <= buckets; bucket++) starts[bucket]! += starts[bucket - 1]!;
  const next = starts.slice();
  const order = new Uint32Array(inLoop.length);
  bucketOf.forEach((bucket, index) => (order[next[bucket]!++] = index));
  return { starts, order };
}

/** Where the first lap begins to sound: ahead of its downbeat where an event does, else on it. @param muted by lane */
export function firstTicks({ ticks, lanes }: EventTable, muted?: Uint8Array): Ticks {
  let first = 0;
  for (let index = 0; index < ticks.length; index++)
    if (ticks[index]! < first && !muted?.[lanes[index]!]) first = ticks[index]!;
  return first as Ticks;
}

/**
 * A loop without events, for what only has a tempo and a meter: the click.
 * @example emptyTable(120, { beats: 4, unit: 4 }, 7680).ticks.length // 0
 */
export function emptyTable(bpm: Bpm, meter: Meter, lengthTicks: Ticks): EventTable {
  const none = new Uint8Array(0);
  return {
    partId: NO_PART,
    patternId: -1,
    bpm,
    meter,
    span: { startTicks: 0 as Ticks, lengthTicks },
    warp: undefined,
    padWarps: NO_PAD_WARPS,
    ids: new Int32Array(0),
    ticks: new Float64Array(0),
    leads: none,
    order: new Uint32Array(0),
    lanes: none,
    velocities: none,
    variants: none,
    lengthTicks: new Float64Array(0),
    choked: none,
    always: none,
    fromLaps: new Int32Array(0),
    segment: -1,
  };
}
