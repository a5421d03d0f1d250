// Rounded to single precision, so that every machine has the same (decision 2).

/** The amplitude of a level. @example fromDb(-6) // about 0.501 */
export function fromDb(db: number): number {
  return Math.fround(Math.pow(10, db / 20));
}

/**
 * Left and right of a place, -1..1, by equal power: 1 each in the middle, 3 dB more at a side, where the other is silent.
 * @example panGains(-1) // [1.414213538, 0]
 */
export function panGains(pan: number): readonly [left: number, right: number] {
  const angle = ((pan + 1) * Math.PI) / 4;
  return [Math.fround(Math.SQRT2 * Math.cos(angle)), Math.fround(Math.SQRT2 * Math.sin(angle))];
}
