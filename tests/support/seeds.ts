/** True in a round of `npm run soak`. */
export const SOAKED = process.env.SOAK_ROUND !== undefined;

/** Counts from 0 while tests are soaked; `npm test` is the first round. */
export const ROUND = Number(process.env.SOAK_ROUND ?? 0);

/** Seeds of this round: those of the next one follow them. @example seeds(3) // [1, 2, 3], and in the next round [4, 5, 6] */
export function seeds(count: number): readonly number[] {
  return Array.from({ length: count }, (_, index) => ROUND * count + index + 1);
}
