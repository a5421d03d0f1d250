import type { Beat, PatternPlace, QuantizeSettings } from "../beat/beat";
import { patternLengthTicks } from "../beat/beat";
import { addHits, addPass, findPattern } from "../beat/edit";
import { barTicks } from "../time/meter";
import type { Ticks } from "../time/ticks";
import { placeStroke } from "./place-stroke";

/** A stroke while the transport runs, before it is anybody's hit. */
export interface Stroke {
  readonly pad: number;
  /** 1..127 */
  readonly velocity: number;
  /** From the first downbeat of the run; negative in the count-in. */
  readonly transportTicks: Ticks;
}

/** The pass being recorded; without an id until its first hit, so that empty laps leave nothing behind. */
export interface OpenPass {
  readonly place: PatternPlace;
  readonly passId: number | undefined;
}

export interface RecordedStroke {
  readonly beat: Beat;
  readonly openPass: OpenPass;
  readonly hitId: number;
  /** It was heard when it was struck, so playback has it from this lap on and not before. */
  readonly soundsFromLap: number;
}

/** A drum stroke has no length of its own; this is what is written until the pad is let go. */
export const STROKE_LENGTH_TICKS = 60 as Ticks;

/**
 * Overdub: adds a stroke to the open pass, or to a new one when there is none, when it was undone, or when the input
 * quantize has changed since. Never touches another hit and never changes the pattern's length.
 * @returns undefined when the stroke lies in the count-in and is not an early downbeat
 */
export function recordStroke(beat: Beat, open: OpenPass, stroke: Stroke): RecordedStroke | undefined {
  const pattern = findPattern(beat, open.place);
  const length = patternLengthTicks(pattern, beat.meter);
  const at = placeStroke(stroke.transportTicks, length, barTicks(beat.meter), beat.inputQuantize.grid);
  if (!at) return undefined;

  const current = pattern.passes.find(({ id }) => id === open.passId);
  const goesOn = current !== undefined && sameSettings(current.quantize, beat.inputQuantize);
  const target = goesOn ? { beat, passId: current.id } : startPass(beat, open.place);
  const hit = {
    pad: stroke.pad,
    playedTicks: at.playedTicks,
    velocity: stroke.velocity,
    lengthTicks: STROKE_LENGTH_TICKS,
  };
  return {
    beat: addHits(target.beat, open.place, target.passId, [hit]),
    openPass: { place: open.place, passId: target.passId },
    hitId: target.beat.nextId,
    soundsFromLap: at.lap + 1,
  };
}

function startPass(beat: Beat, place: PatternPlace): { beat: Beat; passId: number } {
  const numbers = findPattern(beat, place).passes.map(({ name }) => Number(/^Pass (\d+)$/.exec(name)?.[1] ?? 0));
  const name = `Pass ${Math.max(0, ...numbers) + 1}`;
  return addPass(beat, place, { name, muted: false, quantize: beat.inputQuantize });
}

function sameSettings(a: QuantizeSettings, b: QuantizeSettings): boolean {
  return a.grid === b.grid && a.strength === b.strength && a.reach === b.reach;
}
