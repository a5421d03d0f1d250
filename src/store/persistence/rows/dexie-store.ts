import type { Collection, IndexableType, Table } from "dexie";
import type { EchoPocketDatabase } from "./database";
import type { RowStore, Rows, RowTable, Where } from "./row-store";
import type { RowKey, TableName } from "./rows";

/** The store of the browser, IndexedDB. */
export class DexieStore implements RowStore {
  constructor(private readonly database: EchoPocketDatabase) {}

  get isOpen(): boolean {
    return this.database.isOpen();
  }

  async open(): Promise<void> {
    await this.database.open();
  }

  read<N extends TableName, T>(tables: readonly N[], work: (rows: Rows<N>) => Promise<T>): Promise<T> {
    return this.transact("r", tables, work);
  }

  change<N extends TableName, T>(tables: readonly N[], work: (rows: Rows<N>) => Promise<T>): Promise<T> {
    return this.transact("rw", tables, work);
  }

  private async transact<N extends TableName, T>(
    mode: "r" | "rw",
    tables: readonly N[],
    work: (rows: Rows<N>) => Promise<T>,
  ): Promise<T> {
    const rows = Object.fromEntries(tables.map((name) => [name, rowTable(this.database, name)]));
    // By an async function Dexie knows that native promises are waited for, and keeps the transaction open over them.
    return await this.database.transaction(mode, [...tables], async () => await work(rows as unknown as Rows<N>));
  }
}

function rowTable<N extends TableName>(database: EchoPocketDatabase, name: N): RowTable<N> {
  const table = database[name] as Table;
  const those = (where: Where<N> | undefined): Collection => {
    if (where === undefined) return table.toCollection();
    if ("index" in where) return table.where(where.index).equals(where.value);
    return table.where(":id").between(where.from, where.to, true, true);
  };
  return {
    get: (key) => table.get(key as IndexableType),
    list: (where) => those(where).toArray(),
    highest: (index, count) => table.orderBy(index).reverse().limit(count).toArray(),
    count: (index) => (index === undefined ? table.count() : table.orderBy(index).count()),
    each: async (visit) => {
      let goesOn = true;
      const visitOne = (row: unknown, { primaryKey }: { readonly primaryKey: IndexableType }) => {
        if (goesOn) goesOn = visit(row, primaryKey as unknown as RowKey<N>);
      };
      await table
        .toCollection()
        .until(() => !goesOn)
        .each(visitOne);
    },
    keys: () => table.toCollection().primaryKeys() as PromiseLike<unknown> as Promise<readonly RowKey<N>[]>,
    indexKeys: (index) => table.orderBy(index).keys(),
    put: async (...rows) => void (await (rows.length === 1 ? table.put(rows[0]) : table.bulkPut([...rows]))),
    add: (row) => table.add(row) as PromiseLike<unknown> as Promise<RowKey<N>>,
    delete: (...keys) => table.bulkDelete(keys as unknown as IndexableType[]),
    deleteWhere: async (where) => void (await those(where).delete()),
    clear: () => table.clear(),
  };
}
