import { CoreError } from "./core-error";

/**
 * How one value of plain data becomes another: it is set anew, or some of its fields change, or it is a list put together from
 * what it was. Plain data itself, to be kept as JSON.
 */
export type Delta =
  | { readonly set: unknown }
  | { readonly fields: Readonly<Record<string, Delta>>; readonly gone?: readonly string[] }
  | { readonly items: readonly Stretch[] };

/**
 * A stretch of a new list: so many items from a place of the old one on, as they were, all changed by the same delta, or all with new
 * values in the same places; or items that are new.
 */
export type Stretch =
  | { readonly from: number; readonly count: number }
  | { readonly from: number; readonly by: Delta; /** 1 where nothing is said. */ readonly count?: number }
  | {
      readonly from: number;
      readonly paths: readonly Path[];
      /** By path, a value per item. */
      readonly columns: readonly (readonly unknown[])[];
    }
  | { readonly add: readonly unknown[] };

/** Names of fields, one within the other. */
type Path = readonly string[];

type Fields = Readonly<Record<string, unknown>>;
interface Numbered extends Fields {
  readonly id: number;
}

/**
 * What makes `after` of `before`. What both have by reference is passed over, and lists of things with ids are compared by
 * these, so that a change of a large document is as large as the change.
 * @returns undefined where they are the very same
 * @example deltaBetween({ bpm: 100, bars: 2 }, { bpm: 90, bars: 2 }) // { fields: { bpm: { set: 90 } } }
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
    if (by) addChanged(stretches, from, by);
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
  | { readonly from: number; readonly by: Delta; count?: number }
  | { readonly from: number; readonly paths: readonly Path[]; readonly columns: readonly unknown[][] }
  | { readonly add: unknown[] };

/** Thousands of hits that are moved at once differ in the same fields: names are kept once, and what is alike, too. */
function addChanged(stretches: Growing[], from: number, by: Delta): void {
  const last = stretches.at(-1);
  const end = last && "from" in last ? last.from + countOf(last) : -1;
  if (!last || end !== from || !("by" in last || "paths" in last)) return void stretches.push({ from, by });
  if ("by" in last && isAlike(last.by, by)) return void (last.count = countOf(last) + 1);
  const sets = setsIn(by);
  const grown = "by" in last && countOf(last) === 1 ? columnsOf(last.from, last.by) : last;
  const isSamePlaces = sets && grown && "paths" in grown && isAlike(grown.paths, pathsOf(sets));
  if (!isSamePlaces) return void stretches.push({ from, by });
  sets.forEach(({ value }, at) => grown.columns[at]!.push(value));
  stretches[stretches.length - 1] = grown;
}

type OldItems = Exclude<Growing, { readonly add: unknown[] }> | Exclude<Stretch, { readonly add: readonly unknown[] }>;

function countOf(stretch: OldItems): number {
  if ("columns" in stretch) return stretch.columns[0]?.length ?? 0;
  return "by" in stretch ? (stretch.count ?? 1) : stretch.count;
}

function columnsOf(from: number, by: Delta): Extract<Growing, { readonly columns: unknown }> | undefined {
  const sets = setsIn(by);
  return sets && { from, paths: pathsOf(sets), columns: sets.map(({ value }) => [value]) };
}

interface SetField {
  readonly path: Path;
  readonly value: unknown;
}

const pathsOf = (sets: readonly SetField[]) => sets.map(({ path }) => path);

/** The fields that a delta sets; undefined for one that does anything else. */
function setsIn(delta: Delta, path: Path = []): readonly SetField[] | undefined {
  if ("set" in delta) return path.length === 0 ? undefined : [{ path, value: delta.set }];
  if ("items" in delta || delta.gone) return undefined;
  const sets: SetField[] = [];
  for (const [name, by] of Object.entries(delta.fields)) {
    const inner = setsIn(by, [...path, name]);
    if (!inner) return undefined;
    sets.push(...inner);
  }
  return sets;
}

/** Of plain data. */
function isAlike(a: unknown, b: unknown): boolean {
  if (Object.is(a, b)) return true;
  if (typeof a !== "object" || typeof b !== "object" || a === null || b === null) return false;
  const [some, others] = [Object.entries(a), Object.entries(b)];
  return (
    Array.isArray(a) === Array.isArray(b) &&
    some.length === others.length &&
    some.every(([name, value], at) => others[at]![0] === name && isAlike(value, others[at]![1]))
  );
}

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
 * @example withDelta({ bpm: 100, bars: 2 }, { fields: { bpm: { set: 90 } } }) // { bpm: 90, bars: 2 }
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
  if ("paths" in stretch && !hasColumns(stretch)) throw misfit("columns");
  const { from } = stretch;
  const count = countOf(stretch);
  if (!(from >= 0 && count >= 1 && from + count <= list.length)) throw misfit(`items ${from} to ${from + count}`);
  const items = list.slice(from, from + count);
  if ("by" in stretch) return items.map((item) => withDelta(item, stretch.by));
  if (!("paths" in stretch)) return items;
  const { paths, columns } = stretch;
  return items.map((item, row) =>
    paths.reduce<unknown>((made, path, at) => withDelta(made, setAt(path, columns[at]![row])), item),
  );
}

/** From a file or a database it may be anything. */
function hasColumns({ paths, columns }: { readonly paths: unknown; readonly columns: unknown }): boolean {
  if (!Array.isArray(paths) || !Array.isArray(columns) || paths.length !== columns.length) return false;
  const [first] = columns as readonly unknown[];
  return (
    paths.every((path) => Array.isArray(path) && path.length > 0 && path.every((name) => typeof name === "string")) &&
    columns.every((column) => Array.isArray(column) && column.length === (first as readonly unknown[]).length)
  );
}

function setAt([name, ...inner]: Path, value: unknown): Delta {
  return { fields: { [name!]: inner.length === 0 ? { set: value } : setAt(inner, value) } };
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
