import type { DrumId } from "../drums";
import type { GridName } from "../time/grid";
import type { Meter } from "../time/meter";
import { barTicks } from "../time/meter";
import type { Bpm } from "../time/tempo";
import type { Ticks } from "../time/ticks";

/** Which lines, how hard they pull (ratio 0..1), how far they pull (ratio 0..1 of half a step). */
export interface QuantizeSettings {
  readonly grid: GridName;
  readonly strength: number;
  readonly reach: number;
}

/** One stroke, exactly as it was played. Nothing but a deliberate edit ever changes it. */
export interface Hit {
  readonly id: number;
  /** The id of a pad of the part. */
  readonly pad: number;
  /** From the loop start, with its fraction; negative when it was played early on the downbeat. */
  readonly playedTicks: Ticks;
  /** 1..127 */
  readonly velocity: number;
  readonly lengthTicks: Ticks;
}

/** What was recorded between going in and out of record; it carries its own quantize settings. */
export interface Pass {
  readonly id: number;
  readonly name: string;
  readonly muted: boolean;
  readonly quantize: QuantizeSettings;
  readonly hits: readonly Hit[];
}

/** A loop of fixed length. Hits beyond its end are kept and silent, so that a shorter loop loses nothing. */
export interface Pattern {
  readonly id: number;
  readonly name: string;
  readonly bars: number;
  readonly passes: readonly Pass[];
}

/** A place to strike: the sound it makes and the MIDI note it is written as. */
export interface Pad {
  readonly id: number;
  readonly name: string;
  readonly drum: DrumId;
  /** 0..127 */
  readonly note: number;
  readonly muted: boolean;
  readonly soloed: boolean;
}

/** An instrument of the beat. */
export interface Part {
  readonly id: number;
  readonly name: string;
  readonly kit: "deckhouse";
  readonly pads: readonly Pad[];
  readonly patterns: readonly Pattern[];
}

/** The document. */
export interface Beat {
  readonly id: string;
  readonly name: string;
  readonly bpm: Bpm;
  readonly meter: Meter;
  /** For what is recorded next; recorded passes keep theirs. */
  readonly inputQuantize: QuantizeSettings;
  readonly parts: readonly Part[];
  /** The next free id for a part, pattern, pass or hit of this beat. */
  readonly nextId: number;
}

/** Where in a beat a pattern is. */
export interface PatternPlace {
  readonly partId: number;
  readonly patternId: number;
}

export function patternLengthTicks(pattern: Pattern, meter: Meter): Ticks {
  return (pattern.bars * barTicks(meter)) as Ticks;
}

export function hitCount(beat: Beat): number {
  return beat.parts.reduce(
    (sum, part) =>
      sum +
      part.patterns.reduce((inPart, { passes }) => inPart + passes.reduce((n, pass) => n + pass.hits.length, 0), 0),
    0,
  );
}
