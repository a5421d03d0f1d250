import type { Beat, PatternRef } from "../beat/beat";
import { wholeSpan } from "../beat/beat";
import { findPattern } from "../beat/edit";
import { orderOf, type EventTable } from "../sound/player/event-table";
import { MAX_LANES, VARIANTS } from "../sound/signal/sound";
import type { LoopSpan } from "../time/loop-span";
import { barTicks } from "../time/meter";
import type { Ticks } from "../time/ticks";
import type { Feel } from "../beat/feel";
import { feelWarp } from "../timing/feel-warp";
import { resolvedHits } from "../timing/resolve-timing";
import type { ResolvedHit, TimingView } from "../timing/resolved-hit";
import { loopPlaces } from "../timing/loop-hits";

/** Hits that were heard as they were struck: the run and the lap from which playback has them. */
export interface FreshHits {
  readonly segment: number;
  readonly soundsFrom: ReadonlyMap<number, { readonly segment: number; readonly lap: number }>;
}

export interface CompileOptions {
  /** The stretch that goes round; the whole pattern where it is left out. */
  readonly span?: LoopSpan;
  readonly fresh?: FreshHits;
  readonly timingView?: TimingView;
  /** The pass that is being recorded: it is heard on lanes that are silent, too. */
  readonly recordingPassId?: number;
}

/**
 * What the player plays of a pattern. Strokes of one pad take the kit's variants in turn, the same ones every lap.
 * @example compileEvents(beat, patternRef).ticks.length // 8
 */
export function compileEvents(beat: Beat, patternRef: PatternRef, options: CompileOptions = {}): EventTable {
  const { span, fresh, timingView = "grooved", recordingPassId } = options;
  const pattern = findPattern(beat, patternRef);
  const silent = new Set(pattern.silentLanes);
  const loop = span ?? wholeSpan(pattern, beat.meter);
  const feel: Feel = timingView === "grooved" ? pattern : {};
  const bar = barTicks(beat.meter);
  const placeOf = loopPlaces(pattern, beat.meter, loop, beat.inputQuantize.grid);
  const isHeard = ({ hit, passId }: ResolvedHit) => !silent.has(hit.lane) || passId === recordingPassId;
  const all = resolvedHits(pattern, beat.meter, timingView);
  const events = soundingById(silent.size > 0 ? all.filter(isHeard) : all, placeOf);
  const ticks = new Float64Array(events.length);
  events.forEach((one, index) => (ticks[index] = placeOf(one)!));
  const order = orderOf(ticks, loop.lengthTicks);
  return {
    partId: patternRef.partId,
    patternId: patternRef.patternId,
    bpm: beat.bpm,
    meter: beat.meter,
    span: loop,
    warp: feelWarp(feel, beat.meter),
    padWarps: new Map(
      Object.entries(feel.padAmounts ?? {}).map(([id, share]) => [+id, feelWarp(feel, beat.meter, share)]),
    ),
    ticks,
    order,
    ...columnsOf(events, ticks, order, { bar, recordingPassId, fresh }),
    segment: fresh?.segment ?? -1,
  };
}

interface ColumnOptions {
  readonly bar: Ticks;
  readonly fresh: FreshHits | undefined;
  readonly recordingPassId: number | undefined;
}

/** What the events are, list by list: filled in one go, as this is done with every stroke, for all hits. */
function columnsOf(
  events: readonly ResolvedHit[],
  ticks: Float64Array,
  order: Uint32Array,
  { bar, fresh, recordingPassId }: ColumnOptions,
) {
  const count = events.length;
  const bytes = () => new Uint8Array(count);
  const [leads, lanes, velocities, choked, always] = [bytes(), bytes(), bytes(), bytes(), bytes()];
  const [ids, fromLaps, lengthTicks] = [new Int32Array(count), new Int32Array(count), new Float64Array(count)];
  for (let index = 0; index < count; index++) {
    const one = events[index]!;
    const { hit } = one;
    ids[index] = hit.id;
    leads[index] = ticks[index]! < 0 || isAheadOfBar(one, bar) ? 1 : 0;
    lanes[index] = hit.lane;
    velocities[index] = one.velocity;
    lengthTicks[index] = one.lengthTicks;
    choked[index] = hit.choked ? 1 : 0;
    always[index] = one.passId === recordingPassId ? 1 : 0;
    const from = fresh?.soundsFrom.get(hit.id);
    fromLaps[index] = from && from.segment === fresh!.segment ? from.lap : 0;
  }
  return {
    ids,
    leads,
    lanes,
    velocities,
    lengthTicks,
    choked,
    always,
    fromLaps,
    variants: variantsInTurn(ticks, lanes, order),
  };
}

/** What sounds in the stretch, by id; passes were mostly made in their order, then it is in that order already. */
function soundingById(
  hits: readonly ResolvedHit[],
  placeOf: (hit: ResolvedHit) => Ticks | undefined,
): readonly ResolvedHit[] {
  const events = hits.filter((one) => !one.duplicateOnLine && placeOf(one) !== undefined);
  const ascending = events.every(({ hit }, index) => index === 0 || events[index - 1]!.hit.id < hit.id);
  return ascending ? events : events.sort((a, b) => a.hit.id - b.hit.id);
}

function isAheadOfBar({ line, ticks }: ResolvedHit, barTicks: Ticks): boolean {
  return line !== undefined && line % barTicks === 0 && ticks < line;
}

/** Variants by the strokes of each lane, from the start of the lap: what is ahead of its downbeat comes first. */
function variantsInTurn(ticks: Float64Array, lanes: Uint8Array, order: Uint32Array): Uint8Array {
  const variants = new Uint8Array(ticks.length);
  const turns = new Uint8Array(MAX_LANES);
  for (const ahead of [true, false])
    for (const index of order) {
      if (ticks[index]! < 0 !== ahead) continue;
      const lane = lanes[index]!;
      variants[index] = turns[lane]!;
      turns[lane] = (turns[lane]! + 1) % VARIANTS;
    }
  return variants;
}
