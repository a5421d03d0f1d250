import { readFileSync } from "node:fs";
import { meter as meterOf, type Meter } from "../../src/core/time/meter";
import type { FreeHit, Reading } from "../../src/core/recover/readings/reading";

/** Playing whose tempo, downbeat and length are known. */
export interface Case {
  readonly id: string;
  readonly hits: readonly FreeHit[];
  readonly meter: readonly [number, number];
  readonly truth: Truth;
  readonly tags: readonly string[];
}

interface Truth {
  readonly bpm: number;
  readonly downbeat: number | null;
  readonly bars: number;
  readonly downbeats: readonly number[];
  readonly loops: readonly number[];
}

export function readCases(files: readonly string[]): readonly Case[] {
  return files.flatMap((file) => JSON.parse(readFileSync(file, "utf8")) as readonly Case[]);
}

export function caseMeter({ meter: [beats, unit] }: Case): Meter {
  return meterOf(beats, unit);
}

/** The song, or the style of what was generated. */
export function songOf({ tags, id }: Case): string {
  return tags.find((tag) => tag.startsWith("song:")) ?? tags.find((tag) => tag.startsWith("kind:")) ?? id;
}

const within = (value: number, truth: number, share: number) => Math.abs(value / truth - 1) <= share;

/** What of a reading is right; nothing is said of a downbeat that is not certain. */
export function judge({ truth }: Case, { bpm, downbeat, bars }: Pick<Reading, "bpm" | "downbeat" | "bars">) {
  const tempo = within(bpm, truth.bpm, 0.04);
  const known = truth.downbeat !== null;
  const line = truth.downbeats.some((at) => Math.abs(at - downbeat) <= 0.07);
  const lengths = [truth.bars, ...truth.loops];
  const length = lengths.includes(bars);
  return {
    tempo,
    near: within(bpm, truth.bpm, 0.01),
    octave: [1 / 3, 0.5, 1, 2, 3].some((times) => within(bpm, truth.bpm * times, 0.04)),
    down: known && tempo ? line : undefined,
    bars: length,
    loop: lengths.some((count) => within(bars / bpm, count / truth.bpm, 0.04)),
    all: known ? tempo && line && length : undefined,
  };
}

export type Judged = ReturnType<typeof judge>;

/** Of those of which something is known, how many are right: per cent. */
export function percentRight(judged: readonly Judged[], key: keyof Judged): number {
  const counted = judged.filter((one) => one[key] !== undefined);
  return (100 * counted.filter((one) => one[key]).length) / counted.length;
}
