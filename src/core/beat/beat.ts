import type { DrumFamily, DrumId, PadRole } from "../drums";
import type { KitId, VoiceId } from "../instruments";
import type { Scale } from "./scale";
import type { Feel } from "./feel";
import type { GridName, LineGridName } from "../time/grid";
import type { Meter } from "../time/meter";
import { barTicks } from "../time/meter";
import type { LoopSpan } from "../time/loop-span";
import type { Bpm } from "../time/tempo";
import { asTicks, type Ticks } from "../time/ticks";

/** Which lines, how hard they pull (ratio 0..1), how far they pull (ratio 0..1 of half a step). */
export interface QuantizeSettings {
  readonly grid: GridName;
  readonly strength: number;
  readonly reach: number;
  /** More grids, whose lines count as well. */
  readonly mix?: readonly LineGridName[];
  /** Of a mix, in each beat only the lines of the one grid that fits its hits best. */
  readonly adaptive?: true;
  /** Where a hit that was moved ends: at its old end, on the next line, or after so many ticks. Else it moves along. */
  readonly ends?: "played" | "grid" | Ticks;
}

/** A row of the picture: the id of a pad in a kit, a MIDI note number in a tonal part. 0..127 */
export type Lane = number;

/** What the hands did. Nothing ever changes it. */
export interface PlayedStroke {
  /** From the loop start, with its fraction; negative when it was played early on the downbeat. */
  readonly ticks: Ticks;
  /** The same with the swing and groove taken out that the pattern had when it was played, where it had any. */
  readonly straightTicks?: Ticks;
  /** 1..127 */
  readonly velocity: number;
}

/** Where a hit starts from in place of where, how hard and how long it was played; what is left out is as it was played. */
export interface HitOverride {
  /** On the straight grid. No grid moves a place that was given by hand. */
  readonly ticks?: Ticks;
  /** 1..127 */
  readonly velocity?: number;
  readonly lengthTicks?: Ticks;
  /** It was silent beside a louder hit on its line. */
  readonly covered?: true;
  /** What was heard when its timing was kept, or what somebody made of it. */
  readonly by: "keep" | "hand";
}

/** One stroke on one lane. */
export interface Hit {
  readonly id: number;
  readonly lane: Lane;
  readonly played: PlayedStroke;
  readonly start?: HitOverride;
  /** The lane that was struck, where the hit was moved to another one since. */
  readonly struckLane?: Lane;
  readonly lengthTicks: Ticks;
  /** A double trigger: kept and marked, but silent. */
  readonly masked?: true;
  /** The sound is cut off after `lengthTicks`, as a cymbal that was grabbed; else it rings out. */
  readonly choked?: true;
  /** In place of the settings of its pass; a repeated note carries the grid that made it. */
  readonly quantize?: QuantizeSettings;
  /** The very first downbeat, where it was played well before that and can mean nothing else, whatever the grid. */
  readonly downbeatTicks?: Ticks;
  /** The trip round the loop in which it was played, from 0 in each recording. */
  readonly lap?: number;
}

/** A stretch of time, both ends included; milliseconds since 1970. */
export interface EchoSpan {
  readonly fromMs: number;
  readonly toMs: number;
}

/** What was recorded between going in and out of record; it carries its own quantize settings. */
export interface Pass {
  readonly id: number;
  readonly name: string;
  readonly muted: boolean;
  /** While any pass of the pattern is soloed, only those sound. */
  readonly soloed?: true;
  /** When what came back as this pass was played: it is not to come back again. */
  readonly echoes?: readonly EchoSpan[];
  /** One of several tries at the same thing: tries with the same number never sound together. */
  readonly take?: number;
  readonly quantize: QuantizeSettings;
  readonly hits: readonly Hit[];
}

/** A loop of fixed length. Hits beyond its end are kept and silent, so that a shorter loop loses nothing. */
export interface Pattern extends Feel {
  readonly id: number;
  readonly name: string;
  readonly bars: number;
  readonly passes: readonly Pass[];
  /** Named states of its timing to go back to, oldest first. */
  readonly points?: readonly TimingPoint[];
  /** It is the alternate of that pattern of its part, which is none itself. */
  readonly alternateOf?: number;
  /** What lies on these lanes is kept, and silent in this pattern. */
  readonly silentLanes?: readonly Lane[];
}

/** Where every hit started from when a state of the timing was kept. */
export interface TimingPoint {
  readonly id: number;
  readonly name: string;
  /** By hit id. */
  readonly starts: Readonly<Record<number, HitOverride>>;
}

/** Level and place of what sounds. */
export interface Mix {
  /** -60..12 */
  readonly levelDb: number;
  /** -1 left .. 1 right, beside where the sound stands by itself. */
  readonly pan: number;
  /** What is sent into the room; -60 is nothing. */
  readonly roomDb: number;
}

/** A drum of a kit; of the part's where none is named. */
export interface DrumSource {
  readonly kind: "drum";
  readonly drum: DrumId;
  readonly kit?: KitId;
}

/** Of samples of the player's own, frames a second. */
export const SAMPLE_RATE = 48_000;

/** What is cut out of a sound of the player's own, and how it is heard. */
export interface SampleSource {
  readonly kind: "sample";
  /** The digest of its WAV file, under which it is kept. */
  readonly sampleId: string;
  readonly name: string;
  readonly channels: 1 | 2;
  /** In its own frames, from the first up to, but without the second. */
  readonly startFrame: number;
  readonly endFrame: number;
  /** At its end it goes out in so long, ms. */
  readonly fadeMs: number;
  readonly reversed?: true;
  /** Gain applied to match a drum's loudness; -60..40. */
  readonly gainDb: number;
}

/** A sound of a pad. */
export interface PadLayer {
  readonly source: DrumSource | SampleSource;
  /** -60..12; 0 where nothing is said. */
  readonly levelDb?: number;
  /** -24..24, beside the pad's own. */
  readonly tuneSemitones?: number;
  /** The velocities at which it sounds, both ends included; all where nothing is said. */
  readonly velocities?: readonly [from: number, to: number];
}

/** Layers of a pad at the most. */
export const MAX_LAYERS = 4;

/** A place to strike. */
export interface Pad {
  readonly id: Lane;
  /** 0..15: its key, and its place among the pads; without one it is a row only. */
  readonly slot?: number;
  readonly name: string;
  /** The MIDI note it is written as, 0..127. */
  readonly note: number;
  readonly role: PadRole;
  readonly family: DrumFamily;
  readonly layers: readonly PadLayer[];
  /** -24..24, of all layers. */
  readonly tuneSemitones?: number;
  /** Extra decay: seconds to fall by 60 dB; 0.02..10. */
  readonly decaySeconds?: number;
  /** Pads of one group cut each other off; 0 is no group. Without it, as its sounds do by themselves. */
  readonly chokeGroup?: number;
  /** It ends with its note; else it rings out. */
  readonly held?: true;
  readonly mix: Mix;
  readonly muted: boolean;
  readonly soloed: boolean;
}

/** What is heard of a pad: its sounds, and how they go. */
export type PadSound = Pick<Pad, "layers" | "tuneSemitones" | "decaySeconds" | "chokeGroup" | "held">;

interface PartBase {
  /** What is played in this part, by hand or by its patterns, sounds in that one, too. */
  readonly alsoPlays?: number;
  readonly id: number;
  readonly name: string;
  readonly mix: Mix;
  readonly muted: boolean;
  readonly soloed: boolean;
  readonly patterns: readonly Pattern[];
}

/** An instrument of pads. */
export interface KitPart extends PartBase {
  readonly kind: "kit";
  readonly kitId: KitId;
  /** The kit of the player's own that its pads were last given. */
  readonly kitName?: string;
  readonly pads: readonly Pad[];
}

/** An instrument of pitches. */
export interface TonalPart extends PartBase {
  readonly kind: "tonal";
  readonly voiceId: VoiceId;
  /** So many semitones above its notes it sounds; -48..48. */
  readonly transpose: number;
  /** What its keys play; without one all twelve notes, from the voice's first key on. */
  readonly scale?: Scale;
  /** The General MIDI program it is written with, 0..127; else its voice's. */
  readonly program?: number;
  /** The MIDI channel it is written to, 1..16 without 10; else the next free one. */
  readonly channel?: number;
}

export type Part = KitPart | TonalPart;
/** A part without its patterns. */
export type Instrument = Omit<KitPart, "patterns"> | Omit<TonalPart, "patterns">;

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
export interface PatternRef {
  readonly partId: number;
  readonly patternId: number;
}

/** @example patternLengthTicks(pattern, { beats: 7, unit: 8 }) // 6720 */
export function patternLengthTicks(pattern: Pattern, meter: Meter): Ticks {
  return asTicks(pattern.bars * barTicks(meter));
}

/**
 * The whole pattern as the stretch that goes round.
 * @example wholeSpan(pattern, { beats: 4, unit: 4 }) // { startTicks: 0, lengthTicks: 7680 }
 */
export function wholeSpan(pattern: Pattern, meter: Meter): LoopSpan {
  return { startTicks: asTicks(0), lengthTicks: patternLengthTicks(pattern, meter) };
}

/** The passes that sound: not muted, and soloed where any is. @example openPasses(pattern).length // 1 */
export function openPasses({ passes }: Pattern): readonly Pass[] {
  const solo = passes.some(({ soloed }) => soloed);
  return passes.filter(({ muted, soloed }) => !muted && (!solo || soloed));
}

/** How many starts the points of a pattern hold. @example pointStarts(pattern) // 0 */
export function pointStarts({ points = [] }: Pattern): number {
  return points.reduce((sum, { starts }) => sum + Object.keys(starts).length, 0);
}

/** @example hitCount(beat) // 8 */
export function hitCount(beat: Beat): number {
  return beat.parts.reduce(
    (sum, part) =>
      sum +
      part.patterns.reduce((inPart, { passes }) => inPart + passes.reduce((n, pass) => n + pass.hits.length, 0), 0),
    0,
  );
}
