/** A function's value and its slope. */
export type Slope = (at: Float64Array) => { readonly value: number; readonly slope: Float64Array };

const REMEMBERED = 8;
const SUFFICIENT = 1e-4;
const MOST_TRIES = 12;

const dot = (a: Float64Array, b: Float64Array) => a.reduce((sum, x, index) => sum + x * b[index]!, 0);

/**
 * Goes down a convex function: limited-memory BFGS with backtracking (Nocedal and Wright, Numerical Optimization, algorithm 7.5, from
 * memory). @param steps at the most
 */
export function minimise(slopeAt: Slope, from: Float64Array, steps: number): Float64Array {
  let at = from;
  let here = slopeAt(at);
  const moves: { readonly s: Float64Array; readonly y: Float64Array; readonly rho: number }[] = [];
  for (let step = 0; step < steps; step++) {
    const way = direction(here.slope, moves);
    const fall = dot(way, here.slope);
    if (fall > -1e-9) break;
    let length = moves.length === 0 ? Math.min(1, 1 / Math.sqrt(dot(here.slope, here.slope))) : 1;
    const isLower = (there: { readonly value: number }) => there.value <= here.value + SUFFICIENT * length * fall;
    let next = at;
    let there = here;
    for (let tries = 0; tries < MOST_TRIES; tries++, length /= 2) {
      next = at.map((value, index) => value + length * way[index]!);
      there = slopeAt(next);
      if (isLower(there)) break;
    }
    if (!isLower(there)) {
      // It is down as far as figures can tell, unless what is remembered leads astray.
      if (moves.length === 0) break;
      moves.length = 0;
      continue;
    }
    const s = next.map((value, index) => value - at[index]!);
    const y = there.slope.map((value, index) => value - here.slope[index]!);
    const curvature = dot(s, y);
    if (curvature > 1e-12) moves.push({ s, y, rho: 1 / curvature });
    if (moves.length > REMEMBERED) moves.shift();
    [at, here] = [next, there];
  }
  return at;
}

function direction(
  slope: Float64Array,
  moves: readonly { readonly s: Float64Array; readonly y: Float64Array; readonly rho: number }[],
): Float64Array {
  let way = slope.map((value) => -value);
  const shares = moves.map(() => 0);
  for (let index = moves.length - 1; index >= 0; index--) {
    const { s, y, rho } = moves[index]!;
    shares[index] = rho * dot(s, way);
    way = way.map((value, at) => value - shares[index]! * y[at]!);
  }
  const last = moves.at(-1);
  if (last) {
    const scale = 1 / (last.rho * dot(last.y, last.y));
    way = way.map((value) => value * scale);
  }
  moves.forEach(({ s, y, rho }, index) => {
    const back = shares[index]! - rho * dot(y, way);
    way = way.map((value, at) => value + back * s[at]!);
  });
  return way;
}
