import type { RowStore, Rows, RowTable, Where } from "@/store/persistence/rows/row-store";
import type { RowKey, TableName } from "@/store/persistence/rows/rows";

type Row = Record<string, unknown>;

const KEY_PATHS: Readonly<Record<TableName, readonly string[]>> = {
  beats: ["id"],
  hits: ["beatId", "passId", "number"],
  journal: ["beatId"],
  editors: ["beatId"],
  damaged: ["id"],
  sounds: ["key"],
  settings: ["key"],
  marks: ["key"],
  profiles: ["device"],
  grooves: ["name"],
  lookback: ["id"],
  echoMarks: ["id", "kind"],
  steps: ["beatId", "number"],
  keptStates: ["id"],
  samples: ["id"],
  ownKits: ["name"],
};

const NUMBERED: ReadonlySet<TableName> = new Set(["damaged", "lookback", "keptStates"]);

interface Table {
  readonly rows: Map<string, { readonly key: unknown; readonly row: Row }>;
  next: number;
}

/** A store in memory, for one test. */
export class MemoryStore implements RowStore {
  readonly isOpen = true;
  /** Every write fails as in a browser without room. */
  full = false;
  private tables = new Map<TableName, Table>();
  private last: Promise<unknown> = Promise.resolve();

  async open(): Promise<void> {}

  read<N extends TableName, T>(tables: readonly N[], work: (rows: Rows<N>) => Promise<T>): Promise<T> {
    return this.change(tables, work);
  }

  /** One after the other; what fails leaves the tables as they were. */
  change<N extends TableName, T>(tables: readonly N[], work: (rows: Rows<N>) => Promise<T>): Promise<T> {
    const turn = this.last.then(async () => {
      const before = new Map(
        [...this.tables].map(([name, { rows, next }]) => [name, { rows: new Map(rows), next }] as const),
      );
      try {
        const handles = tables.map((name) => [name, this.handle(name)] as const);
        return await work(Object.fromEntries(handles) as unknown as Rows<N>);
      } catch (error) {
        this.tables = before;
        throw error;
      }
    });
    this.last = turn.catch(() => undefined);
    return turn;
  }

  private table(name: TableName): Table {
    const known = this.tables.get(name) ?? { rows: new Map<string, never>(), next: 1 };
    this.tables.set(name, known);
    return known;
  }

  private handle<N extends TableName>(name: N): RowTable<N> {
    const { rows } = this.table(name);
    const inOrder = (where?: Where<N>) =>
      [...rows.values()].sort((a, b) => compare(a.key, b.key)).filter((one) => !where || isOf(one, where));
    const put = (row: Row) => {
      if (this.full) throw new DOMException("full", "QuotaExceededError");
      const key = keyOf(name, row);
      rows.set(JSON.stringify(key), { key, row: structuredClone(row) });
      return key as RowKey<N>;
    };
    return {
      get: async (key) => structuredClone(rows.get(JSON.stringify(key))?.row),
      list: async (where) => structuredClone(inOrder(where).map(({ row }) => row)),
      highest: async (index, count) => {
        const indexed = inOrder().filter(({ row }) => isKey(at(row, index)));
        const falling = indexed.reverse().sort((a, b) => compare(at(b.row, index), at(a.row, index)));
        return structuredClone(falling.slice(0, count).map(({ row }) => row));
      },
      count: async (index) => inOrder().filter(({ row }) => index === undefined || isKey(at(row, index))).length,
      each: async (visit) => void inOrder().every(({ row, key }) => visit(structuredClone(row), key as RowKey<N>)),
      keys: async () => inOrder().map(({ key }) => key as RowKey<N>),
      indexKeys: async (index) =>
        inOrder()
          .map(({ row }) => at(row, index))
          .sort(compare),
      put: async (...given) => given.forEach((row) => void put(row as object as Row)),
      add: async (row) => {
        const numbered = NUMBERED.has(name) ? { ...row, id: this.table(name).next++ } : row;
        if (rows.has(JSON.stringify(keyOf(name, numbered as object as Row))))
          throw new DOMException("taken", "ConstraintError");
        return put(numbered as object as Row);
      },
      delete: async (...keys) => keys.forEach((key) => void rows.delete(JSON.stringify(key))),
      deleteWhere: async (where) => inOrder(where).forEach(({ key }) => void rows.delete(JSON.stringify(key))),
      clear: async () => rows.clear(),
    };
  }
}

function keyOf(name: TableName, row: Row): unknown {
  const parts = KEY_PATHS[name].map((path) => row[path]);
  return parts.length === 1 ? parts[0] : parts;
}

function at(row: Row, path: string): unknown {
  return path.split(".").reduce<unknown>((value, name) => (value as Row | undefined)?.[name], row);
}

/** As far as there are such here. */
function isKey(value: unknown): boolean {
  return typeof value === "string" || (typeof value === "number" && !Number.isNaN(value));
}

function isOf<N extends TableName>(
  { key, row }: { readonly key: unknown; readonly row: Row },
  where: Where<N>,
): boolean {
  if ("index" in where) return at(row, where.index) === where.value;
  return compare(key, where.from) >= 0 && compare(key, where.to) <= 0;
}

/** As IndexedDB orders keys, as far as there are such here. */
function compare(a: unknown, b: unknown): number {
  if (Array.isArray(a) && Array.isArray(b)) {
    for (const [index, one] of a.entries()) {
      const order = compare(one, b[index]);
      if (order !== 0) return order;
    }
    return 0;
  }
  return (a as string) < (b as string) ? -1 : (a as string) > (b as string) ? 1 : 0;
}
