import type { Beat, Pass, PatternRef } from "../beat/beat";
import { addHits, addPass, findPattern, type NewHit } from "../beat/edit";
import { removeHits } from "../beat/edits/pass-edit";
import { sameQuantize } from "../beat/quantize-settings";
import { chooseTake, takesOf } from "../beat/edits/takes";
import { asTicks } from "../time/ticks";
import { loopHitIds } from "../timing/loop-hits";
import type { PlacedStroke } from "./placed-stroke";

/** What a hit does to what is there: adds to it, takes the place of its pad's earlier hits, or starts a try of its own. */
export const RECORD_MODES = ["overdub", "replace", "takes"] as const;
export type RecordMode = (typeof RECORD_MODES)[number];

/** Where strokes go between going in and out of record. */
export interface Recording {
  readonly patternRef: PatternRef;
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

/** @example startRecording(patternRef, "overdub").lap // -1 */
export function startRecording(patternRef: PatternRef, mode: RecordMode): Recording {
  return { patternRef, mode, passId: undefined, lap: -1, take: undefined, replaced: {} };
}

export interface RecordedStroke {
  readonly beat: Beat;
  readonly recording: Recording;
  readonly hitId: number;
  /** It was heard when it was struck, so playback has it from this lap on and not before. */
  readonly soundsFromLap: number;
}

/** A drum stroke has no length of its own; this is what is written until the pad is let go. */
export const STROKE_LENGTH_TICKS = asTicks(60);

/**
 * Adds a stroke to the open pass, or to a new one when there is none, when it was undone, when the input quantize has
 * changed since, or in takes when a lap has begun. Overdub and takes never touch another hit; replace takes away what
 * sounded before of the pads that are struck in a lap, in the stretch that goes round. The pattern's length never changes.
 * @param placed in a lap, not in a pick-up
 */
export function recordStroke(start: Beat, before: Recording, placed: PlacedStroke): RecordedStroke {
  const going =
    before.patternRef.patternId === placed.patternRef.patternId
      ? before
      : startRecording(placed.patternRef, before.mode);
  const { beat, recording } = replaceEarlier(start, going, placed);
  const target = openPassFor(beat, recording, placed.lap);
  return {
    beat: addHits(target.beat, recording.patternRef, target.recording.passId!, [hitOf(placed)]),
    recording: { ...target.recording, lap: Math.max(placed.lap, recording.lap) },
    hitId: target.beat.nextId,
    soundsFromLap: placed.lap + 1,
  };
}

/** What is written of a stroke. */
export function hitOf(placed: PlacedStroke): NewHit {
  const {
    lane,
    velocity,
    lengthTicks = STROKE_LENGTH_TICKS,
    playedTicks,
    straightTicks,
    masked,
    quantize,
    downbeatTicks,
    lap,
  } = placed;
  return {
    lane,
    played: { ticks: playedTicks, ...(straightTicks !== undefined && { straightTicks }), velocity },
    lengthTicks,
    ...(masked && { masked }),
    ...(quantize && { quantize }),
    ...(downbeatTicks !== undefined && { downbeatTicks }),
    ...(lap >= 0 && { lap }),
  };
}

function replaceEarlier(
  beat: Beat,
  recording: Recording,
  { lane: pad, masked, lap, span, timingView }: PlacedStroke,
): { readonly beat: Beat; readonly recording: Recording } {
  if (recording.mode !== "replace" || masked || lap <= (recording.replaced[pad] ?? -1)) return { beat, recording };
  const doomed = loopHitIds(beat, recording.patternRef, new Set([pad]), span, timingView);
  return {
    beat:
      doomed.size === 0
        ? beat
        : removeHits(beat, recording.patternRef, ({ id, lane }) => lane === pad && doomed.has(id), recording.passId),
    recording: { ...recording, replaced: { ...recording.replaced, [pad]: lap } },
  };
}

function openPassFor(beat: Beat, recording: Recording, lap: number): { beat: Beat; recording: Recording } {
  const { patternRef, mode, take } = recording;
  const pattern = findPattern(beat, patternRef);
  const current = pattern.passes.find(({ id }) => id === recording.passId);
  const goesOn =
    mode === "takes" ? lap <= recording.lap : current && sameQuantize(current.quantize, beat.inputQuantize);
  if (current && goesOn) return { beat, recording };
  const group = mode === "takes" ? { take: take ?? beat.nextId } : {};
  const name =
    group.take === undefined ? nextName("Pass", pattern.passes) : nextName("Take", takesOf(pattern, group.take));
  // What is being recorded is heard, also beside passes that are soloed.
  const soloed = pattern.passes.some((pass) => pass.soloed) && { soloed: true as const };
  const added = addPass(beat, patternRef, { name, muted: false, quantize: beat.inputQuantize, ...soloed, ...group });
  return {
    beat: mode === "takes" ? chooseTake(added.beat, patternRef, added.passId) : added.beat,
    recording: { ...recording, ...group, passId: added.passId },
  };
}

/** The first number that none of them has. */
function nextName(word: "Pass" | "Take", passes: readonly Pass[]): string {
  const numbered = new RegExp(`^${word} (\\d+)$`);
  const numbers = passes.map(({ name }) => Number(numbered.exec(name)?.[1] ?? 0));
  return `${word} ${Math.max(0, ...numbers) + 1}`;
}
