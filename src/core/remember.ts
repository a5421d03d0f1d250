/** True where two lists hold the very same things in the same order. @example sameItems([1, "a"], [1, "a"]) // true */
export function sameItems(a: readonly unknown[], b: readonly unknown[]): boolean {
  if (a.length !== b.length) return false;
  for (let index = 0; index < a.length; index++) if (a[index] !== b[index]) return false;
  return true;
}

/**
 * A memory of what was worked out last for an object that never changes, as long as what else it is made of stays the same.
 * @example
 * const sizes = remember<Pass, number>();
 * sizes(pass, [meter], () => work(pass, meter)); // works
 * sizes(pass, [meter], () => work(pass, meter)); // knows
 */
export function remember<K extends object, T>(): (of: K, madeOf: readonly unknown[], make: () => T) => T {
  const known = new WeakMap<K, { readonly madeOf: readonly unknown[]; readonly made: T }>();
  return (of, madeOf, make) => {
    const before = known.get(of);
    if (before && sameItems(before.madeOf, madeOf)) return before.made;
    const made = make();
    known.set(of, { madeOf, made });
    return made;
  };
}
