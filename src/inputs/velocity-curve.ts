/** At the ends the exponent is halved or doubled: gentle enough to keep all levels apart. */
const STEEPNESS = 2;

/**
 * What a stroke of a device is taken for.
 * @param velocity 1..127
 * @param shape -1..1; above 0 soft strokes come up, below they go down; the hardest stays the hardest
 * @returns 1..127, whole, never lower for a harder stroke
 */
export function curvedVelocity(velocity: number, shape: number): number {
  const exponent = Math.pow(STEEPNESS, -shape);
  return Math.max(1, Math.round(127 * Math.pow(velocity / 127, exponent)));
}
