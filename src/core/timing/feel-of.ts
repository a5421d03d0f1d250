import type { Feel, Looseness } from "../beat/feel";
import { seededRandom } from "../random";
import type { Meter } from "../time/meter";
import type { Ticks } from "../time/ticks";
import type { Warp } from "../time/warp";
import { feelWarp } from "./feel-warp";
import { betweenLines, grooveLines } from "./groove-lines";

/** What a pattern's feel does to the hits of one pad. */
export interface PadFeel {
  readonly warp: Warp | undefined;
  /** The same without the swing, for triplet lines of a mixed grid. */
  readonly unswung: Warp | undefined;
  /** A velocity with the accent of its place on the straight grid and its chance, 1..127. */
  readonly velocity: (velocity: number, ticks: Ticks, hitId: number) => number;
  /** How much later chance makes a hit. */
  readonly shiftTicks: (hitId: number) => number;
}

/** @returns the feel for each pad, worked out once for all that take the same share of it */
export function feelOf(feel: Feel, meter: Meter): (lane: number) => PadFeel {
  const byAmount = new Map<number, PadFeel>();
  return (lane) => {
    const amount = feel.padAmounts?.[lane] ?? 1;
    const known = byAmount.get(amount) ?? padFeel(feel, meter, amount);
    byAmount.set(amount, known);
    return known;
  };
}

function padFeel(feel: Feel, meter: Meter, amount: number): PadFeel {
  const { swing: _, ...unswung } = feel;
  const { groove, looseness } = feel;
  const accents = groove && groove.velocity * amount > 0 ? grooveLines(groove.groove, meter) : undefined;
  const share = groove ? groove.velocity * amount : 0;
  return {
    warp: feelWarp(feel, meter, amount),
    unswung: feelWarp(unswung, meter, amount),
    velocity(velocity, ticks, hitId) {
      if (!accents && !looseness?.velocity) return velocity;
      const factor = accents ? 1 + share * (betweenLines(accents, accents.velocities, ticks) - 1) : 1;
      return limit(velocity * factor + (looseness ? looseness.velocity * chance(looseness, 2 * hitId) : 0));
    },
    shiftTicks: (hitId) => (looseness?.ticks ? looseness.ticks * chance(looseness, 2 * hitId + 1) : 0),
  };
}

function limit(velocity: number): number {
  return Math.max(1, Math.min(127, Math.round(velocity)));
}

/** From -1 to 1, mostly near 0: of a seed and a number always the same. */
function chance({ seed }: Looseness, index: number): number {
  const random = seededRandom(Math.imul(index, 0x9e3779b1) ^ seed);
  return random() + random() - 1;
}
