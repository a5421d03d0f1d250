import "fake-indexeddb/auto";
import type Dexie from "dexie";
import type { Beat } from "@/core/beat/beat";
import { addHits, addPass } from "@/core/beat/edit";
import { firstPlace, newBeat } from "@/core/beat/new-beat";
import { writeBeatFile } from "@/core/formats/beat-file";
import { seededRandom } from "@/core/random";
import type { Ticks } from "@/core/time/ticks";
import { lockManager } from "../../../tests/support/lock-manager";
import { seeds } from "../../../tests/support/seeds";
import { localStorageInMemory, newDatabaseName, repositoryOf } from "../../../tests/support/open-workspace";
import { until } from "../../../tests/support/until";
import { openWorkspace, type OpenedWorkspace } from "../workspace/open-workspace";
import { Shelf } from "../shelf/shelf";
import { EchoPocketDatabase } from "./rows/database";

const ACTIONS = 24;
const PAGES = 3;

// There is no sound in these pages.
beforeAll(() => jest.spyOn(console, "error").mockImplementation(() => undefined));
afterAll(() => jest.restoreAllMocks());

/** The browser: one store, one set of locks, one channel, several pages. */
function browser(slow: (page: number) => number) {
  const name = newDatabaseName();
  const locks = lockManager();
  const { storage } = localStorageInMemory();
  let nowMs = 1000;
  const page = (index: number) => {
    const database = new EchoPocketDatabase(name);
    delayed(database, () => slow(index));
    const openChannel = () => new BroadcastChannel(name);
    const repository = repositoryOf({ database, locks, storage, openChannel, now: () => ++nowMs });
    return { repository, shelf: new Shelf(repository, () => `id-${++nowMs}`) };
  };
  return { page, name };
}

/** Transactions of one page begin late, in their order, as where the disk is slow. */
function delayed(database: Dexie, ms: () => number): void {
  const begin = database.transaction.bind(database) as (...args: unknown[]) => PromiseLike<unknown>;
  let last: Promise<unknown> = Promise.resolve();
  database.transaction = ((...args: unknown[]) => {
    const before = last;
    const begun = before.then(() => new Promise((done) => setTimeout(done, ms()))).then(() => begin(...args));
    last = begun.catch(() => undefined);
    return begun;
  }) as unknown as typeof database.transaction;
}

/** A stroke of that number. */
function withHit(beat: Beat, number: number): Beat {
  const patternRef = firstPlace(beat);
  const known = beat.parts[0]!.patterns[0]!.passes.at(-1);
  const { beat: ready, passId } = known
    ? { beat, passId: known.id }
    : addPass(beat, patternRef, { name: "Pass 1", muted: false, quantize: beat.inputQuantize });
  return addHits(ready, patternRef, passId, [
    { lane: 0, played: { ticks: number as Ticks, velocity: 90 }, lengthTicks: 60 as Ticks },
  ]);
}

const hitsOf = (beat: Beat) =>
  beat.parts[0]!.patterns[0]!.passes.flatMap(({ hits }) => hits.map(({ played: { ticks } }) => ticks as number));

/** What a beat should be. */
interface Expected {
  name: string;
  hits: number[];
}

const turn = (ms = 0) => new Promise((done) => setTimeout(done, ms));

async function play(seed: number): Promise<void> {
  const random = seededRandom(seed);
  const pick = <T>(all: readonly T[]): T | undefined => all[Math.floor(random() * all.length)];
  const { page } = browser(() => (random() < 0.2 ? 8 * random() : 0));
  const pages = Array.from({ length: PAGES }, (_, index) => page(index));
  const open: (OpenedWorkspace | undefined)[] = pages.map(() => undefined);
  const model = new Map<string, Expected>();
  await pages[0]!.shelf.refresh();
  for (const { id, beat } of pages[0]!.shelf.store.getState().records!)
    model.set(id, { name: beat.name, hits: hitsOf(beat) });
  let counter = 0;

  const expected = (beat: Beat): Expected => ({ name: beat.name, hits: hitsOf(beat) });
  const leave = async (at: number) => {
    const workspace = open[at];
    open[at] = undefined;
    const closing = workspace?.close();
    if (closing) pages[at]!.repository.whileClosing(closing);
    // Whoever is on the shelf of this page at once need not wait.
    if (random() < 0.5) await closing;
  };
  const actions: Record<string, (at: number) => unknown> = {
    async open(at) {
      const id = pick([...model.keys()]);
      if (open[at] || !id) return;
      const opened = await openWorkspace(id, pages[at]!.repository);
      expect(opened.status).toBe("open");
      open[at] = opened as OpenedWorkspace;
    },
    play(at) {
      const workspace = open[at]?.workspace;
      if (!workspace) return;
      const changed = withHit(workspace.beat, ++counter);
      if (!workspace.document.admits(changed)) return;
      workspace.document.edit(changed, "Play");
      model.set(workspace.beat.id, expected(workspace.beat));
    },
    leave,
    async takeOver(at) {
      const workspace = open[at];
      await workspace?.takeOver();
      await turn(20);
    },
    async create(at) {
      const id = await pages[at]!.shelf.create();
      const { records } = pages[at]!.shelf.store.getState();
      model.set(id, expected(records!.find((record) => record.id === id)!.beat));
    },
    async rename(at) {
      const id = pick([...model.keys()])!;
      const name = `Name ${++counter}`;
      await pages[at]!.shelf.rename(id, name);
      if (pages[at]!.shelf.store.getState().notice?.kind !== "refused") model.get(id)!.name = name;
      pages[at]!.shelf.dismiss();
    },
    async duplicate(at) {
      const id = pick([...model.keys()])!;
      const hits = model.get(id)!.hits;
      const copy = await pages[at]!.shelf.duplicate(id);
      const { records } = pages[at]!.shelf.store.getState();
      const made = records!.find((record) => record.id === copy)!.beat;
      expect(hitsOf(made)).toEqual(hits);
      model.set(copy!, expected(made));
    },
    async remove(at) {
      const id = pick([...model.keys()])!;
      const { shelf } = pages[at]!;
      await shelf.remove({ id, beat: newBeat({ id, name: model.get(id)!.name }) });
      const { notice } = shelf.store.getState();
      shelf.dismiss();
      if (notice!.kind === "refused") return;
      const gone = model.get(id)!;
      model.delete(id);
      if (random() < 0.5) return;
      notice!.undo!();
      model.set(id, gone);
      while (!shelf.store.getState().records!.some((record) => record.id === id)) await turn(1);
    },
    async importTwice(at) {
      const id = pick([...model.keys()])!;
      const beat = newBeat({ id, name: `Import ${++counter}` });
      const before = new Set(model.keys());
      const file = () => new File([writeBeatFile(beat)], "x.json");
      await pages[at]!.shelf.importFiles([file(), file()]);
      const { records } = pages[at]!.shelf.store.getState();
      const added = records!.filter((record) => !before.has(record.id));
      expect(added).toHaveLength(2);
      for (const record of added) model.set(record.id, expected(record.beat));
      pages[at]!.shelf.dismiss();
    },
  };
  const names = Object.keys(actions);
  for (let action = 0; action < ACTIONS; action++) {
    const name = random() < 0.4 ? "play" : pick(names)!;
    await actions[name]!(Math.floor(random() * PAGES));
  }
  for (let at = 0; at < PAGES; at++) await leave(at);
  await Promise.all(pages.map(({ repository }) => repository.settled()));
  const { records, damaged } = await page(PAGES).repository.list();
  expect(damaged).toEqual([]);
  expect(Object.fromEntries(records.map(({ id, beat }) => [id, expected(beat)]))).toEqual(Object.fromEntries(model));
}

test.each(seeds(3))("whatever three tabs do, the disk is what they were told (seed %i)", (seed) => play(seed));

/** The store takes nothing, under Dexie, as long as it is said to be full. */
function fillable(database: EchoPocketDatabase): { full: boolean } {
  const state = { full: false };
  database.use({
    stack: "dbcore",
    name: "full",
    create: (core) => ({
      ...core,
      table: (name) => {
        const table = core.table(name);
        return {
          ...table,
          mutate: (request) =>
            state.full ? Promise.reject(new DOMException("full", "QuotaExceededError")) : table.mutate(request),
        };
      },
    }),
  });
  return state;
}

async function playInAFullStore(seed: number): Promise<void> {
  const random = seededRandom(1000 + seed);
  const pick = <T>(all: readonly T[]): T => all[Math.floor(random() * all.length)]!;
  const database = new EchoPocketDatabase(newDatabaseName());
  const store = fillable(database);
  const repository = repositoryOf({ database, locks: lockManager() });
  const shelf = new Shelf(repository);
  await shelf.refresh();
  const model = new Map<string, Expected>();
  const put = ({ id, ...beat }: Beat) => model.set(id, { name: beat.name, hits: hitsOf({ id, ...beat }) });
  for (const { beat } of shelf.store.getState().records!) put(beat);
  for (let action = 0; action < ACTIONS; action++) {
    store.full = random() < 0.5;
    const id = pick([...model.keys()]);
    const kind = Math.floor(5 * random());
    if (kind === 0) {
      const made = await shelf.create();
      put(shelf.store.getState().records!.find((record) => record.id === made)!.beat);
    } else if (kind === 1) {
      await shelf.rename(id, `Name ${action}`);
      const { notice } = shelf.store.getState();
      if (notice?.kind !== "refused") model.get(id)!.name = `Name ${action}`;
      shelf.dismiss();
    } else if (kind === 2 && model.size > 1) {
      await shelf.remove({ id, beat: newBeat({ id, name: "x" }) });
      const gone = model.get(id)!;
      model.delete(id);
      if (random() < 0.5) {
        shelf.store.getState().notice!.undo!();
        // It is back when the shelf has no more to say.
        while (shelf.store.getState().notice) await turn(1);
        model.set(id, gone);
      }
    } else {
      const opened = (await openWorkspace(id, repository)) as OpenedWorkspace;
      for (let hit = 0; hit < 3; hit++) {
        const { workspace } = opened;
        workspace.document.edit(withHit(workspace.beat, 10 * action + hit), "Play");
        if (random() < 0.5) await workspace.document.flush();
      }
      put(opened.workspace.beat);
      repository.whileClosing(opened.close());
    }
    if (random() < 0.2) {
      store.full = false;
      await repository.retry();
    }
  }
  await repository.settled();
  store.full = false;
  await repository.retry();
  expect([repository.memoryReason, repository.beats.hasUnwritten]).toEqual([undefined, false]);
  const disk = await database.beats.toArray();
  expect(Object.fromEntries(disk.map(({ id, beat }) => [id, { name: beat.name, hits: hitsOf(beat) }]))).toEqual(
    Object.fromEntries(model),
  );
}

test.each(seeds(2))("what is done while the store is full now and then is on disk in the end (seed %i)", (seed) =>
  playInAFullStore(seed),
);

test("a store that is emptied under an open beat gets it again with the next edit", async () => {
  const { page, name } = browser(() => 0);
  const [one, two] = [page(0), page(1)];
  await one.repository.list();
  const { workspace, close } = (await openWorkspace("tide-table", one.repository)) as OpenedWorkspace;
  const database = new EchoPocketDatabase(name);
  await Promise.all(database.tables.map((table) => table.clear()));
  workspace.document.rename("Still here");
  await close();
  const { records } = await two.repository.list();
  expect(records.map(({ beat }) => beat.name)).toContain("Still here");
});

test("a tab that waits may edit when the other one closes, with what that one did, and says so once", async () => {
  const { page } = browser(() => 0);
  const [one, two] = [page(0), page(1)];
  await one.repository.list();
  const first = (await openWorkspace("tide-table", one.repository)) as OpenedWorkspace;
  const second = (await openWorkspace("tide-table", two.repository)) as OpenedWorkspace;
  expect(second.workspace.state).toMatchObject({ readOnly: true, editorState: "elsewhere" });
  const notices: string[] = [];
  second.workspace.store.subscribe(({ notice }) => void (notice !== notices.at(-1) && notices.push(notice)));
  first.workspace.document.rename("Flood Table");
  await first.close();
  await until(() => !second.workspace.state.readOnly);
  expect(second.workspace.state).toMatchObject({ readOnly: false, editorState: "editing" });
  expect(second.workspace.beat.name).toBe("Flood Table");
  expect(notices.filter((notice) => notice.includes("can be changed here now"))).toHaveLength(1);
  second.workspace.document.rename("Ebb Table");
  await second.close();
  const { records } = await one.repository.list();
  expect(records.map(({ beat }) => beat.name)).toContain("Ebb Table");
});

test("opening again at once finds one's own beat free", async () => {
  const { page } = browser(() => 5);
  const { repository } = page(0);
  await repository.list();
  for (let time = 0; time < 6; time++) {
    const opened = (await openWorkspace("tide-table", repository)) as OpenedWorkspace;
    expect(opened.workspace.state.readOnly).toBe(false);
    opened.workspace.setTempo(100 + time);
    repository.whileClosing(opened.close());
  }
  await repository.settled();
});

test("a frozen tab is taken over from; what it writes when it wakes up is refused, and kept as a beat of its own", async () => {
  const name = newDatabaseName();
  const locks = lockManager();
  const page = (openChannel: () => BroadcastChannel | undefined) =>
    repositoryOf({ database: new EchoPocketDatabase(name), locks, openChannel });
  // Frozen: it answers nobody.
  const frozen = page(() => undefined);
  await frozen.list();
  const seat = await frozen.editors.open("tide-table");
  const awake = page(() => undefined);
  const second = (await openWorkspace("tide-table", awake)) as OpenedWorkspace;
  await second.takeOver();
  expect(second.workspace.state.readOnly).toBe(false);
  second.workspace.document.rename("Taken over");
  await second.workspace.document.flush();
  const stale = newBeat({ id: "tide-table", name: "Stale" });
  expect(await frozen.beats.save({ beat: stale, passes: [] }, seat.token)).toBe("taken");
  await frozen.beats.writeJournal("tide-table", [], seat.token);
  expect((await awake.load("tide-table")) as object).toMatchObject({ beat: { name: "Taken over" }, passes: [] });
  await second.close();
});

test("who goes to the shelf right after playing finds it all there, and may rename, copy and delete it at once", async () => {
  const { page } = browser(() => 30);
  const { repository, shelf } = page(0);
  await repository.list();
  const { workspace, close } = (await openWorkspace("tide-table", repository)) as OpenedWorkspace;
  const before = hitsOf(workspace.beat).length;
  for (let number = 1; number <= 24; number++) workspace.document.edit(withHit(workspace.beat, number), "Play");
  repository.whileClosing(close());
  await shelf.rename("tide-table", "Ebb");
  const copy = await shelf.duplicate("tide-table");
  const second = await shelf.duplicate(copy!);
  const named = shelf.store.getState().records!.filter(({ id }) => id === copy || id === second);
  expect(named.map(({ beat }) => beat.name).sort()).toEqual(["Ebb copy", "Ebb copy 2"]);
  await shelf.remove(shelf.store.getState().records!.find(({ id }) => id === "tide-table")!);
  shelf.store.getState().notice!.undo!();
  while (shelf.store.getState().notice) await turn(1);
  const { records } = await repository.list();
  const found = records.filter(({ id }) => id === "tide-table" || id === copy).map(({ beat }) => beat);
  expect(found.map(({ name }) => name).toSorted()).toEqual(["Ebb", "Ebb copy"]);
  expect(found.map((beat) => hitsOf(beat).length)).toEqual([before + 24, before + 24]);
});
