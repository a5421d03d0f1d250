import "fake-indexeddb/auto";
import Dexie from "dexie";
import {
  localStorageInMemory,
  newDatabaseName,
  newRepository,
  openWorkspace,
  strike,
} from "../../tests/support/open-workspace";
import { EchoPocketDatabase } from "./database";
import { Repository } from "./repository";
import type { Workspace } from "./workspace";

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
  expect(kept[0].timeMs).toBe(-40 * 500_000);
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

test("where there is no room the oldest playing goes, and that is said once; marks are there when the page comes back", async () => {
  const database = new EchoPocketDatabase(newDatabaseName());
  const repository = new Repository(database, () => 1000);
  const { workspace } = openWorkspace(repository);
  const play = async (pad: number) => {
    strike(workspace, pad, performance.now());
    await workspace.echoes.flush();
  };
  await play(0);
  await play(1);
  const full = Object.assign(new Error("full"), { name: "QuotaExceededError" });
  const add = jest.spyOn(database.lookback, "add").mockRejectedValueOnce(full);
  await play(2);
  expect((await repository.lookback.read()).map(({ pad }) => pad)).toEqual([1, 2]);
  expect(workspace.state.notice).toContain("oldest playing was forgotten");
  workspace.store.setState({ notice: "" });
  add.mockRejectedValueOnce(full);
  await play(3);
  expect(workspace.state.notice).toBe("");
  expect(repository.memoryReason).toBeUndefined();
  const [echo] = workspace.echoes.refresh();
  workspace.echoes.markUsed(echo);
  workspace.echoes.join(echo, true);
  await workspace.close();
  const again = openWorkspace(repository).workspace;
  await again.echoes.open();
  expect([...again.state.usedEchoes, ...again.state.joinedEchoes]).toEqual([echo.id, echo.id]);
  await again.close();
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
    openWorkspace(new Repository(database, () => 1000, storage)).workspace;
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
  jest.spyOn(database.lookback, "add").mockReturnValue(new Dexie.Promise(() => undefined));
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
