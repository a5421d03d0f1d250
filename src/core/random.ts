/** Hoisted: looking up a global per sample is slow, above all in a test's sandbox. */
const { imul } = Math;

/** @returns numbers in [0, 1), the same for the same seed */
export type Random = () => number;

/**
 * Mulberry32, a public-domain 32-bit generator by T. Ettinger: whole-number steps, so equal on every machine.
 * @example seededRandom(7)() === seededRandom(7)() // true
 */
export function seededRandom(seed: number): Random {
  let state = seed >>> 0;
  return () => {
    state = (state + 0x6d2b79f5) >>> 0;
    let t = imul(state ^ (state >>> 15), state | 1);
    t = (t + imul(t ^ (t >>> 7), t | 61)) ^ t;
    return ((t ^ (t >>> 14)) >>> 0) / 2 ** 32;
  };
}

/** A whole number that tells texts apart; FNV-1a by Fowler, Noll and Vo. */
export function textSeed(text: string): number {
  let hash = 0x811c9dc5;
  for (let index = 0; index < text.length; index++) hash = imul(hash ^ text.charCodeAt(index), 0x01000193) >>> 0;
  return hash;
}

/** A normal deviate of spread 1 (sum of twelve, cut at six: no logarithm, so equal on every machine). */
export function normal(random: Random): number {
  let sum = -6;
  for (let index = 0; index < 12; index++) sum += random();
  return sum;
}
