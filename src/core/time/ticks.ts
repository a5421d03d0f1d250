/** Musical time; a played hit keeps its fraction, a grid line is whole. */
export type Ticks = number & { readonly __unit: "ticks" };
/** Time in seconds. */
export type Seconds = number & { readonly __unit: "seconds" };
/** Sample frames at a stated sample rate; whole when it names a sample. */
export type Frames = number & { readonly __unit: "frames" };

/**
 * A number that is known to be of ticks. Not for what the audio thread runs: a call is handed a number with a fraction in memory of
 * its own, until the call is compiled away. There a cast says it.
 * @example asTicks(2 * TICKS_PER_QUARTER) // 1920
 */
export function asTicks(value: number): Ticks {
  return value as Ticks;
}

/** A number that is known to be of seconds. @example asSeconds(500 / 1000) // 0.5 */
export function asSeconds(value: number): Seconds {
  return value as Seconds;
}

/** Ticks per quarter note: divisible by all grids up to 1/64, their triplets and quintuplets. */
export const TICKS_PER_QUARTER = 960;
export const TICKS_PER_WHOLE = 4 * TICKS_PER_QUARTER;

/** The modulo that is never negative, for places on a circle. @example wrap(-10, 3840) // 3830 */
export function wrap(value: number, length: number): number {
  const rest = value % length;
  return rest < 0 ? rest + length : rest === 0 ? 0 : rest;
}

/** The smallest whole number that both divide. @param a, b whole and > 0 @example leastCommonMultiple(4, 6) // 12 */
export function leastCommonMultiple(a: number, b: number): number {
  let [large, small] = [a, b];
  // Euclid's algorithm (Elements, book VII).
  while (small !== 0) [large, small] = [small, large % small];
  return (a / large) * b;
}
