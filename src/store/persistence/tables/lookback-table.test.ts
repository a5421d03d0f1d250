import "fake-indexeddb/auto";
import Dexie from "dexie";
import {
  localStorageInMemory,
  newDatabaseName,
  newRepository,
  repositoryOf,
  openWorkspace,
  strike,
} from "../../../../tests/support/open-workspace";
import { EchoPocketDatabase } from "../rows/database";
import type { Workspace } from "../../workspace/workspace";

const strokeOf = (pad: number) => ({
  timeMs: 1000 + pad,
  pad,
  note: 36,
  velocity: 90,
  device: "k",
  beatId: "b",
  partId: 1,
});

test("what was played is remembered across pages, the oldest forgotten beyond 20,000 hits, and all of it on request", async () => {
  const repository = newRepository();
  const chunk = (from: number) =>
    Array.from({ length: 500 }, (_, index) => ({
      timeMs: from + index,
      pad: 0,
      note: 36,
      velocity: 90,
      device: "k",
      beatId: "b",
      partId: 1,
    }));
  for (let index = 0; index < 60; index++) await repository.lookback.add(chunk((index - 60) * 500_000));
  const kept = await repository.lookback.read();
  expect(kept).toHaveLength(20_000);
  expect(kept[0]!.timeMs).toBe(-40 * 500_000);
  const { workspace } = openWorkspace(repository);
  await workspace.echoes.open();
  strike(workspace, 0, performance.now());
  await workspace.echoes.flush();
  expect((await repository.lookback.read()).at(-1)).toMatchObject({ pad: 0, note: 36, device: "keys" });
  await workspace.echoes.clear();
  expect(workspace.state.echoes).toEqual([]);
  expect(await repository.lookback.read()).toEqual([]);
  await workspace.close();
});

const FULL = Object.assign(new Error("full"), { name: "QuotaExceededError" });

test("where there is no room the oldest playing goes, and that is said once; marks are there when the page comes back", async () => {
  const database = new EchoPocketDatabase(newDatabaseName());
  const repository = repositoryOf({ database });
  // Two pages before this one.
  for (const pad of [0, 1]) await repositoryOf({ database }).lookback.add([strokeOf(pad)]);
  const { workspace } = openWorkspace(repository);
  const play = async (pad: number) => {
    strike(workspace, pad, performance.now());
    await workspace.echoes.flush();
  };
  const add = jest.spyOn(database.lookback, "add").mockRejectedValueOnce(FULL);
  await play(2);
  expect((await repository.lookback.read()).map(({ pad }) => pad)).toEqual([1, 2]);
  expect(workspace.state.notice).toContain("oldest playing was forgotten");
  workspace.store.setState({ notice: "" });
  add.mockRejectedValueOnce(FULL);
  await play(3);
  expect(workspace.state.notice).toBe("");
  expect(repository.memoryReason).toBeUndefined();
  const [echo] = workspace.echoes.refresh();
  workspace.echoes.join(echo!, true);
  await workspace.close();
  const again = openWorkspace(repository).workspace;
  await again.echoes.open();
  expect([...again.state.joinedEchoes]).toEqual([echo!.id]);
  await again.close();
});

test("a store that is full for good loses none of what it has, says so once, and gets what was played when there is room", async () => {
  const database = new EchoPocketDatabase(newDatabaseName());
  for (let pad = 0; pad < 8; pad++) await repositoryOf({ database }).lookback.add([strokeOf(pad)]);
  const repository = repositoryOf({ database });
  const { workspace } = openWorkspace(repository);
  const notices: string[] = [];
  workspace.store.subscribe(({ notice }) => notice !== notices.at(-1) && notices.push(notice));
  const full = [jest.spyOn(database.lookback, "add"), jest.spyOn(database.lookback, "put")];
  full.forEach((spy) => spy.mockRejectedValue(FULL));
  for (let second = 0; second < 5; second++) {
    strike(workspace, 9, performance.now() + second);
    await workspace.echoes.flush();
  }
  expect((await repository.lookback.read()).map(({ pad }) => pad)).toEqual([0, 1, 2, 3, 4, 5, 6, 7]);
  expect(notices.filter((notice) => notice.includes("no room"))).toHaveLength(1);
  full.forEach((spy) => spy.mockRestore());
  await workspace.echoes.flush();
  expect((await repository.lookback.read()).filter(({ pad }) => pad === 9)).toHaveLength(5);
  await workspace.close();
});

test("a chunk that can't be read is put aside as it is, and all others are there", async () => {
  const database = new EchoPocketDatabase(newDatabaseName());
  const repository = repositoryOf({ database });
  await repositoryOf({ database }).lookback.add([strokeOf(1)]);
  await database.lookback.add({ count: 1, lastMs: 5, hits: '[{"pad":"' });
  await database.lookback.add({ count: 1, lastMs: 5, hits: '[{"timeMs":1,"pad":999}]' });
  await repositoryOf({ database }).lookback.add([strokeOf(2)]);
  expect((await repository.lookback.read()).map(({ pad }) => pad)).toEqual([1, 2]);
  const damaged = await repository.readUnreadable();
  expect(damaged.map(({ of, record }) => [of, (record as { hits: string }).hits.slice(0, 7)])).toEqual([
    ["lookback", '[{"pad"'],
    ["lookback", '[{"time'],
  ]);
  expect(await database.lookback.count()).toBe(2);
});

test("what is played while remembering is off is not remembered", async () => {
  const { workspace, repository } = openWorkspace();
  workspace.setSettings({ rememberPlaying: false });
  strike(workspace, 0, 100);
  await workspace.echoes.flush();
  expect(workspace.echoes.refresh()).toEqual([]);
  expect(await repository.lookback.read()).toEqual([]);
  await workspace.close();
});

test("strokes of the last moment are there on the next page, once each, whether the store still got them or not", async () => {
  const { storage, texts } = localStorageInMemory();
  const name = newDatabaseName();
  const page = (database = new EchoPocketDatabase(name)) =>
    openWorkspace(repositoryOf({ database, storage })).workspace;
  const padsOn = async (workspace: Workspace) => {
    await workspace.echoes.open();
    return workspace.echoes.refresh().flatMap(({ hits }) => hits.map(({ pad }) => pad));
  };
  const database = new EchoPocketDatabase(name);
  const gone = page(database);
  const play = (workspace: Workspace, pad: number) => strike(workspace, pad, performance.now() + pad);
  play(gone, 0);
  await gone.echoes.flush();
  // One on its way and one still waiting when the store stops answering.
  jest.spyOn(database, "transaction").mockReturnValue(new Dexie.Promise(() => undefined));
  play(gone, 1);
  void gone.echoes.flush();
  play(gone, 2);
  gone.echoes.leave();
  const next = page();
  expect(await padsOn(next)).toEqual([0, 1, 2]);
  expect(texts.size).toBe(0);
  // The store of this one answers after all.
  play(next, 3);
  next.echoes.leave();
  await next.close();
  expect(texts.size).toBe(1);
  const last = page();
  expect(await padsOn(last)).toEqual([0, 1, 2, 3]);
  expect(texts.size).toBe(0);
  // What is forgotten is forgotten there, too.
  play(last, 4);
  last.echoes.leave();
  await last.echoes.clear();
  expect(texts.size).toBe(0);
  expect(await padsOn(page())).toEqual([]);
});
