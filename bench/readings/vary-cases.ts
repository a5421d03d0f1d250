/**
 * More playing out of what there is, to fit readings on: cases are cut anew, played faster or slower and less evenly, a drum is left
 * out or another one takes its place, or another song's hats are laid over a song's drums. What is known of them stays known.
 */
import { drumPart, type DrumPart } from "../../src/core/recover/features/drum-part";
import type { FreeHit } from "../../src/core/recover/readings/reading";
import { normal, seededRandom, textSeed, type Random } from "../../src/core/random";
import { songOf, type Case } from "./reading-cases";

const SHARES = { overlaid: 0.4, cut: 0.4, thinned: 0.45, swapped: 0.45 };
const PACE = { slowest: 0.85, fastest: 1.18 };
const BPM = { low: 58, high: 195 };
const SPREADS_SECONDS = [0, 0.004, 0.008] as const;
const LEFT_OUT = 0.02;
const FEWEST_HITS = 6;
/** A stroke so much before the line is on it, in quarters. */
const NEAR = 0.08;

const ABOVE: readonly DrumPart[] = ["hat", "ride", "openHat", "hand"];
/** What may be left out, or whatever single drum comes up. */
const GROUPS: readonly (readonly DrumPart[])[] = [
  ["hat", "openHat"],
  ["ride"],
  ["crash"],
  ["lowTom", "highTom"],
  ["hand"],
  ["kick"],
  ["snare", "stick"],
  ABOVE,
];
/** Keys that take one another's places. */
const SWAPS: readonly Readonly<Record<number, number>>[] = [
  { 42: 51, 44: 42, 46: 53, 51: 42, 53: 42, 59: 42 },
  { 38: 37, 40: 39 },
  { 38: 39 },
  { 38: 40 },
  { 42: 70, 46: 42 },
  { 42: 44, 46: 42 },
  { 36: 41, 35: 41 },
  { 36: 64, 35: 36 },
  { 49: 57, 57: 46, 46: 49 },
];

/**
 * @param cases whose variations are wanted
 * @param times how many of each
 * @param among which songs' hats may be laid over a case: those that are left out together with it
 * @returns in the order of cases, of the same songs; the same cases give the same variations
 */
export function variationsOf(
  cases: readonly Case[],
  times: number,
  among: (one: Case) => readonly Case[],
): readonly Case[] {
  return cases.flatMap((one) =>
    Array.from({ length: times }, (_, time) => {
      const id = `${one.id} varied ${time + 1}`;
      return { ...varied(one, among(one), seededRandom(textSeed(id))), id };
    }).filter(({ hits }) => hits.length >= FEWEST_HITS),
  );
}

function varied(one: Case, others: readonly Case[], random: Random): Case {
  const comesUp = (share: number) => random() < share;
  let now = one;
  if (comesUp(SHARES.overlaid)) now = overlaid(now, pick(others, random));
  if (comesUp(SHARES.cut)) now = cut(now, random);
  if (comesUp(SHARES.thinned)) now = thinned(now, random);
  if (comesUp(SHARES.swapped)) now = swapped(now, pick(SWAPS, random));
  return uneven(paced(now, random), random);
}

function pick<T>(list: readonly T[], random: Random): T {
  return list[Math.floor(random() * list.length)]!;
}

/** A case's drums with the hats and hand drums of another one of the same meter, bar for bar, again and again. */
function overlaid(one: Case, other: Case): Case {
  const apart = songOf(one) !== songOf(other) && String(one.meter) === String(other.meter);
  if (!apart || one.truth.downbeat === null || other.truth.downbeat === null) return one;
  const bars = other.truth.downbeats.length - 1;
  const above = other.hits
    .filter((hit) => ABOVE.includes(drumPart(hit.note)))
    .map((hit) => ({ hit, at: barAt(other, hit.time) }))
    .filter(({ at }) => at >= -NEAR / 2 && at < bars - NEAR / 2);
  const below = one.hits.filter((hit) => !ABOVE.includes(drumPart(hit.note)));
  if (below.length < FEWEST_HITS || above.length < 2 * bars) return one;
  const [from, to] = [barAt(one, one.hits[0]!.time), barAt(one, one.hits.at(-1)!.time)];
  const laid: FreeHit[] = [];
  for (let round = Math.floor(from / bars) - 1; round * bars <= to + 1; round++)
    for (const { hit, at } of above) {
      const bar = at + round * bars;
      if (bar >= from - NEAR / 4 && bar <= to + NEAR / 4) laid.push({ ...hit, time: timeOfBar(one, bar) });
    }
  const periods = [...other.truth.loops, bars];
  const loops = one.truth.loops.filter((loop) => periods.some((period) => loop % period === 0));
  return { ...one, hits: inTime([...below, ...laid]), truth: { ...one.truth, loops } };
}

/** How many bars after the first one a moment is. */
function barAt({ truth: { downbeats } }: Case, time: number): number {
  const bar = Math.max(
    0,
    Math.min(
      downbeats.length - 2,
      downbeats.findLastIndex((line) => line <= time),
    ),
  );
  return bar + (time - downbeats[bar]!) / (downbeats[bar + 1]! - downbeats[bar]!);
}

function timeOfBar({ truth: { downbeats } }: Case, at: number): number {
  const bar = Math.max(0, Math.min(downbeats.length - 2, Math.floor(at)));
  return downbeats[bar]! + (at - bar) * (downbeats[bar + 1]! - downbeats[bar]!);
}

/** Fewer bars of it, with or without something before the first line and after the last one. */
function cut(one: Case, random: Random): Case {
  const { downbeat, bars, downbeats, loops, bpm } = one.truth;
  const lengths = [1, 2, 4].filter((length) => length < bars && length < downbeats.length);
  if (downbeat === null || lengths.length === 0) return one;
  const length = pick(lengths, random);
  const first = Math.floor(random() * (downbeats.length - length));
  const quarter = 60 / bpm;
  const bar = downbeats[first + 1]! - downbeats[first]!;
  const early = pick([NEAR, NEAR, 0.5 + NEAR, 1 + NEAR, ((0.3 + 0.65 * random()) * bar) / quarter], random);
  const late = pick([-1.5 * NEAR, -1.5 * NEAR, 1.5 * NEAR, ((0.1 + 0.8 * random()) * bar) / quarter], random);
  const [from, to] = [downbeats[first]! - early * quarter, downbeats[first + length]! + late * quarter];
  const lines = downbeats.slice(first, first + length + 1);
  return {
    ...one,
    hits: one.hits.filter(({ time }) => time >= from && time <= to),
    truth: { bpm, downbeat: lines[0]!, bars: length, downbeats: lines, loops: loops.filter((loop) => loop < length) },
  };
}

/** Without a group of drums, or without one; never with so little left that nobody could tell. */
function thinned(one: Case, random: Random): Case {
  const notes = [...new Set(one.hits.map(({ note }) => note))];
  const groups = GROUPS.map((parts) => notes.filter((note) => parts.includes(drumPart(note))));
  const without = pick([...groups, [pick(notes, random)]], random);
  const hits = one.hits.filter(({ note }) => !without.includes(note));
  return hits.length >= Math.max(FEWEST_HITS, 3 * one.truth.bars) ? { ...one, hits } : one;
}

function swapped(one: Case, keys: Readonly<Record<number, number>>): Case {
  return { ...one, hits: one.hits.map((hit) => ({ ...hit, note: keys[hit.note] ?? hit.note })) };
}

/** Faster or slower. */
function paced(one: Case, random: Random): Case {
  const times = PACE.slowest + (PACE.fastest - PACE.slowest) * random();
  const { truth } = one;
  const bpm = truth.bpm * times;
  if (bpm < BPM.low || bpm > BPM.high) return one;
  return {
    ...one,
    hits: one.hits.map((hit) => ({ ...hit, time: hit.time / times })),
    truth: {
      ...truth,
      bpm,
      downbeat: truth.downbeat === null ? null : truth.downbeat / times,
      downbeats: truth.downbeats.map((line) => line / times),
    },
  };
}

/** Less evenly, with other velocities, and some strokes missing. */
function uneven(one: Case, random: Random): Case {
  const spread = pick(SPREADS_SECONDS, random);
  const kept = one.hits.filter(() => random() >= LEFT_OUT);
  const hits = kept.map((hit) => ({
    ...hit,
    time: hit.time + spread * normal(random),
    velocity: Math.max(1, Math.min(127, Math.round(hit.velocity + 6 * normal(random)))),
  }));
  return { ...one, hits: inTime(hits) };
}

function inTime(hits: readonly FreeHit[]): readonly FreeHit[] {
  return [...hits].sort((a, b) => a.time - b.time);
}
