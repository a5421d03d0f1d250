import { CoreError } from "../core-error";
import type { Frames, Seconds, Ticks } from "./ticks";
import { TICKS_PER_QUARTER } from "./ticks";

/** Quarter notes per minute, in every meter. */
export type Bpm = number;

/** The range a beat may have; MIDI files outside it are clamped with a remark. */
export const TEMPO_RANGE = { min: 20, max: 400 } as const;

/**
 * Keeps a tempo in range.
 * @throws CoreError "bad-tempo" when it is not a number
 * @example clampTempo(1000) // 400
 */
export function clampTempo(bpm: Bpm): Bpm {
  if (!Number.isFinite(bpm)) throw new CoreError("bad-tempo", `A tempo must be a number, got ${bpm}.`);
  return Math.min(TEMPO_RANGE.max, Math.max(TEMPO_RANGE.min, bpm));
}

/** @example ticksToSeconds(960 as Ticks, 120) // 0.5 */
export function ticksToSeconds(ticks: Ticks, bpm: Bpm): Seconds {
  return ((ticks * 60) / (bpm * TICKS_PER_QUARTER)) as Seconds;
}

/** @example secondsToTicks(0.5 as Seconds, 120) // 960 */
export function secondsToTicks(seconds: Seconds, bpm: Bpm): Ticks {
  return ((seconds * bpm * TICKS_PER_QUARTER) / 60) as Ticks;
}

/** Not rounded: positions are rounded once, where a sample is addressed. @example framesPerTick(120, 48_000) // 25 */
export function framesPerTick(bpm: Bpm, sampleRate: number): number {
  return (60 * sampleRate) / (bpm * TICKS_PER_QUARTER);
}

/** The frame nearest to a position that counts from frame 0. @example ticksToFrames(960 as Ticks, 120, 48000) // 24000 */
export function ticksToFrames(ticks: Ticks, bpm: Bpm, sampleRate: number): Frames {
  return Math.round(ticks * framesPerTick(bpm, sampleRate)) as Frames;
}
