import { sameMark, type MaskedMark } from "./lane-layout";
import type { LanePicture } from "./lane-painter";

/** Marks by the row of their lane; those of lanes that are not shown are left out. @param lanes of each row */
export function byRow<T extends { readonly lane: number }>(
  marks: readonly T[],
  lanes: readonly number[],
): readonly (readonly T[])[] {
  const rows = lanes.map((): T[] => []);
  const rowOf: number[] = [];
  lanes.forEach((lane, row) => (rowOf[lane] = row));
  for (const mark of marks) rows[rowOf[mark.lane] ?? -1]?.push(mark);
  return rows;
}

/**
 * The rows in which one picture differs from another; undefined where it does as a whole: in its size, its lines or which
 * lanes it shows. With thousands of hits a stroke changes one row, and only that is worth drawing.
 */
export function changedRows(before: LanePicture, now: LanePicture): readonly number[] | undefined {
  const whole =
    before.widthPx === now.widthPx &&
    before.heightPx === now.heightPx &&
    sameList(before.lanes, now.lanes, (a, b) => a === b) &&
    sameList(before.lines, now.lines, (a, b) => a.x === b.x && a.kind === b.kind && a.pocketPx === b.pocketPx);
  if (!whole) return undefined;
  return [...now.lanes.keys()].filter(
    (row) =>
      before.silent.has(now.lanes[row]!) !== now.silent.has(now.lanes[row]!) ||
      !sameList(before.hits[row]!, now.hits[row]!, sameMark) ||
      !sameList(before.masked[row]!, now.masked[row]!, sameMasked),
  );
}

function sameList<T>(a: readonly T[], b: readonly T[], same: (one: T, other: T) => boolean): boolean {
  if (a === b) return true;
  if (a.length !== b.length) return false;
  for (let index = 0; index < a.length; index++) if (!same(a[index]!, b[index]!)) return false;
  return true;
}

function sameMasked(a: MaskedMark, b: MaskedMark): boolean {
  return a.x === b.x;
}
