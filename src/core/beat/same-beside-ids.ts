import { sameItems } from "../remember";
import type { Beat, Pattern } from "./beat";

/**
 * True for beats with the same passes, by reference, in the same parts and patterns; other ids may be free in them.
 * @example sameBesideIds(beat, { ...beat, nextId: 900 }) // true
 */
export function sameBesideIds(
  { nextId: _, parts, ...rest }: Beat,
  { nextId: __, parts: others, ...other }: Beat,
): boolean {
  return (
    sameValues(rest, other) &&
    parts.length === others.length &&
    parts.every(({ patterns, ...part }, at) => {
      const { patterns: before, ...partBefore } = others[at]!;
      const samePattern = ({ passes, ...pattern }: Pattern, { passes: known, ...patternBefore }: Pattern) =>
        sameValues(pattern, patternBefore) && sameItems(passes, known);
      return (
        sameValues(part, partBefore) &&
        patterns.length === before.length &&
        patterns.every((one, index) => samePattern(one, before[index]!))
      );
    })
  );
}

function sameValues(a: object, b: object): boolean {
  return sameItems(Object.entries(a).flat(), Object.entries(b).flat());
}
