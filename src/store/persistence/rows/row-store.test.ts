import "fake-indexeddb/auto";
import { MemoryStore } from "../../../../tests/support/memory-store";
import { newDatabaseName } from "../../../../tests/support/open-workspace";
import { EchoPocketDatabase } from "./database";
import { DexieStore } from "./dexie-store";
import type { RowStore, Rows } from "./row-store";

const STORES: readonly [string, () => RowStore][] = [
  ["the browser's", () => new DexieStore(new EchoPocketDatabase(newDatabaseName()))],
  ["the one in memory", () => new MemoryStore()],
];

const step = (beatId: string, number: number) => ({ beatId, number, label: "x", atMs: 1, back: "{}", forth: "{}" });

describe.each(STORES)("a store keeps its promises: %s", (_, newStore) => {
  test("a change is all or nothing, and what is read is a copy", async () => {
    const store = newStore();
    await store.change(["editors"], ({ editors }) => editors.put({ beatId: "a", token: "1" }));
    const failing = store.change(["editors", "marks"], async ({ editors, marks }) => {
      await editors.put({ beatId: "a", token: "2" }, { beatId: "b", token: "2" });
      await marks.put({ key: "m" });
      throw new Error("no");
    });
    await expect(failing).rejects.toThrow("no");
    const rows = await store.read(["editors", "marks"], ({ editors, marks }) =>
      Promise.all([editors.list(), marks.list()]),
    );
    expect(rows).toEqual([[{ beatId: "a", token: "1" }], []]);
    (rows[0][0] as { token: string }).token = "mine";
    expect(await store.read(["editors"], ({ editors }) => editors.get("a"))).toEqual({ beatId: "a", token: "1" });
  });

  test("nothing else happens between the parts of a change", async () => {
    const store = newStore();
    const count = (table: string) =>
      store.change(["editors"], async ({ editors }) => {
        const row = (await editors.get(table)) as { token: string } | undefined;
        await editors.put({ beatId: table, token: String(Number(row?.token ?? 0) + 1) });
      });
    await Promise.all(Array.from({ length: 20 }, () => count("a")));
    expect(await store.read(["editors"], ({ editors }) => editors.get("a"))).toEqual({ beatId: "a", token: "20" });
  });

  test("rows come in the order of their keys, those between two keys, or those of an index", async () => {
    const store = newStore();
    const numbersOf = (rows: readonly unknown[]) => rows.map((row) => (row as { number: number }).number);
    await store.change(["steps"], async ({ steps }) => {
      await steps.put(step("b", 1), step("a", 10), step("a", 9), step("a", 2), step("c", 3));
      expect(numbersOf(await steps.list({ from: ["a", 3], to: ["a", Infinity] }))).toEqual([9, 10]);
      await steps.deleteWhere({ from: ["a", -Infinity], to: ["a", 9] });
      await steps.delete(["c", 3]);
      expect(await steps.keys()).toEqual([
        ["a", 10],
        ["b", 1],
      ]);
      await steps.clear();
      expect(await steps.list()).toEqual([]);
    });
    const state = (beatId: string) => ({ beatId, name: "n", atMs: 1, beat: { name: beatId } as never });
    await store.change(["keptStates"], async ({ keptStates }) => {
      const ids = [
        await keptStates.add(state("y")),
        await keptStates.add(state("x")),
        await keptStates.add(state("y")),
      ];
      expect(ids).toEqual([...ids].sort((a, b) => a - b));
      expect(await keptStates.list({ index: "beatId", value: "y" })).toMatchObject([{ id: ids[0] }, { id: ids[2] }]);
      await keptStates.deleteWhere({ index: "beatId", value: "y" });
      const seen: unknown[] = [];
      const [, second] = [await keptStates.add(state("z")), await keptStates.add(state("z"))];
      await keptStates.each((row, key) => seen.push([key, (row as { beatId: string }).beatId]) < 2);
      expect(seen.map((one) => (one as unknown[])[1])).toEqual(["x", "z"]);
      expect(seen).not.toContainEqual([second, "z"]);
    });
  });

  test("the highest of an index come first, and rows without a value in it are none of them", async () => {
    const store = newStore();
    const row = (id: string, changedAt?: number) => ({ id, changedAt, beat: { name: id } }) as never;
    const read = (rows: Rows<"beats">) =>
      Promise.all([rows.beats.highest("changedAt", 2), rows.beats.count(), rows.beats.count("changedAt")]);
    await store.change(["beats"], ({ beats }) => beats.put(row("old", 1), row("none"), row("new", 3), row("mid", 2)));
    expect(await store.read(["beats"], read)).toEqual([[row("new", 3), row("mid", 2)], 4, 3]);
  });

  test("a row whose key is taken is not added, and an index has its values in order", async () => {
    const store = newStore();
    const beat = (id: string, name: string) => ({ id, changedAt: 1, beat: { name } as never });
    await store.change(["beats"], async ({ beats }) => {
      await beats.add(beat("1", "Tide"));
      await beats.add(beat("2", "Ebb"));
    });
    await expect(store.change(["beats"], ({ beats }) => beats.add(beat("1", "Other")))).rejects.toThrow();
    expect(await store.read(["beats"], ({ beats }) => beats.indexKeys("beat.name"))).toEqual(["Ebb", "Tide"]);
  });
});
