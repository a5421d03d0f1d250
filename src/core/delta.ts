import { CoreError } from "./core-error";

/**
 * How one value of plain data becomes another: it is set anew, or some of its fields change, or it is a list put together from
 * what it was. Plain data itself, to be kept as JSON.
 */
export type Delta =
  | { readonly set: unknown }
  | { readonly fields: Readonly<Record<string, Delta>>; readonly gone?: readonly string[] }
  | { readonly items: readonly Stretch[] };

/** A stretch of a new list: so many items from a place of the old one on, one of those changed, or items that are new. */
export type Stretch =
  | { readonly from: number; readonly count: number }
  | { readonly from: number; readonly by: Delta }
  | { readonly add: readonly unknown[] };

type Fields = Readonly<Record<string, unknown>>;
interface Numbered extends Fields {
  readonly id: number;
}

/**
 * What makes `after` of `before`. What both have by reference is passed over, and lists of things with ids are compared by
 * these, so that a change of a large document is as large as the change.
 * @returns undefined where they are the very same
 * @example deltaBetween({ bpm: 100, parts }, { bpm: 90, parts }) // { fields: { bpm: { set: 90 } } }
 */
export function deltaBetween(before: unknown, after: unknown): Delta | undefined {
  if (before === after) return undefined;
  if (isNumberedList(before) && isNumberedList(after)) return { items: stretchesOf(before, after) };
  if (isFields(before) && isFields(after)) return fieldsDelta(before, after);
  return { set: after };
}

function fieldsDelta(before: Fields, after: Fields): Delta {
  const fields: [string, Delta][] = [];
  for (const [key, value] of Object.entries(after)) {
    const delta = value === undefined ? undefined : deltaBetween(before[key], value);
    if (delta) fields.push([key, delta]);
  }
  const gone = Object.keys(before).filter((key) => before[key] !== undefined && after[key] === undefined);
  return { fields: Object.fromEntries(fields), ...(gone.length > 0 && { gone }) };
}

function stretchesOf(before: readonly Numbered[], after: readonly Numbered[]): readonly Stretch[] {
  const places = placesById(before);
  const stretches: Growing[] = [];
  let at = 0;
  for (const item of after) {
    // Most of a list is as it was.
    const from = before[at]?.id === item.id ? at : places(item.id);
    if (from === undefined) {
      addNew(stretches, item);
      continue;
    }
    const by = deltaBetween(before[from], item);
    if (by) stretches.push({ from, by });
    else addOld(stretches, from);
    at = from + 1;
  }
  return stretches;
}

function placesById(items: readonly Numbered[]): (id: number) => number | undefined {
  let places: Map<number, number> | undefined;
  return (id) => (places ??= new Map(items.map((item, index) => [item.id, index]))).get(id);
}

/** A stretch of which more may come. */
type Growing =
  | { readonly from: number; count: number }
  | { readonly from: number; readonly by: Delta }
  | { readonly add: unknown[] };

function addNew(stretches: Growing[], item: unknown): void {
  const last = stretches.at(-1);
  if (last && "add" in last) last.add.push(item);
  else stretches.push({ add: [item] });
}

function addOld(stretches: Growing[], from: number): void {
  const last = stretches.at(-1);
  if (last && "count" in last && last.from + last.count === from) last.count++;
  else stretches.push({ from, count: 1 });
}

/**
 * The inverse of deltaBetween: what does not change is taken over as it is.
 * @throws CoreError "bad-record" where the delta is not one of this value
 */
export function withDelta(value: unknown, delta: Delta): unknown {
  if (!isFields(delta)) throw misfit("nothing");
  if ("set" in delta) return delta.set;
  if ("items" in delta) {
    if (!Array.isArray(value) || !Array.isArray(delta.items)) throw misfit("a list");
    return delta.items.flatMap((stretch) => itemsOf(value, stretch));
  }
  const { fields, gone: names = [] } = delta;
  if (!isFields(value) || !isFields(fields) || !Array.isArray(names)) throw misfit("fields");
  const gone = new Set<string>(names);
  const kept = Object.entries(value).filter(([key]) => !gone.has(key));
  const changed = Object.entries(fields).map(([key, by]) => [key, withDelta(value[key], by)] as const);
  return Object.fromEntries([...kept, ...changed]);
}

function itemsOf(list: readonly unknown[], stretch: Stretch): readonly unknown[] {
  if (!isFields(stretch)) throw misfit("items");
  if ("add" in stretch) return stretch.add;
  const { from } = stretch;
  const count = "by" in stretch ? 1 : stretch.count;
  if (!(from >= 0 && count >= 1 && from + count <= list.length)) throw misfit(`items ${from} to ${from + count}`);
  return "by" in stretch ? [withDelta(list[from], stretch.by)] : list.slice(from, from + count);
}

function misfit(what: string): CoreError {
  return new CoreError("bad-record", `A step of the history does not fit: it changes ${what} that are not there.`);
}

function isFields(value: unknown): value is Fields {
  return typeof value === "object" && value !== null && !Array.isArray(value);
}

function isNumberedList(value: unknown): value is readonly Numbered[] {
  return Array.isArray(value) && value.every((item) => isFields(item) && typeof item["id"] === "number");
}
