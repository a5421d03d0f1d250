import "fake-indexeddb/auto";
import Dexie from "dexie";
import type { StoreApi } from "zustand/vanilla";
import type { Pass } from "@/core/beat/beat";
import { firstPlace, newBeat } from "@/core/beat/new-beat";
import { demoBeat } from "@/core/demo/demo-beats";
import { writeBeatFile } from "@/core/formats/beat-file";
import type { Ticks } from "@/core/time/ticks";
import { BUILT_IN_GROOVES } from "@/core/timing/built-in-grooves";
import {
  localStorageInMemory,
  newDatabaseName,
  newRepository,
  openWorkspace,
  repositoryOf,
  strike,
} from "../../../tests/support/open-workspace";
import { until } from "../../../tests/support/until";
import { Shelf } from "../shelf/shelf";
import type { Workspace } from "../workspace/workspace";
import { EchoPocketDatabase } from "./rows/database";
import type { Repository } from "./repository";

const passesOf = (workspace: Workspace) => workspace.beat.parts[0]!.patterns[0]!.passes;
const FULL = Object.assign(new Error("full"), { name: "QuotaExceededError" });

/** Waits for what a shelf or a workspace comes to by itself. */
function comesTo<T>({ store }: { readonly store: StoreApi<T> }, isThere: (state: T) => boolean) {
  return new Promise<void>((done) => {
    const stop = store.subscribe(check);
    check();
    function check() {
      if (!isThere(store.getState())) return;
      stop();
      done();
    }
  });
}

/** A beat as it is on disk, and what its journal has. */
async function onDisk(repository: Repository, id = "b") {
  const loaded = await repository.load(id);
  return loaded.status === "found" ? loaded : undefined;
}

const PLACE = firstPlace(newBeat({ id: "b", name: "B" }));
const LOST: Pass = {
  id: 30,
  name: "Lost",
  muted: false,
  quantize: { grid: "1/16", strength: 1, reach: 1 },
  hits: [{ id: 31, lane: 1, played: { ticks: 10 as Ticks, velocity: 90 }, lengthTicks: 60 as Ticks }],
};
const keptAs = (pass: Pass) => ({ place: PLACE, pattern: { id: 2, name: "Pattern 1", bars: 2 }, pass });

test("the first list is the demo; a removed demo beat does not come back", async () => {
  const repository = newRepository();
  const { records } = await repository.list();
  expect(records.map(({ id }) => id)).toEqual(["slow-harbour", "gangway-shuffle", "tide-table", "lantern-room"]);
  await repository.beats.remove("tide-table");
  expect((await repository.list()).records).toHaveLength(3);
  expect((await onDisk(repository, "lantern-room"))?.beat).toEqual(demoBeat("Lantern Room"));
});

test("grooves of one's own are there when the page comes back, and gone when they were deleted", async () => {
  const repository = newRepository();
  await repository.writeGroove({ ...BUILT_IN_GROOVES[0]!, name: "Mine" });
  const { workspace } = openWorkspace(repository);
  await workspace.timing.open();
  expect(workspace.state.grooves.map(({ name }) => name)).toEqual(["Mine"]);
  await repository.removeGroove("Mine");
  expect(await repository.readGrooves()).toEqual([]);
});

test("a crash in the middle of a pass leaves the beat as it was and the pass in the journal, which comes back once", async () => {
  jest.useFakeTimers({ doNotFake: ["setImmediate", "queueMicrotask", "nextTick"] });
  const { workspace, repository } = openWorkspace();
  workspace.transport.toggleRecord();
  [2000, 2500, 3000].forEach((timeMs) => strike(workspace, 0, timeMs));
  await jest.advanceTimersByTimeAsync(1200);
  jest.useRealTimers();
  await until(async () => (await onDisk(repository))?.passes[0]?.pass.hits.length === 3);
  const crashed = (await onDisk(repository))!;
  expect(crashed.beat.parts[0]!.patterns[0]!.passes).toEqual([]);
  expect(crashed.passes[0]!.pass.hits).toHaveLength(3);

  const again = openWorkspace(repository, crashed).workspace;
  expect(again.state.lostPasses[0]!.pass.hits).toHaveLength(3);
  again.document.restoreRecoverable();
  await again.document.flush();
  const kept = (await onDisk(repository))!;
  expect(kept.beat.parts[0]!.patterns[0]!.passes[0]!.hits).toHaveLength(3);
  expect(kept.passes).toEqual([]);
});

test("an offered pass outlives edits, recording and reloads until it is decided about, and then goes", async () => {
  const repository = newRepository();
  await repository.beats.save({ beat: newBeat({ id: "b", name: "B", bpm: 125 }), passes: [keptAs(LOST)] });
  const first = openWorkspace(repository, (await onDisk(repository))!).workspace;
  first.document.rename("Edited");
  first.transport.toggleRecord();
  strike(first, 0, 2000);
  await first.document.flush();
  const between = (await onDisk(repository))!;
  expect(between.passes.map(({ pass }) => pass.name)).toEqual(["Lost"]);

  const second = openWorkspace(repository, between).workspace;
  expect(passesOf(second).map(({ name }) => name)).toEqual(["Pass 1"]);
  second.document.restoreRecoverable();
  expect(passesOf(second).map(({ name, hits }) => [name, hits.length])).toEqual([
    ["Pass 1", 1],
    ["Lost", 1],
  ]);
  await second.document.flush();
  expect((await onDisk(repository))!.passes).toEqual([]);
});

test("a page that goes away in peace keeps the open pass", async () => {
  const { workspace, repository } = openWorkspace();
  workspace.transport.toggleRecord();
  strike(workspace, 0, 2000);
  await workspace.document.flush();
  const kept = (await onDisk(repository))!;
  expect(kept.beat.parts[0]!.patterns[0]!.passes[0]!.hits).toHaveLength(1);
  expect(kept.passes).toEqual([]);
});

test("a page that is taken away before its store answers leaves its beat to the next page", async () => {
  const { storage, texts } = localStorageInMemory();
  const name = newDatabaseName();
  let nowMs = 1000;
  const page = () => repositoryOf({ database: new EchoPocketDatabase(name), now: () => nowMs, storage });
  const beat = newBeat({ id: "b", name: "As saved", bpm: 125 });
  await page().beats.save({ beat, passes: [keptAs(LOST)] });
  const namesAfter = async (leave: (repository: Repository) => unknown) => {
    nowMs += 10;
    await leave(page());
    return (await page().list()).records.map((record) => record.beat.name);
  };
  expect(await namesAfter(({ beats }) => beats.leave({ beat: { ...beat, name: "As left" }, passes: [] }))).toContain(
    "As left",
  );
  // The beat that was left holds the open pass.
  expect(await onDisk(page())).toMatchObject({ beat: { name: "As left" }, passes: [] });
  // What was saved since counts, what was deleted stays away, and noise is passed over.
  page().beats.leave({ beat: { ...beat, name: "Stale" }, passes: [] });
  const saveSince = ({ beats }: Repository) => beats.save({ beat: { ...beat, name: "Saved since" }, passes: [] });
  expect(await namesAfter(saveSince)).toContain("Saved since");
  for (const text of ["{ no record", JSON.stringify({ changedAt: 9e9, beat: { id: "b" }, passes: [] })]) {
    storage.setItem("unsaved beat b", text);
    expect((await onDisk(page()))!.beat.name).toBe("Saved since");
  }
  // Noise is gone; what may have been somebody's beat is put aside as it is.
  expect(await page().readUnreadable()).toMatchObject([{ of: "backup", record: { beat: { id: "b" } } }]);
  page().beats.leave({ beat: { ...beat, name: "Deleted" }, passes: [] });
  expect(await namesAfter(({ beats }) => beats.remove("b"))).not.toContain("Deleted");
  expect(texts.size).toBe(0);
  // Where it is full, the page goes on.
  const setItem = () => {
    throw new DOMException("full", "QuotaExceededError");
  };
  const full = repositoryOf({ database: new EchoPocketDatabase(name), storage: { ...storage, setItem } });
  expect(() => full.beats.leave({ beat, passes: [] })).not.toThrow();
});

test("a failed save keeps the journal and what is in memory, which goes to disk by itself when there is room", async () => {
  const database = new EchoPocketDatabase(newDatabaseName());
  const repository = repositoryOf({ database, limits: { retryMs: 300 } });
  const { workspace } = openWorkspace(repository);
  workspace.transport.toggleRecord();
  for (let hit = 0; hit < 16; hit++) strike(workspace, 0, 2000 + 100 * hit);
  const journalled = async () => (await database.journal.get("b"))?.passes ?? "";
  await until(async () => (await journalled()).includes('"velocity":100'));
  const full = [database.beats, database.marks].map((table) =>
    jest.spyOn(table as Dexie.Table, "put").mockRejectedValue(FULL),
  );
  workspace.transport.stop();
  await comesTo(workspace, ({ saveState, memoryReason }) => saveState === "memory" && memoryReason === "full");
  expect(repository.beats.hasUnwritten).toBe(true);
  expect(await journalled()).toContain('"velocity":100');
  full.forEach((spy) => spy.mockRestore());
  await comesTo(workspace, ({ saveState, memoryReason }) => saveState === "saved" && memoryReason === undefined);
  expect((await database.beats.get("b"))!.beat.parts[0]!.patterns[0]!.passes[0]!.hits).toHaveLength(16);
  expect(await database.journal.get("b")).toBeUndefined();
  expect(repository.beats.hasUnwritten).toBe(false);
});

test("a full store is said once, work goes on in memory, and a later save brings it to disk", async () => {
  const database = new EchoPocketDatabase(newDatabaseName());
  const repository = repositoryOf({ database });
  await repository.list();
  const reasons: unknown[] = [];
  repository.onMemoryReason(() => reasons.push(repository.memoryReason));
  const full = jest.spyOn(database.beats, "put").mockRejectedValue(FULL);
  const beat = newBeat({ id: "mine", name: "Mine" });
  expect(await repository.beats.save({ beat, passes: [] })).toBe("memory");
  expect(await repository.beats.save({ beat: { ...beat, bpm: 90 }, passes: [] })).toBe("memory");
  expect((await onDisk(repository, "mine"))!.beat.bpm).toBe(90);
  full.mockRestore();
  await repository.retry();
  expect(reasons).toEqual(["full", undefined]);
  expect((await database.beats.get("mine"))!.beat.bpm).toBe(90);
  repository.close();
});

test("a store that does not open in time is gone on without, and comes back with what was done meanwhile", async () => {
  const database = new EchoPocketDatabase(newDatabaseName());
  let open = () => {};
  const opening = new Promise<void>((done) => (open = done));
  const really = database.open.bind(database);
  jest.spyOn(database, "open").mockImplementation(() => Dexie.Promise.resolve(opening).then(() => really()));
  const repository = repositoryOf({ database, limits: { openMs: 30, retryMs: 5000 } });
  const shelf = new Shelf(repository);
  const close = shelf.open();
  await comesTo(shelf, ({ memoryReason, records }) => memoryReason === "slow" && records?.length === 4);
  expect((await repository.load("slow-harbour")).status).toBe("unanswered");
  const id = await shelf.create();
  // A beat that is only lent can be named like any other, and is then the player's.
  const lent = shelf.store.getState().records!.find(({ beat }) => beat.name === "Tide Table")!.id;
  await shelf.rename(lent, "Ebb");
  open();
  await comesTo(shelf, ({ memoryReason, records }) => memoryReason === undefined && records?.length === 6);
  const ids = shelf.store.getState().records!.map((record) => record.id);
  expect(ids.toSorted()).toEqual(
    [id, lent, "gangway-shuffle", "lantern-room", "slow-harbour", "tide-table"].toSorted(),
  );
  expect(await database.beats.count()).toBe(6);
  close();
  repository.close();
});

test("a beat that can't be read is listed apart, opens with its reason, and harms no other", async () => {
  const database = new EchoPocketDatabase(newDatabaseName());
  const repository = repositoryOf({ database });
  const good = newBeat({ id: "good", name: "Good" });
  await repository.list();
  await database.beats.bulkPut([
    { id: "good", changedAt: 9000, beat: good },
    { id: "bad", changedAt: 9001, beat: { ...good, id: "bad", parts: [{ id: 1, kind: "kit" }] } as never },
    { id: "worse", changedAt: 9002, beat: undefined as never },
    { id: "other", changedAt: 9003, beat: good },
  ]);
  await database.journal.put({ beatId: "good", writtenAt: 1, passes: '[{"pass":' });
  const { records, damaged } = await repository.list();
  expect(records[0]!.id).toBe("good");
  expect(damaged.map(({ id }) => id).toSorted()).toEqual(["bad", "other", "worse"]);
  expect(damaged.find(({ id }) => id === "bad")!.problem).toContain('/beat/parts/0: "name" is missing');
  expect(await repository.load("bad")).toMatchObject({ status: "damaged", record: { changedAt: 9001 } });
  expect(await repository.load("good")).toMatchObject({ status: "found", passes: [] });
  // The journal that was broken is kept where nothing writes over it.
  expect(await repository.readUnreadable()).toMatchObject([{ of: "journal", record: { passes: '[{"pass":' } }]);
});

test("the shelf gives free names, and a file of a beat that is here does not overwrite it, nor one in the same drop", async () => {
  let ids = 0;
  const shelf = new Shelf(newRepository(), () => `id-${++ids}`);
  await shelf.create();
  await shelf.create();
  const file = new File([writeBeatFile(demoBeat("Tide Table"))], "t.json");
  const mine = (name: string) => new File([writeBeatFile(newBeat({ id: "same", name }))], `${name}.json`);
  await shelf.importFiles([file, mine("One"), mine("Two"), new File(["{}"], "bad.json")]);
  const { records, notice } = shelf.store.getState();
  expect(records!.map(({ beat }) => beat.name).toSorted()).toEqual([
    "Gangway Shuffle",
    "Lantern Room",
    "New beat",
    "New beat 2",
    "One",
    "Slow Harbour",
    "Tide Table",
    "Tide Table 2",
    "Two",
  ]);
  expect(new Set(records!.map(({ id }) => id)).size).toBe(9);
  expect(notice).toMatchObject({ kind: "refused", title: "Imported “Tide Table 2”, “One”, “Two”." });
  expect(notice!.details[0]).toMatch(/^bad\.json: This beat file can't be read: the file: "format" is missing/);
});
