import "fake-indexeddb/auto";
import { newBeat } from "@/core/beat/new-beat";
import { findReadings } from "@/core/recover/readings";
import type { FindReadings } from "@/store/echo-desk";
import { EchoPocketDatabase } from "@/store/database";
import { Repository } from "@/store/repository";
import { DEFAULT_SETTINGS } from "@/store/settings";
import { Workspace } from "@/store/workspace";
import { impulse } from "./player-probe";
import { TestEngine } from "./test-engine";

let databases = 0;

export function newDatabaseName(): string {
  return `test ${++databases}`;
}

export function newRepository(): Repository {
  return new Repository(new EchoPocketDatabase(newDatabaseName()), () => 1000);
}

/** A workspace over the real player and a store of its own. 125 BPM: a tick is half a millisecond, a bar 1920 ms. */
export function openWorkspace(
  repository = newRepository(),
  readOnly = false,
  readings: FindReadings = async (...asked) => findReadings(...asked),
) {
  const workspace = new Workspace({
    beat: newBeat({ id: "b", name: "B", bpm: 125 }),
    readOnly,
    settings: DEFAULT_SETTINGS,
    repository,
    findReadings: readings,
  });
  const engine = new TestEngine();
  workspace.attachEngine(engine, impulse);
  return { workspace, engine, repository };
}

export function strike(workspace: Workspace, pad: number, timeMs: number): void {
  workspace.strike({ pad, velocity: 100, timeMs, device: "keys" });
}

/** What stands in for the browser's local storage, and the texts in it. */
export function localStorageInMemory() {
  const texts = new Map<string, string>();
  const storage = {
    setItem: (key: string, text: string) => void texts.set(key, text),
    getItem: (key: string) => texts.get(key) ?? null,
    removeItem: (key: string) => void texts.delete(key),
    get length() {
      return texts.size;
    },
    key: (index: number) => [...texts.keys()][index] ?? null,
  } as Storage;
  return { storage, texts };
}
