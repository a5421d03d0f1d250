import { newBeat } from "@/core/beat/new-beat";
import { kitOf } from "@/core/beat/edits/own-kit";
import { BUILT_IN_GROOVES } from "@/core/timing/built-in-grooves";
import { lockManager } from "../../../tests/support/lock-manager";
import { MemoryStore } from "../../../tests/support/memory-store";
import { localStorageInMemory, repositoryOf } from "../../../tests/support/open-workspace";
import { openWorkspace } from "../workspace/open-workspace";
import { DEFAULT_SETTINGS } from "../settings";
import { Shelf } from "../shelf/shelf";
import type { TableName } from "./rows/rows";

// There is no sound in these pages.
beforeAll(() => jest.spyOn(console, "error").mockImplementation(() => undefined));
afterAll(() => jest.restoreAllMocks());

const BEAT = newBeat({ id: "mine", name: "Mine" });
const KIT = kitOf(BEAT.parts[0] as never, "Own");
const PAD = KIT.pads[0]!;
const GROOVE = { ...BUILT_IN_GROOVES[0]!, name: "Own" };

/** A table, a row that no version of the program writes, and what the shelf calls it. */
const BAD_ROWS: readonly [TableName, Readonly<Record<string, unknown>>, string | undefined][] = [
  ["damaged", { id: 1 }, "journal"],
  ["damaged", { id: 1, table: "lookback", problem: null, record: null }, "lookback"],
  ["grooves", { ...GROOVE, lines: undefined }, "grooves"],
  ["grooves", { name: "Own" }, "grooves"],
  ["ownKits", { name: "Own" }, "ownKits"],
  ["ownKits", { name: "Own", pads: [null] }, "ownKits"],
  ["ownKits", { ...KIT, pads: [{ ...PAD, mix: { ...PAD.mix, levelDb: 999 } }] }, "ownKits"],
  ["ownKits", { ...KIT, pads: [{ ...PAD, layers: [{ ...PAD.layers[0], velocities: [90, 10] }] }] }, "ownKits"],
  ["keptStates", { id: 1, beatId: "mine", name: "x", atMs: "noon", beat: BEAT }, "keptStates"],
  ["keptStates", { id: 1, beatId: "mine", name: null, atMs: 1, beat: null }, "keptStates"],
  ["profiles", { device: 7 }, "profiles"],
  ["settings", { key: "settings", settings: { clickDb: null, keyLevels: null, standIn: { bpm: "x" } } }, undefined],
  ["settings", { key: "settings", settings: null }, undefined],
  ["echoMarks", { id: 3, kind: "eaten" }, undefined],
  ["steps", { beatId: "mine", number: 1 }, undefined],
  ["editors", { beatId: "mine", token: 7 }, undefined],
  ["sounds", { key: "k", sound: { layers: 4 } }, undefined],
  ["samples", { id: "s", wav: "no", addedAt: "never" }, undefined],
];

async function storeWith(table: TableName, row: object): Promise<MemoryStore> {
  const store = new MemoryStore();
  const repository = repositoryOf({ store });
  await repository.list();
  await repository.beats.add(BEAT);
  await store.change([table], (rows) => rows[table].put(row as never));
  return store;
}

test.each(BAD_ROWS)(
  "a row of %s (%#) that is no such thing closes nothing, and is listed as it is",
  async (table, row, called) => {
    const store = await storeWith(table, row);
    const repository = repositoryOf({ store, locks: lockManager() });
    const shelf = new Shelf(repository);
    await shelf.refresh();
    const { records, damaged, unreadable } = shelf.store.getState();
    expect([records!.length, damaged]).toEqual([5, []]);
    expect(unreadable.map(({ of }) => of)).toEqual(called ? [called] : []);
    const opened = await openWorkspace("mine", repository);
    if (opened.status !== "open") throw new Error(opened.status);
    const { workspace } = opened;
    await workspace.timing.open();
    await workspace.echoes.open();
    await workspace.devices.open();
    expect([workspace.state.grooves, workspace.state.settings]).toEqual([[], DEFAULT_SETTINGS]);
    expect([await repository.readKits(), await repository.states.list("mine")]).toEqual([[], []]);
    workspace.setTempo(99);
    await opened.close();
    expect(await repository.load("mine")).toMatchObject({ status: "found", beat: { bpm: 99 } });
    await shelf.forgetDamaged();
    expect(shelf.store.getState().unreadable).toEqual([]);
  },
);

test("of settings and profiles only what is wrong is lost", async () => {
  const store = await storeWith("settings", {
    key: "settings",
    settings: { ...DEFAULT_SETTINGS, clickDb: -9, countInBars: 3, older: true },
  });
  const pad = { trigger: { kind: "note", number: 40 }, target: { kind: "pad", pad: 1 } };
  const row = { device: "Kit", delayMs: 12, curve: 4, mappings: [null, pad, { ...pad, target: { kind: "pad" } }] };
  await store.change(["profiles"], ({ profiles }) => profiles.put(row as never));
  const repository = repositoryOf({ store });
  expect(await repository.readSettings()).toEqual({ ...DEFAULT_SETTINGS, clickDb: -9 });
  expect((await repository.readProfiles()).Kit).toMatchObject({ delayMs: 12, curve: 0, mappings: [pad] });
});

test("a beat's row without its time, or of another beat, is listed apart and harms no other", async () => {
  const store = await storeWith("beats", { id: "timeless", beat: { ...BEAT, id: "timeless" } });
  await store.change(["beats"], ({ beats }) => beats.put({ id: "null", changedAt: 1, beat: null as never }));
  const { records, damaged } = await repositoryOf({ store }).list();
  expect([records.length, damaged.map(({ id }) => id)]).toEqual([5, ["null", "timeless"]]);
});

describe("what checks rows could not be loaded", () => {
  // As where a part of the program does not come over the network.
  const unloaded = () =>
    jest.doMock("./rows/row-checks", () => jest.requireActual("./no-such-file"), { virtual: true });
  beforeEach(() => jest.resetModules());

  test("nothing is called damaged, written, moved or let go of, and all is there when it comes", async () => {
    const store = await storeWith("marks", { key: "x" });
    const { storage, texts } = localStorageInMemory();
    await store.change(["journal", "lookback"], async ({ journal, lookback }) => {
      await journal.put({ beatId: "mine", writtenAt: 1, passes: "[" });
      await lookback.put({ id: 1, count: 1, lastMs: 1, hits: "[" });
    });
    repositoryOf({ store, storage, now: () => 2000 }).beats.leave({ beat: { ...BEAT, name: "As left" }, passes: [] });
    const before = [await everything(store), [...texts]];

    unloaded();
    const { Repository } = await import("./repository");
    const { openWorkspace: openIn } = await import("../workspace/open-workspace");
    const { Shelf: ShelfOf } = await import("../shelf/shelf");
    const page = () => {
      const none = { locks: undefined, openChannel: () => undefined, limits: { retryMs: 5000 } };
      return new Repository({ store, storage, now: () => 2000, ...none });
    };
    const repository = page();
    const shelf = new ShelfOf(repository);
    const close = shelf.open();
    await shelf.refresh();
    expect(shelf.store.getState()).toMatchObject({ records: [], damaged: [], unreadable: [], checked: false });
    expect(await openIn("mine", repository)).toEqual({ status: "unchecked" });
    await expect(repository.lookback.read()).rejects.toThrow("could not be loaded");
    expect(await repository.editors.rename("mine", "Renamed")).toBeUndefined();
    expect([await everything(store), [...texts]]).toEqual(before);

    jest.dontMock("./rows/row-checks");
    await shelf.refresh();
    close();
    const { records, checked } = shelf.store.getState();
    expect([checked, records!.length, records!.map(({ beat }) => beat.name)]).toEqual([
      true,
      5,
      expect.arrayContaining(["As left"]),
    ]);
  });
});

async function everything(store: MemoryStore) {
  const tables = ["beats", "journal", "lookback", "damaged", "steps", "keptStates"] as const;
  return store.read(tables, (rows) => Promise.all(tables.map((name) => rows[name].list())));
}
