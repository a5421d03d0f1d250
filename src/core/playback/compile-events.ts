import type { Beat, PatternPlace } from "../beat/beat";
import { wholeSpan } from "../beat/beat";
import { findPattern } from "../beat/edit";
import { orderOf, type EventTable } from "../sound/event-table";
import { VARIANTS } from "../sound/kit";
import type { LoopSpan } from "../time/loop-span";
import { barTicks } from "../time/meter";
import type { Feel } from "../beat/feel";
import { feelWarp } from "../timing/feel-warp";
import type { Hearing } from "../timing/heard";
import { loopHits } from "../timing/loop-hits";

/** Hits that were heard as they were struck: the run and the lap from which playback has them. */
export interface FreshHits {
  readonly run: number;
  readonly soundsFrom: ReadonlyMap<number, { readonly run: number; readonly lap: number }>;
}

export interface CompileOptions {
  /** The stretch that goes round; the whole pattern where it is left out. */
  readonly span?: LoopSpan;
  readonly fresh?: FreshHits;
  readonly hearing?: Hearing;
  /** The pass that is being recorded: it is heard on lanes that are silenced, too. */
  readonly recordingPassId?: number;
}

/** What the player plays of a pattern. Strokes of one pad take the kit's variants in turn, the same ones every lap. */
export function compileEvents(beat: Beat, place: PatternPlace, options: CompileOptions = {}): EventTable {
  const { span, fresh, hearing = "grooved", recordingPassId } = options;
  const pattern = findPattern(beat, place);
  const loop = span ?? wholeSpan(pattern, beat.meter);
  const feel: Feel = hearing === "grooved" ? pattern : {};
  const turns = new Map<number, number>();
  const bar = barTicks(beat.meter);
  const fromLap = (id: number) => {
    const from = fresh?.soundsFrom.get(id);
    return from && from.run === fresh!.run ? from.lap : 0;
  };
  const events = loopHits(pattern, beat.meter, loop, beat.inputQuantize.grid, hearing)
    .filter(({ covered }) => !covered)
    .sort((a, b) => a.loopTicks - b.loopTicks || a.hit.id - b.hit.id)
    .map(({ hit, passId, ticks, line, loopTicks, velocity, lengthTicks }) => {
      const turn = turns.get(hit.lane) ?? 0;
      turns.set(hit.lane, turn + 1);
      const leads = loopTicks < 0 || (line !== undefined && line % bar === 0 && ticks < line);
      const always = passId === recordingPassId;
      return { hit, loopTicks, velocity, lengthTicks, leads, always, variant: turn % VARIANTS };
    })
    .sort((a, b) => a.hit.id - b.hit.id);
  const ticks = Float64Array.from(events, ({ loopTicks }) => loopTicks);
  return {
    partId: place.partId,
    patternId: place.patternId,
    bpm: beat.bpm,
    meter: beat.meter,
    span: loop,
    warp: feelWarp(feel, beat.meter),
    padWarps: new Map(
      Object.entries(feel.padAmounts ?? {}).map(([id, share]) => [+id, feelWarp(feel, beat.meter, share)]),
    ),
    ids: Int32Array.from(events, ({ hit }) => hit.id),
    ticks,
    leads: Uint8Array.from(events, ({ leads }) => (leads ? 1 : 0)),
    order: orderOf(ticks, loop.lengthTicks),
    lanes: Uint8Array.from(events, ({ hit }) => hit.lane),
    velocities: Uint8Array.from(events, ({ velocity }) => velocity),
    variants: Uint8Array.from(events, ({ variant }) => variant),
    lengthTicks: Float64Array.from(events, ({ lengthTicks }) => lengthTicks),
    choked: Uint8Array.from(events, ({ hit }) => (hit.choked ? 1 : 0)),
    always: Uint8Array.from(events, ({ always }) => (always ? 1 : 0)),
    fromLaps: Int32Array.from(events, ({ hit }) => fromLap(hit.id)),
    run: fresh?.run ?? -1,
  };
}
