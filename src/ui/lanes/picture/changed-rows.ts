import { sameMark, type HitMark, type MaskedMark } from "./lane-layout";
import type { ChangedRow, LanePicture } from "./lane-painter";

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
 * lanes it shows. With thousands of hits a stroke changes a small place, and only that is worth drawing.
 */
export function changedRows(before: LanePicture, now: LanePicture): readonly ChangedRow[] | undefined {
  const whole =
    before.widthPx === now.widthPx &&
    before.heightPx === now.heightPx &&
    sameList(before.lanes, now.lanes, (a, b) => a === b) &&
    sameList(before.lines, now.lines, (a, b) => a.x === b.x && a.kind === b.kind && a.pocketPx === b.pocketPx);
  if (!whole) return undefined;
  return [...now.lanes.keys()].flatMap((row) => changedIn(before, now, row));
}

function changedIn(before: LanePicture, now: LanePicture, row: number): readonly ChangedRow[] {
  const lane = now.lanes[row]!;
  const all = [{ row, fromX: -Infinity, toX: Infinity }];
  if (before.silent.has(lane) !== now.silent.has(lane)) return all;
  if (!sameList(before.masked[row]!, now.masked[row]!, sameMasked)) return all;
  const marks = differing(before.hits[row]!, now.hits[row]!);
  if (marks.length === 0) return [];
  // Of crosses that lie close each depends on those before it.
  if (now.masked[row]!.length > 0) return all;
  let [fromX, toX] = [Infinity, -Infinity];
  for (const { x, playedX, endX = x } of marks) {
    fromX = Math.min(fromX, x, playedX);
    toX = Math.max(toX, endX, x, playedX);
  }
  return [{ row, fromX, toX }];
}

/** The marks of both lists between what they begin and what they end with alike. */
function differing(a: readonly HitMark[], b: readonly HitMark[]): readonly HitMark[] {
  const most = Math.min(a.length, b.length);
  let first = 0;
  while (first < most && sameMark(a[first]!, b[first]!)) first++;
  let last = 0;
  while (last < most - first && sameMark(a.at(-1 - last)!, b.at(-1 - last)!)) last++;
  return [...a.slice(first, a.length - last), ...b.slice(first, b.length - last)];
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
