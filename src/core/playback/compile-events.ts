import type { Beat, PatternPlace } from "../beat/beat";
import { patternLengthTicks } from "../beat/beat";
import { findPart, findPattern } from "../beat/edit";
import { DRUM_IDS } from "../drums";
import type { EventTable } from "../sound/event-table";
import { VARIANTS } from "../sound/kit";
import { sounding } from "../timing/heard";

/** Hits that were heard as they were struck, with the lap from which playback has them. */
export interface FreshHits {
  readonly run: number;
  readonly soundsFromLap: ReadonlyMap<number, number>;
}

/** What the player plays of a pattern. Strokes of one pad take the kit's variants in turn, the same ones every lap. */
export function compileEvents(beat: Beat, place: PatternPlace, fresh?: FreshHits): EventTable {
  const part = findPart(beat, place.partId);
  const pattern = findPattern(beat, place);
  const drumOf = new Map(part.pads.map(({ id, drum }) => [id, DRUM_IDS.indexOf(drum)]));
  const turns = new Map<number, number>();
  const events = [...sounding(part, pattern, beat.meter)]
    .sort((a, b) => a.ticks - b.ticks || a.hit.id - b.hit.id)
    .map(({ hit, ticks }) => {
      const turn = turns.get(hit.pad) ?? 0;
      turns.set(hit.pad, turn + 1);
      return { hit, ticks, variant: turn % VARIANTS };
    })
    .sort((a, b) => a.hit.id - b.hit.id);
  return {
    bpm: beat.bpm,
    meter: beat.meter,
    lengthTicks: patternLengthTicks(pattern, beat.meter),
    ids: Int32Array.from(events, ({ hit }) => hit.id),
    ticks: Float64Array.from(events, ({ ticks }) => ticks),
    drums: Uint8Array.from(events, ({ hit }) => drumOf.get(hit.pad) ?? 0),
    velocities: Uint8Array.from(events, ({ hit }) => hit.velocity),
    variants: Uint8Array.from(events, ({ variant }) => variant),
    fromLaps: Int32Array.from(events, ({ hit }) => fresh?.soundsFromLap.get(hit.id) ?? 0),
    run: fresh?.run ?? -1,
  };
}
