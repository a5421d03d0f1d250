import { createHash } from "node:crypto";
import fc from "fast-check";
import type { Beat } from "@/core/beat/beat";
import { undo } from "@/core/beat/history";
import { newBeat } from "@/core/beat/new-beat";
import {
  localStorageInMemory,
  newDatabaseName,
  newRepository,
  openWorkspace,
  repositoryOf,
  strike,
} from "../../../tests/support/open-workspace";
import { MemoryStore } from "../../../tests/support/memory-store";
import type { StepRecord } from "../persistence/rows/rows";
import { EchoPocketDatabase } from "../persistence/rows/database";
import type { Repository } from "../persistence/repository";
import { KEPT_STEPS } from "../persistence/rows/step-log";
import { Shelf } from "../shelf/shelf";
import type { Workspace } from "../workspace/workspace";
import { KeptStates } from "./kept-states";

/** What a page that opens the beat next has of it. */
async function nextPage(repository: Repository, id = "b"): Promise<Workspace> {
  const loaded = await repository.load(id);
  if (loaded.status !== "found") throw new Error(loaded.status);
  return openWorkspace(repository, loaded).workspace;
}

/** A digest of a beat. Which ids are free says nothing of what is in it, nor does the order of its fields. */
function contentOf({ nextId: _, ...beat }: Beat): string {
  const inOrder = (_key: string, value: unknown) =>
    typeof value === "object" && value !== null && !Array.isArray(value)
      ? Object.fromEntries(Object.entries(value).sort(([a], [b]) => (a < b ? -1 : 1)))
      : value;
  return createHash("sha1").update(JSON.stringify(beat, inOrder)).digest("hex");
}

function everyState(workspace: Workspace): readonly string[] {
  let { history } = workspace.state;
  const states = [contentOf(history.present)];
  for (; history.past.length > 0; states.unshift(contentOf(history.present))) history = undo(history);
  return states;
}

const labelsOf = ({ state: { history } }: Workspace) => ({
  past: history.past.map(({ label }) => label),
  future: history.future.map(({ label }) => label),
});

const EDITS: readonly ((workspace: Workspace, n: number) => void)[] = [
  (workspace, n) => workspace.setTempo(60 + n),
  (workspace, n) => workspace.setBars(1 + (n % 4)),
  (workspace) => workspace.patterns.duplicate(),
  (workspace) => workspace.patterns.swap(),
  (workspace) => workspace.patterns.keepThis(),
  (workspace, n) => workspace.patterns.toggleSilent(n % 4),
  (workspace) => workspace.patterns.remove(),
  (workspace) => workspace.parts.addKit(),
  (workspace, n) => workspace.parts.move(workspace.beat.parts[0]!.id, n % 2 === 0 ? 1 : -1),
  (workspace) => workspace.parts.remove(workspace.beat.parts.at(-1)!.id),
  (workspace, n) => workspace.step.state.step.on || (workspace.step.toggle(), strike(workspace, n % 4, 1e6)),
  (workspace, n) => workspace.step.state.step.on && strike(workspace, n % 4, 1e6 + 1000 * n),
  (workspace) => (workspace.lanes.selectAll(), workspace.hits.moveByTicks(7)),
  (workspace) => (workspace.lanes.selectAll(), workspace.hits.remove()),
  (workspace, n) => workspace.setPad(n % 4, { muted: n % 2 === 0 }),
  (workspace) => workspace.document.undo(),
  (workspace) => workspace.document.undo(),
  (workspace) => workspace.document.redo(),
];

test("after a reload every step is undone and done again to what it was before, whatever was done, over several reloads", () =>
  fc.assert(
    fc.asyncProperty(
      fc.array(fc.tuple(fc.integer({ min: 0, max: EDITS.length - 1 }), fc.nat(40)), { minLength: 3, maxLength: 25 }),
      fc.array(fc.nat(24), { maxLength: 4 }),
      async (edits, reloads) => {
        const repository = newRepository();
        let { workspace } = openWorkspace(repository);
        await repository.beats.add(workspace.beat);
        for (const [index, [edit, n]] of edits.entries()) {
          EDITS[edit]!(workspace, n);
          if (index % 5 === 4) await workspace.document.flush();
          if (!reloads.includes(index)) continue;
          await workspace.document.flush();
          workspace.document.stop();
          workspace = await nextPage(repository);
        }
        workspace.document.edit({ ...workspace.beat, name: "Last" }, "Rename");
        await workspace.document.flush();
        const again = await nextPage(repository);
        expect(labelsOf(again)).toEqual(labelsOf(workspace));
        const states = everyState(workspace);
        expect(everyState(again)).toEqual(states);
        for (let step = states.length - 2; step >= 0; step--) {
          again.document.undo();
          expect(contentOf(again.beat)).toBe(states[step]);
        }
        for (const state of states.slice(1)) {
          again.document.redo();
          expect(contentOf(again.beat)).toBe(state);
        }
        workspace.document.stop();
        again.document.stop();
      },
    ),
    { numRuns: 25 },
  ));

test("what can be done again is there after a reload, and goes with the next edit", async () => {
  const { workspace, repository } = openWorkspace();
  for (const bpm of [61, 62, 63]) workspace.setTempo(bpm);
  workspace.document.undo();
  workspace.document.undo();
  await workspace.document.flush();
  const again = await nextPage(repository);
  expect([again.beat.bpm, labelsOf(again)]).toEqual([61, { past: ["Tempo 61"], future: ["Tempo 62", "Tempo 63"] }]);
  again.document.redo();
  expect(again.beat.bpm).toBe(62);
  again.setBars(3);
  await again.document.flush();
  const third = await nextPage(repository);
  expect(labelsOf(third)).toEqual({ past: ["Tempo 61", "Tempo 62", "Loop of 3 bars"], future: [] });
  third.document.goToStep(0);
  expect([third.beat.bpm, third.state.history.future.length]).toEqual([125, 3]);
});

test("the last two hundred are there, and of steps that are very large as many as there is room for", async () => {
  const store = new MemoryStore();
  const { workspace, repository } = openWorkspace(repositoryOf({ store }));
  for (let step = 0; step < KEPT_STEPS + 30; step++) workspace.setTempo(40 + step);
  await workspace.document.flush();
  const again = await nextPage(repository);
  expect(again.state.history.past).toHaveLength(KEPT_STEPS);
  again.document.goToStep(0);
  expect(again.beat.bpm).toBe(40 + 29);
  // Each of these is some two megabytes.
  const name = "x".repeat(1_000_000);
  for (let step = 0; step < 9; step++) again.document.edit({ ...again.beat, name: name + step }, "Long name");
  await again.document.flush();
  const steps = (await store.read(["steps"], (rows) => rows.steps.list())) as StepRecord[];
  const chars = steps.map(({ back, forth }) => back.length + forth.length);
  expect(chars.length).toBe(3);
  expect(chars.reduce((sum, one) => sum + one)).toBeLessThan(8_000_000);
});

test("a crash while recording: the pass is offered, and undo goes on from before it, with the edits made meanwhile", async () => {
  const { workspace, repository } = openWorkspace();
  workspace.setPad(0, { muted: true });
  workspace.setTempo(100);
  workspace.document.undo();
  // The lap has the number that an undone step had, between two that stay.
  await workspace.document.flush();
  workspace.transport.toggleRecord();
  strike(workspace, 0, performance.now() + 3000);
  workspace.setBars(4);
  const { passId } = Object.values(workspace.state.recordings)[0]!;
  expect(passId).toBeDefined();
  // As autosave does while a pass is open.
  await workspace.document["autosave"].flush();
  const crashed = await repository.load("b");
  expect(crashed).toMatchObject({ status: "found", passes: [{ pass: { id: passId } }] });
  const again = await nextPage(repository);
  expect(labelsOf(again)).toEqual({ past: ["Mute Kick", "Loop of 4 bars"], future: [] });
  again.document.undo();
  again.document.undo();
  expect(contentOf(again.beat)).toBe(contentOf(newBeat({ id: "b", name: "B", bpm: 125 })));
  again.document.redo();
  again.document.redo();
  again.document.restoreRecoverable();
  expect(again.beat.parts[0]!.patterns[0]).toMatchObject({ bars: 4, passes: [{ hits: [{}] }] });
  workspace.document.stop();
});

test("a page that is taken away leaves its last steps, too; where they don't fit, at least the beat", async () => {
  const { storage, texts } = localStorageInMemory();
  const name = newDatabaseName();
  let nowMs = 1000;
  const page = () => repositoryOf({ database: new EchoPocketDatabase(name), now: () => ++nowMs, storage });
  const first = openWorkspace(page()).workspace;
  first.setTempo(90);
  await first.document.flush();
  first.setTempo(91);
  first.document["autosave"].leave();
  first.document.stop();
  expect(texts.size).toBe(1);
  const second = await nextPage(page());
  expect([second.beat.bpm, labelsOf(second).past]).toEqual([91, ["Tempo 90", "Tempo 91"]]);
  second.document.goToStep(0);
  expect(second.beat.bpm).toBe(125);
  // It would save that in a while.
  second.document.stop();

  const small = {
    ...storage,
    setItem: (key: string, text: string) => {
      if (text.includes('"steps"')) throw new Error("full");
      texts.set(key, text);
    },
  } as Storage;
  const third = openWorkspace(
    repositoryOf({ database: new EchoPocketDatabase(name), now: () => ++nowMs, storage: small }),
  ).workspace;
  third.setTempo(77);
  third.document["autosave"].leave();
  third.document.stop();
  const fourth = await nextPage(page());
  expect([fourth.beat.bpm, fourth.state.history.past]).toEqual([77, []]);
});

test("a store that has no room for steps keeps the beat, and steps again from when it has", async () => {
  const database = new EchoPocketDatabase(newDatabaseName());
  let full = true;
  database.use({
    stack: "dbcore",
    name: "no room for steps",
    create: (core) => ({
      ...core,
      table: (name) => {
        const table = core.table(name);
        const hasRoom = (type: string) => !full || name !== "steps" || type.startsWith("delete");
        return {
          ...table,
          mutate: (request) =>
            hasRoom(request.type)
              ? table.mutate(request)
              : Promise.reject(new DOMException("full", "QuotaExceededError")),
        };
      },
    }),
  });
  const repository = repositoryOf({ database });
  const { workspace } = openWorkspace(repository);
  workspace.setTempo(90);
  await workspace.document.flush();
  expect([repository.memoryReason, workspace.state.saveState]).toEqual([undefined, "saved"]);
  const between = await nextPage(repository);
  expect([between.beat.bpm, labelsOf(between).past]).toEqual([90, []]);
  full = false;
  workspace.setTempo(91);
  await workspace.document.flush();
  const again = await nextPage(repository);
  // All of this page, not only what came since: from each step there is a way to the one before.
  expect([again.beat.bpm, labelsOf(again).past]).toEqual([91, ["Tempo 90", "Tempo 91"]]);
  again.document.goToStep(0);
  expect(again.beat.bpm).toBe(125);
  again.document.redo();
  expect(again.beat.bpm).toBe(90);
  [workspace, between, again].forEach(({ document }) => document.stop());
});

test("steps that were spoilt are no way back; the beat stays as it is, and what is done from here on can be undone", async () => {
  for (const back of [
    "{",
    "{}",
    '{"items":[]}',
    '{"set":null}',
    '{"fields":{"bpm":{"set":-1}}}',
    '{"fields":{"id":{"set":"c"}}}',
  ]) {
    const store = new MemoryStore();
    const { workspace, repository } = openWorkspace(repositoryOf({ store }));
    workspace.setTempo(90);
    await workspace.document.flush();
    await store.change(["steps"], async ({ steps }) => {
      const [step] = (await steps.list()) as StepRecord[];
      await steps.put({ ...step!, back });
    });
    const again = await nextPage(repository);
    const before = again.beat;
    again.setBars(3);
    again.document.undo();
    expect(again.beat).toEqual(before);
    again.document.undo();
    expect([again.beat, again.state.notice]).toEqual([before, expect.stringContaining("can’t be read any more")]);
    expect(again.state.history.past).toEqual([]);
    await again.document.flush();
    again.document.stop();
  }
});

test("on the shelf: a copy has no history, a new name keeps it, and what was deleted comes back with it and its states", async () => {
  const { workspace, repository } = openWorkspace();
  await repository.beats.add(workspace.beat);
  workspace.setTempo(90);
  const states = new KeptStates(workspace.store, repository, workspace.document);
  await states.keep("Fast");
  await workspace.close();
  const shelf = new Shelf(repository, () => "copy");
  await shelf.duplicate("b");
  expect(labelsOf(await nextPage(repository, "copy")).past).toEqual([]);
  await shelf.rename("b", "Renamed");
  const again = await nextPage(repository);
  again.document.undo();
  expect([again.beat.name, again.beat.bpm]).toEqual(["Renamed", 125]);
  again.document.stop();
  await shelf.remove({ id: "b", beat: again.beat });
  expect(await repository.states.list("b")).toEqual([]);
  shelf.store.getState().notice!.undo!();
  while (shelf.store.getState().notice) await new Promise((done) => setTimeout(done, 1));
  expect(labelsOf(await nextPage(repository)).past).toEqual(["Tempo 90"]);
  expect((await repository.states.list("b")).map(({ name }) => name)).toEqual(["Fast"]);
});

test("a state is kept, gone back to with one step of undo, deleted and brought back; a copy goes to the shelf", async () => {
  const { workspace, repository } = openWorkspace();
  const states = new KeptStates(workspace.store, repository, workspace.document);
  workspace.setTempo(140);
  await states.keep("  Fast ");
  await states.keep("");
  expect(workspace.state.keptStates.map(({ name }) => name)).toEqual(["State 2", "Fast"]);
  const fast = contentOf(workspace.beat);
  workspace.parts.addKit();
  workspace.setTempo(70);
  const slow = contentOf(workspace.beat);
  const { nextId } = workspace.beat;
  await states.goBack(workspace.state.keptStates.at(-1)!);
  expect([contentOf(workspace.beat), workspace.beat.nextId]).toEqual([fast, nextId]);
  workspace.document.undo();
  expect(contentOf(workspace.beat)).toBe(slow);
  await states.remove(workspace.state.keptStates[0]!);
  expect([workspace.state.keptStates.length, workspace.state.removedState]).toEqual([1, "State 2"]);
  await states.bringBack();
  expect([workspace.state.keptStates.length, workspace.state.removedState]).toEqual([2, undefined]);
  await states.saveAs("Copy");
  const copy = (await repository.list()).records.find(({ beat }) => beat.name === "Copy")!;
  expect([copy.beat.bpm, copy.id === "b", workspace.state.notice]).toEqual([
    70,
    false,
    "“Copy” is on the shelf; this one stays open.",
  ]);
  workspace.store.setState({ readOnly: true });
  await states.keep("No");
  await states.remove(workspace.state.keptStates[0]!);
  expect(workspace.state.keptStates).toHaveLength(2);
});
