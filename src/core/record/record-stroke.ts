import type { Beat, Hit, Pass, PatternPlace, QuantizeSettings } from "../beat/beat";
import { addHits, addPass, findPattern } from "../beat/edit";
import { removeHits } from "../beat/pass-edit";
import { chooseTake, takesOf } from "../beat/takes";
import { barTicks } from "../time/meter";
import type { LoopSpan } from "../time/loop-span";
import type { Ticks } from "../time/ticks";
import { unwarpTicks, warpTicks } from "../time/warp";
import { feelWarp } from "../timing/feel-warp";
import { loopHits } from "../timing/loop-hits";
import { placeStroke, type StrokePlace } from "./place-stroke";

/** What a hit does to what is there: adds to it, takes the place of its pad's earlier hits, or starts a try of its own. */
export const RECORD_MODES = ["overdub", "replace", "takes"] as const;
export type RecordMode = (typeof RECORD_MODES)[number];

/** A stroke while the transport runs, before it is anybody's hit. */
export interface Stroke {
  readonly pad: number;
  /** 1..127 */
  readonly velocity: number;
  /** From the first downbeat of the run; negative in the count-in. */
  readonly transportTicks: Ticks;
  readonly masked?: true;
  /** For a stroke that was made on a grid, such as a repeated note: its own, whatever the input grid is. */
  readonly quantize?: QuantizeSettings;
  /** It was played while the pattern was heard without its swing and groove. */
  readonly unfelt?: true;
}

/** Where strokes go between going in and out of record. */
export interface Recording {
  readonly place: PatternPlace;
  readonly mode: RecordMode;
  /** The pass being recorded; without an id until its first hit, so that empty laps leave nothing behind. */
  readonly passId: number | undefined;
  /** The lap of the newest hit. */
  readonly lap: number;
  /** The group of this recording's takes, from the first one on. */
  readonly take: number | undefined;
  /** In replace: the lap in which each pad last lost its earlier hits. */
  readonly replaced: Readonly<Record<number, number>>;
}

export function startRecording(place: PatternPlace, mode: RecordMode): Recording {
  return { place, mode, passId: undefined, lap: -1, take: undefined, replaced: {} };
}

export interface RecordedStroke {
  readonly beat: Beat;
  readonly recording: Recording;
  readonly hitId: number;
  /** It was heard when it was struck, so playback has it from this lap on and not before. */
  readonly soundsFromLap: number;
}

/** A drum stroke has no length of its own; this is what is written until the pad is let go. */
export const STROKE_LENGTH_TICKS = 60 as Ticks;

/**
 * Adds a stroke to the open pass, or to a new one when there is none, when it was undone, when the input quantize has
 * changed since, or in takes when a lap has begun. Overdub and takes never touch another hit; replace takes away what
 * sounded before of the pads that are struck in a lap, in the stretch that goes round. The pattern's length never changes.
 * @returns undefined when the stroke lies in the count-in and is not an early downbeat
 */
export function recordStroke(
  beat: Beat,
  recording: Recording,
  stroke: Stroke,
  span: LoopSpan,
): RecordedStroke | undefined {
  const at = placeStroke(stroke.transportTicks, span, barTicks(beat.meter), beat.inputQuantize.grid);
  return at && recordAt(beat, recording, stroke, at, span);
}

/** The same for a stroke whose place is known, such as an early one ahead of a change of patterns. */
export function recordAt(
  start: Beat,
  before: Recording,
  stroke: Stroke,
  at: StrokePlace,
  span: LoopSpan,
): RecordedStroke {
  const { beat, recording } = replaceEarlier(start, before, stroke, at.lap, span);
  const target = openPassFor(beat, recording, at.lap);
  const hit: Omit<Hit, "id"> = {
    pad: stroke.pad,
    ...overFeel(beat, recording.place, stroke, at.playedTicks),
    velocity: stroke.velocity,
    lengthTicks: STROKE_LENGTH_TICKS,
    ...(stroke.masked && { masked: true }),
    ...(stroke.quantize && { quantize: stroke.quantize }),
    lap: at.lap,
  };
  return {
    beat: addHits(target.beat, recording.place, target.recording.passId!, [hit]),
    recording: { ...target.recording, lap: Math.max(at.lap, recording.lap) },
    hitId: target.beat.nextId,
    soundsFromLap: at.lap + 1,
  };
}

/** Where a stroke was played, and where that is without the swing and groove it was played over. */
export function overFeel(
  beat: Beat,
  place: PatternPlace,
  { pad, quantize, unfelt }: Pick<Stroke, "pad" | "quantize" | "unfelt">,
  ticks: Ticks,
): { readonly playedTicks: Ticks; readonly straightTicks?: Ticks } {
  const pattern = findPattern(beat, place);
  const warp = unfelt ? undefined : feelWarp(pattern, beat.meter, pattern.padAmounts?.[pad]);
  if (!warp) return { playedTicks: ticks };
  // A stroke that was made on a grid comes with its line, and was heard where the groove has that.
  if (quantize) return { playedTicks: warpTicks(warp, ticks), straightTicks: ticks };
  return { playedTicks: ticks, straightTicks: unwarpTicks(warp, ticks) };
}

function replaceEarlier(
  beat: Beat,
  recording: Recording,
  { pad, masked }: Stroke,
  lap: number,
  span: LoopSpan,
): { readonly beat: Beat; readonly recording: Recording } {
  if (recording.mode !== "replace" || masked || lap <= (recording.replaced[pad] ?? -1)) return { beat, recording };
  const inLoop = loopHits(findPattern(beat, recording.place), beat.meter, span, beat.inputQuantize.grid);
  const doomed = new Set(inLoop.filter(({ hit }) => hit.pad === pad).map(({ hit }) => hit.id));
  return {
    beat: removeHits(beat, recording.place, ({ id }) => doomed.has(id), recording.passId),
    recording: { ...recording, replaced: { ...recording.replaced, [pad]: lap } },
  };
}

function openPassFor(beat: Beat, recording: Recording, lap: number): { beat: Beat; recording: Recording } {
  const { place, mode, take } = recording;
  const pattern = findPattern(beat, place);
  const current = pattern.passes.find(({ id }) => id === recording.passId);
  const goesOn =
    mode === "takes" ? lap <= recording.lap : current && sameSettings(current.quantize, beat.inputQuantize);
  if (current && goesOn) return { beat, recording };
  const name = mode === "takes" ? takeName(take === undefined ? [] : takesOf(pattern, take)) : passName(pattern.passes);
  const group = mode === "takes" ? { take: take ?? beat.nextId } : {};
  const added = addPass(beat, place, { name, muted: false, quantize: beat.inputQuantize, ...group });
  return {
    beat: mode === "takes" ? chooseTake(added.beat, place, added.passId) : added.beat,
    recording: { ...recording, ...group, passId: added.passId },
  };
}

function passName(passes: readonly Pass[]): string {
  const numbers = passes.map(({ name }) => Number(/^Pass (\d+)$/.exec(name)?.[1] ?? 0));
  return `Pass ${Math.max(0, ...numbers) + 1}`;
}

function takeName(takes: readonly Pass[]): string {
  const numbers = takes.map(({ name }) => Number(/^Take (\d+)$/.exec(name)?.[1] ?? 0));
  return `Take ${Math.max(0, ...numbers) + 1}`;
}

function sameSettings(a: QuantizeSettings, b: QuantizeSettings): boolean {
  return a === b || JSON.stringify(a) === JSON.stringify(b);
}
