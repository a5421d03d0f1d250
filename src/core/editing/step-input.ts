import type { Beat, Hit, Lane, PatternRef } from "../beat/beat";
import { findPattern, setBars } from "../beat/edit";
import { MAX_BARS } from "../beat/new-beat";
import { removeHits } from "../beat/edits/pass-edit";
import { asTicks, type Ticks } from "../time/ticks";
import { resolvedHits } from "../timing/resolve-timing";
import { editLines, linesBeside, nearestLine, type EditLines } from "./edit-lines";
import { changeHits } from "./hand-change";
import { setLength } from "./stretch-hits";
import { writeHits, type Written } from "./write-hits";

/** What a step pushes to the right: nothing, what follows in the lanes that it enters, or all. */
export const STEP_INSERTS = ["off", "lane", "all"] as const;
export type StepInsert = (typeof STEP_INSERTS)[number];
/** Where writing goes on behind the loop's last line. */
export const STEP_ENDS = ["wrap", "extend", "stop"] as const;
export type StepEnd = (typeof STEP_ENDS)[number];

export interface StepSettings {
  readonly insert: StepInsert;
  readonly atEnd: StepEnd;
  /** Of what is entered: up to the next line, or so many ticks. */
  readonly lengthTicks: Ticks | "line";
}

/** What is struck together. */
export interface StepStroke {
  readonly lane: Lane;
  /** 1..127 */
  readonly velocity: number;
}

export interface Stepped extends Written {
  /** Where the next step goes: a line of the loop, or its end, where nothing more is taken. */
  readonly next: Ticks;
}

/**
 * Enters strokes at a line of the input grid and goes on to the next one. What their lanes have on that line makes way; with
 * insert it is pushed on instead, with all that follows, each hit by a line.
 * @param at a line of the loop, 0 <= at < its length
 * @returns nothing entered where `at` is the loop's end
 */
export function enterStep(
  beat: Beat,
  patternRef: PatternRef,
  at: Ticks,
  strokes: readonly StepStroke[],
  settings: StepSettings,
): Stepped {
  const lines = linesOf(beat, patternRef);
  if (at >= lines.lengthTicks) return { beat, ids: [], next: at };
  const lanes = new Set(strokes.map(({ lane }) => lane));
  const room =
    settings.insert === "off" ? clearLine(beat, patternRef, at, lanes) : pushOn(beat, patternRef, at, lanes, settings);
  const { after } = linesBeside(lines, at);
  const lengthTicks = settings.lengthTicks === "line" ? asTicks(after - at) : settings.lengthTicks;
  const written = writeHits(
    room,
    patternRef,
    strokes.map(({ lane, velocity }) => ({ lane, ticks: at, velocity, lengthTicks })),
  );
  return { ids: written.ids, ...goOn(written.beat, patternRef, at, settings.atEnd) };
}

/** Goes on without entering anything. @returns the beat, longer where its end was reached and extends */
export function goOn(beat: Beat, patternRef: PatternRef, at: Ticks, atEnd: StepEnd): Pick<Stepped, "beat" | "next"> {
  const lines = linesOf(beat, patternRef);
  if (at >= lines.lengthTicks) return { beat, next: at };
  const { after } = linesBeside(lines, at);
  if (after < lines.lengthTicks) return { beat, next: after };
  if (atEnd === "wrap") return { beat, next: asTicks(0) };
  const { bars } = findPattern(beat, patternRef);
  const longer = atEnd === "extend" && bars < MAX_BARS ? setBars(beat, patternRef, bars + 1) : beat;
  return { beat: longer, next: lines.lengthTicks };
}

/** The line before, round the loop's start. */
export function stepBack(beat: Beat, patternRef: PatternRef, at: Ticks): Ticks {
  const lines = linesOf(beat, patternRef);
  return at <= 0 ? lines.at.at(-1)! : linesBeside(lines, asTicks(at - 1)).before;
}

/** Lengthens what was entered last by a line: a tie. @param to where the next step goes */
export function tieStep(beat: Beat, patternRef: PatternRef, ids: ReadonlySet<number>, from: Ticks, to: Ticks): Beat {
  const { after } = linesBeside(linesOf(beat, patternRef), to);
  return setLength(beat, patternRef, ids, asTicks(after - from));
}

function linesOf(beat: Beat, patternRef: PatternRef): EditLines {
  return editLines(findPattern(beat, patternRef), beat.meter, beat.inputQuantize);
}

function clearLine(beat: Beat, patternRef: PatternRef, at: Ticks, lanes: ReadonlySet<Lane>): Beat {
  const lines = linesOf(beat, patternRef);
  const there = resolvedHits(findPattern(beat, patternRef), beat.meter).filter(
    ({ hit, straightTicks }) => lanes.has(hit.lane) && nearestLine(lines, straightTicks) === at,
  );
  const gone = new Set(there.map(({ hit }) => hit.id));
  return removeHits(beat, patternRef, ({ id }) => gone.has(id));
}

/** Moves what stands at a line and behind it by a line, each hit as far off its line as before. */
function pushOn(beat: Beat, patternRef: PatternRef, at: Ticks, lanes: ReadonlySet<Lane>, settings: StepSettings): Beat {
  const lines = linesOf(beat, patternRef);
  const { insert, atEnd } = settings;
  const isMeant = ({ lane }: Hit) => insert === "all" || lanes.has(lane);
  const all = resolvedHits(findPattern(beat, patternRef), beat.meter).filter(({ hit }) => isMeant(hit));
  const behind = all.filter(({ straightTicks }) => straightTicks >= 0 && lineOf(lines, straightTicks) >= at);
  const overflows = behind.some(
    ({ straightTicks }) => linesBeside(lines, lineOf(lines, straightTicks)).after >= lines.lengthTicks,
  );
  const { bars } = findPattern(beat, patternRef);
  const longer = overflows && atEnd === "extend" && bars < MAX_BARS ? setBars(beat, patternRef, bars + 1) : beat;
  return changeHits(longer, patternRef, new Set(behind.map(({ hit }) => hit.id)), ({ straightTicks }) => {
    const line = lineOf(lines, straightTicks);
    const { after } = linesBeside(lines, line);
    const round = after >= lines.lengthTicks && atEnd === "wrap" ? lines.lengthTicks : 0;
    return { ticks: asTicks(after - round + straightTicks - line) };
  });
}

/** The line that a hit stands at, up to the loop's end where it is early on the downbeat behind it. */
function lineOf(lines: EditLines, ticks: Ticks): Ticks {
  const { before, after } = linesBeside(lines, ticks);
  return ticks - before < after - ticks ? before : after;
}
