import "fake-indexeddb/auto";
import Dexie from "dexie";
import { firstPlace, newBeat } from "@/core/beat/new-beat";
import { demoBeat } from "@/core/demo/demo-beats";
import type { Ticks } from "@/core/time/ticks";
import { BUILT_IN_GROOVES } from "@/core/timing/built-in-grooves";
import {
  localStorageInMemory,
  newDatabaseName,
  newRepository,
  openWorkspace,
  strike,
} from "../../tests/support/open-workspace";
import { EchoPocketDatabase } from "./database";
import { takeEditorLock } from "./editor-lock";
import { Repository } from "./repository";
import { Shelf } from "./shelf";
import type { Workspace } from "./workspace";

const passesOf = (workspace: Workspace) => workspace.beat.parts[0].patterns[0].passes;

describe("recording", () => {
  test("a hit is heard at once, written where it was audible, and played back from the next lap on", async () => {
    const { workspace, engine } = openWorkspace();
    workspace.transport.toggleRecord();
    strike(workspace, 0, 1000); // in the count-in
    strike(workspace, 0, 1920 + 5);
    strike(workspace, 1, 1920 + 480 - 10);
    workspace.release({ pad: 1, timeMs: 1920 + 480 + 90, device: "keys" });
    expect(engine.hits).toEqual([0, 0, 1]);
    expect(
      passesOf(workspace)[0].hits.map(({ playedTicks, lengthTicks }) => [playedTicks, lengthTicks].map(Math.round)),
    ).toEqual([
      [10, 60],
      [940, 200],
    ]);
    // Changes that follow each other closely reach the audio thread together.
    await new Promise((done) => setTimeout(done, 60));
    expect([...engine.table.ticks]).toEqual([0, 960]);
    expect([...engine.table.fromLaps]).toEqual([1, 1]);
    expect(engine.table.run).toBe(1);
  });

  test("what is played while only playing sounds and is not written", () => {
    const { workspace, engine } = openWorkspace();
    workspace.transport.play();
    strike(workspace, 4, 100);
    expect(engine.hits).toEqual([4]);
    expect(passesOf(workspace)).toEqual([]);
    expect(workspace.state.history.past).toEqual([]);
  });

  test("a pass is one step of undo, also while it is being recorded, and other edits keep their own", () => {
    const { workspace } = openWorkspace();
    workspace.transport.toggleRecord();
    strike(workspace, 0, 2000);
    strike(workspace, 0, 2500);
    workspace.setPad(0, { muted: true });
    strike(workspace, 0, 3000);
    workspace.document.undo();
    expect(passesOf(workspace)[0].hits).toHaveLength(2);
    expect(workspace.beat.parts[0].pads[0].muted).toBe(true);
    workspace.document.undo();
    workspace.document.undo();
    expect(passesOf(workspace)).toEqual([]);
    strike(workspace, 2, 3500);
    expect(passesOf(workspace).map(({ hits }) => hits.length)).toEqual([1]);
  });

  test("the click sounds in record, or always, or not", () => {
    const { workspace, engine } = openWorkspace();
    workspace.transport.play();
    expect(engine.click.on).toBe(false);
    workspace.setSettings({ clickWhen: "always" });
    expect(engine.click.on).toBe(true);
    workspace.setSettings({ clickWhen: "recording" });
    workspace.transport.toggleRecord();
    expect(engine.click.on).toBe(true);
    workspace.setSettings({ clickOn: false });
    expect(engine.click.on).toBe(false);
  });

  test("a reader can play and not write", () => {
    const { workspace } = openWorkspace(newRepository(), true);
    workspace.transport.toggleRecord();
    workspace.setTempo(150);
    workspace.rename("Other");
    expect(workspace.state.transport.running).toBe(false);
    expect([workspace.beat.bpm, workspace.beat.name]).toEqual([125, "B"]);
    expect(workspace.state.notice).toMatch(/open in another tab/);
  });
});

describe("keeping", () => {
  test("the first list is the demo; a removed demo beat does not come back", async () => {
    const repository = newRepository();
    expect((await repository.list()).map(({ id }) => id)).toEqual([
      "slow-harbour",
      "gangway-shuffle",
      "tide-table",
      "lantern-room",
    ]);
    await repository.remove("tide-table");
    expect(await repository.list()).toHaveLength(3);
    expect(await repository.load("lantern-room")).toEqual(demoBeat("Lantern Room"));
  });

  test("grooves of one's own are there when the page comes back, and gone when they were deleted", async () => {
    const repository = newRepository();
    await repository.writeGroove({ ...BUILT_IN_GROOVES[0], name: "Mine" });
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
    await new Promise((done) => setTimeout(done, 50));
    expect((await repository.load("b"))!.parts[0].patterns[0].passes).toEqual([]);
    expect((await repository.readJournal("b"))!.pass.hits).toHaveLength(3);

    const again = openWorkspace(repository).workspace;
    await new Promise((done) => setTimeout(done, 50));
    expect(again.state.lostPass!.pass.hits).toHaveLength(3);
    again.document.takeLostPass();
    await again.document.flush();
    expect((await repository.load("b"))!.parts[0].patterns[0].passes[0].hits).toHaveLength(3);
    expect(await repository.readJournal("b")).toBeUndefined();
  });

  test("a pass that an older version kept is offered by this one", async () => {
    const name = newDatabaseName();
    const older = new Dexie(name);
    older.version(1).stores({ beats: "id, changedAt", journal: "beatId", kits: "key", settings: "key", marks: "key" });
    const pass = {
      id: 9,
      name: "Pass 3",
      muted: false,
      quantize: newBeat({ id: "b", name: "B" }).inputQuantize,
      hits: [],
    };
    await older.table("journal").put({ beatId: "b", place: { partId: 1, patternId: 2 }, pass, writtenAt: 5 });
    older.close();
    const repository = new Repository(new EchoPocketDatabase(name), () => 1000);
    expect(await repository.readJournal("b")).toMatchObject({ pass, writtenAt: 5 });
  });
  test("an offered pass outlives edits and reloads, and recording over it puts it into the stack, silent", async () => {
    const repository = newRepository();
    const place = firstPlace(newBeat({ id: "b", name: "B" }));
    const hit = { id: 9, pad: 1, playedTicks: 10 as Ticks, velocity: 90, lengthTicks: 60 as Ticks };
    const pass = {
      id: 3,
      name: "Lost",
      muted: false,
      quantize: { grid: "1/16", strength: 1, reach: 1 },
      hits: [hit],
    } as const;
    await repository.writeJournal({ beatId: "b", place, pass });
    const first = openWorkspace(repository).workspace;
    await new Promise((done) => setTimeout(done, 50));
    first.setTempo(99);
    await first.document.flush();
    expect((await repository.readJournal("b"))!.pass.name).toBe("Lost");

    const second = openWorkspace(repository).workspace;
    await new Promise((done) => setTimeout(done, 50));
    second.transport.toggleRecord();
    strike(second, 0, 2000);
    expect(passesOf(second).map(({ name, muted, hits }) => [name, muted, hits.length])).toEqual([
      ["Lost", true, 1],
      ["Pass 1", false, 1],
    ]);
  });

  test("a page that goes away in peace keeps the open pass", async () => {
    const { workspace, repository } = openWorkspace();
    workspace.transport.toggleRecord();
    strike(workspace, 0, 2000);
    await workspace.document.flush();
    expect((await repository.load("b"))!.parts[0].patterns[0].passes[0].hits).toHaveLength(1);
    expect(await repository.readJournal("b")).toBeUndefined();
  });

  test("a page that is taken away before its store answers leaves its beat to the next page", async () => {
    const { storage, texts } = localStorageInMemory();
    const name = newDatabaseName();
    let nowMs = 1000;
    const page = () => new Repository(new EchoPocketDatabase(name), () => nowMs, storage);
    const beat = newBeat({ id: "b", name: "As saved", bpm: 125 });
    await page().save(beat);
    await page().writeJournal({
      beatId: "b",
      place: firstPlace(beat),
      pass: { ...demoBeat("Lantern Room").parts[0].patterns[0].passes[0] },
    });
    const namesAfter = async (leave: (repository: Repository) => unknown) => {
      nowMs += 10;
      await leave(page());
      return (await page().list()).map((record) => record.beat.name);
    };
    expect(await namesAfter((left) => left.leave({ ...beat, name: "As left" }))).toContain("As left");
    // The beat that was left holds the open pass.
    expect(await page().readJournal("b")).toBeUndefined();
    expect((await page().load("b"))?.name).toBe("As left");
    // What was saved since counts, what was deleted stays away, and noise is passed over.
    page().leave({ ...beat, name: "Stale" });
    expect(await namesAfter((other) => other.save({ ...beat, name: "Saved since" }))).toContain("Saved since");
    page().leave({ ...beat, name: "Deleted" });
    expect(await namesAfter((other) => other.remove("b"))).not.toContain("Deleted");
    storage.setItem("unsaved beat b", "{ no record");
    expect(await page().load("b")).toBeUndefined();
    expect(texts.size).toBe(0);
    // Where it is full, the page goes on.
    const full = {
      ...storage,
      setItem: () => {
        throw new DOMException("full", "QuotaExceededError");
      },
    };
    expect(() => new Repository(new EchoPocketDatabase(name), () => nowMs, full).leave(beat)).not.toThrow();
  });

  test("a full store is said once, work goes on in memory, and a later save brings it to disk", async () => {
    const database = new EchoPocketDatabase(newDatabaseName());
    const repository = new Repository(database, () => 1000);
    await repository.list();
    const reasons: unknown[] = [];
    repository.onMemoryReason(() => reasons.push(repository.memoryReason));
    const full = jest
      .spyOn(database.beats, "put")
      .mockRejectedValue(Object.assign(new Error("full"), { name: "QuotaExceededError" }));
    const beat = newBeat({ id: "mine", name: "Mine" });
    expect(await repository.save(beat)).toBe(false);
    expect(await repository.save({ ...beat, bpm: 90 })).toBe(false);
    expect((await repository.load("mine"))!.bpm).toBe(90);
    full.mockRestore();
    expect(await repository.save({ ...beat, bpm: 91 })).toBe(true);
    expect(reasons).toEqual(["full", undefined]);
    expect((await database.beats.get("mine"))!.beat.bpm).toBe(91);
  });

  test("a second editor of a beat is told; the first one's leaving frees it", async () => {
    const taken = new Set<string>();
    const locks = {
      request: async (name: string, _: unknown, work: (lock: unknown) => Promise<void> | undefined) => {
        if (taken.has(name)) return work(null);
        taken.add(name);
        await work({ name });
        taken.delete(name);
      },
    } as unknown as LockManager;
    const first = await takeEditorLock("b", locks);
    expect([first.held, (await takeEditorLock("b", locks)).held, (await takeEditorLock("c", locks)).held]).toEqual([
      true,
      false,
      true,
    ]);
    first.release();
    await new Promise((done) => setTimeout(done));
    expect((await takeEditorLock("b", locks)).held).toBe(true);
  });

  test("the shelf gives free names, and a file of a beat that is here does not overwrite it", async () => {
    let ids = 0;
    const shelf = new Shelf(newRepository(), () => `id-${++ids}`);
    await shelf.refresh();
    await shelf.create();
    await shelf.create();
    const { writeBeatFile } = await import("@/core/formats/beat-file");
    await shelf.importFiles([
      new File([writeBeatFile(demoBeat("Tide Table"))], "t.json"),
      new File(["{}"], "bad.json"),
    ]);
    const { records, notice } = shelf.store.getState();
    expect(records!.map(({ beat }) => beat.name).sort()).toEqual([
      "Gangway Shuffle",
      "Lantern Room",
      "New beat",
      "New beat 2",
      "Slow Harbour",
      "Tide Table",
      "Tide Table 2",
    ]);
    expect(notice).toMatchObject({ kind: "refused", title: "Imported “Tide Table 2”." });
    expect(notice!.details[0]).toMatch(/^bad\.json: This beat file can't be read: the file: "format" is missing/);
  });
});
