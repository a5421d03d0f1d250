import "fake-indexeddb/auto";
import { readFileSync } from "node:fs";
import Dexie from "dexie";
import { readBeatFile } from "@/core/formats/beat-file";
import { localStorageInMemory, newDatabaseName, repositoryOf } from "../../../tests/support/open-workspace";
import { EchoPocketDatabase } from "./rows/database";

const TEXT = readFileSync("tests/fixtures/version-1/everything.json", "utf8");
const BEAT = readBeatFile(TEXT);
/** As the first version's program had them. */
const beat1 = JSON.parse(TEXT).beat;
const [pattern1] = beat1.parts[0].patterns;
const place = { partId: beat1.parts[0].id, patternId: pattern1.id };
const pass1 = { ...pattern1.passes.at(-1), id: 9000, name: "Lost" };
const keptPass1 = { place, pattern: { id: pattern1.id, name: pattern1.name, bars: pattern1.bars }, pass: pass1 };
const PASS = { ...BEAT.parts[0]!.patterns[0]!.passes.at(-1)!, id: 9000, name: "Lost" };

const STORES_1 = { beats: "id, changedAt", journal: "beatId", kits: "key", settings: "key", marks: "key" };

/** The browser's store as a program left it whose beats were of the first version. */
async function olderStore(version: 1 | 6, fill: (store: Dexie) => Promise<unknown>): Promise<string> {
  const name = newDatabaseName();
  const older = new Dexie(name);
  older.version(1).stores(STORES_1);
  if (version === 6) {
    older.version(2).stores({ profiles: "device" });
    older.version(3).stores({ grooves: "name" });
    older.version(4).stores({ lookback: "++id", echoMarks: "[id+kind]" });
    older.version(5).stores({});
    older.version(6).stores({ beats: "id, changedAt, beat.name", editors: "beatId", damaged: "++id" });
  }
  await fill(older);
  older.close();
  return name;
}

test("beats and what is kept beside them are there after the upgrade, and what could not be read then is no harm", async () => {
  const name = await olderStore(6, async (store) => {
    await store.table("beats").bulkPut([
      { id: beat1.id, changedAt: 1, beat: beat1 },
      { id: "broken", changedAt: 2, beat: { ...beat1, id: "broken", parts: 7 } },
    ]);
    await store.table("journal").put({ beatId: beat1.id, passes: JSON.stringify([keptPass1]), writtenAt: 5 });
    await store.table("marks").put({ key: "demo beats" });
  });
  const repository = repositoryOf({ database: new EchoPocketDatabase(name) });
  const loaded = await repository.load(beat1.id);
  expect(loaded).toMatchObject({ status: "found", passes: [{ place, pass: PASS }] });
  expect(loaded.status === "found" && { ...loaded.beat, nextId: BEAT.nextId }).toEqual(BEAT);
  expect((await repository.load("broken")).status).toBe("damaged");
});

test("a pass that the very first store kept by itself is offered, too", async () => {
  const name = await olderStore(1, async (store) => {
    await store.table("beats").put({ id: beat1.id, changedAt: 1, beat: beat1 });
    await store.table("journal").put({ beatId: beat1.id, place, pass: pass1, writtenAt: 5 });
  });
  const loaded = await repositoryOf({ database: new EchoPocketDatabase(name) }).load(beat1.id);
  expect(loaded).toMatchObject({ status: "found", passes: [{ place, pass: PASS }] });
});

test("what a page of the first version left when it was closed is taken over", async () => {
  const { storage } = localStorageInMemory();
  const left = { changedAt: 2000, beat: { ...beat1, name: "As left" }, passes: [keptPass1], added: true };
  storage.setItem(`unsaved beat ${beat1.id}`, JSON.stringify(left));
  const repository = repositoryOf({ database: new EchoPocketDatabase(newDatabaseName()), storage });
  const loaded = await repository.load(beat1.id);
  expect(loaded).toMatchObject({ status: "found", beat: { name: "As left" }, passes: [{ pass: PASS }] });
});
