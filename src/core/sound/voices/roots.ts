import { VOICES, type VoiceId } from "../../instruments";
import { semitoneRatio } from "./pitch";

/** The lowest note that has samples of its own; between those that have, neighbours are played faster or slower. */
const LOWEST_ROOT = 24;
const ROOT_STEP = 3;
/** The highest such note of each voice. */
export const HIGHEST_ROOTS: Readonly<Record<VoiceId, number>> = {
  keel: 72,
  winch: 84,
  cabin: 99,
  buoy: 99,
  rigging: 99,
  fog: 96,
};

/**
 * The notes of a voice that have samples of their own, those in its middle first.
 * @example rootsOf("keel").slice(0, 3) // [42, 39, 45]
 */
export function rootsOf(id: VoiceId): readonly number[] {
  const highest = HIGHEST_ROOTS[id];
  const { base } = VOICES[id];
  const roots = Array.from({ length: Math.floor((highest - LOWEST_ROOT) / ROOT_STEP) + 1 }, (_, at) => rootAt(at));
  return roots.sort((a, b) => Math.abs(a - base - 6) - Math.abs(b - base - 6));
}

/**
 * The nearest note with samples of its own, and how fast they go by to sound as this one.
 * @param note 0..127
 * @example rootFor("keel", 40) // { root: 39, rate: 1.059463143 }
 */
export function rootFor(id: VoiceId, note: number): { readonly root: number; readonly rate: number } {
  const last = Math.floor((HIGHEST_ROOTS[id] - LOWEST_ROOT) / ROOT_STEP);
  const at = Math.max(0, Math.min(last, Math.round((note - LOWEST_ROOT) / ROOT_STEP)));
  return { root: rootAt(at), rate: semitoneRatio(note - rootAt(at)) };
}

function rootAt(index: number): number {
  return LOWEST_ROOT + ROOT_STEP * index;
}
