import type { Feel } from "../beat/feel";
import type { Meter } from "../time/meter";
import { asTicks, type Ticks } from "../time/ticks";
import type { Warp } from "../time/warp";
import { warpTicks } from "../time/warp";
import { betweenLines, grooveLines } from "./groove-lines";
import { swingWarp } from "./swing";

/**
 * Swing and groove together as one map of time: at every line the two moves are added, between lines it is straight, and
 * no line passes another.
 * @param amount how much of both is taken, ratio 0..1
 * @returns undefined where nothing moves
 * @example feelWarp({}, { beats: 4, unit: 4 }) // undefined
 */
export function feelWarp({ swing, groove }: Feel, meter: Meter, amount = 1): Warp | undefined {
  const swung = swingWarp(swing, meter);
  const grooved = groove && groove.timing > 0 ? grooveLines(groove.groove, meter) : undefined;
  if (amount === 0 || (!swung && !grooved)) return undefined;
  if (!grooved && amount === 1) return swung;
  const cycleTicks = grooved?.cycleTicks ?? swung!.cycleTicks;
  const from = knots(cycleTicks, swung, grooved?.at ?? []);
  const moved = from.map((ticks) => {
    const bySwing = warpTicks(swung, asTicks(ticks)) - ticks;
    const byGroove = grooved ? groove!.timing * betweenLines(grooved, grooved.offsets, ticks) : 0;
    return ticks + amount * (bySwing + byGroove);
  });
  return { cycleTicks, from, to: inOrder(moved, cycleTicks) };
}

/** All places of a cycle where one of the maps bends. */
function knots(cycleTicks: Ticks, swung: Warp | undefined, at: readonly number[]): number[] {
  const all = new Set<number>([0, cycleTicks, ...at]);
  if (swung)
    for (let start = 0; start < cycleTicks; start += swung.cycleTicks)
      for (const ticks of swung.from) all.add(start + ticks);
  return [...all].sort((a, b) => a - b);
}

function inOrder(values: readonly number[], cycleTicks: Ticks): number[] {
  const end = values[0]! + cycleTicks;
  let highest = values[0]!;
  return values.map((value, index) => {
    highest = index === values.length - 1 ? end : Math.min(end, Math.max(highest, value));
    return highest;
  });
}
