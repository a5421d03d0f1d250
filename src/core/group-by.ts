/**
 * The items of each key, in their order; keys in the order of their first item. Items without a key are left out.
 * @example [...groupBy([1, 2, 3, 4], (value) => value % 2)] // [[1, [1, 3]], [0, [2, 4]]]
 */
export function groupBy<T, K>(items: readonly T[], keyOf: (item: T) => K | undefined): Map<K, T[]> {
  const groups = new Map<K, T[]>();
  for (const item of items) {
    const key = keyOf(item);
    if (key === undefined) continue;
    const group = groups.get(key);
    if (group) group.push(item);
    else groups.set(key, [item]);
  }
  return groups;
}
