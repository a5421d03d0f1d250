import { renderSound } from "@/core/sound/kits/render-sounds";
import "fake-indexeddb/auto";
import { newBeat } from "@/core/beat/new-beat";
import { findReadings } from "@/core/recover/readings/readings";
import type { EchoPocketDatabase } from "@/store/persistence/rows/database";
import { DexieStore } from "@/store/persistence/rows/dexie-store";
import { Repository, type RepositoryDeps } from "@/store/persistence/repository";
import { DEFAULT_SETTINGS } from "@/store/settings";
import type { KeptBeat } from "@/store/persistence/rows/kept-beat";
import { Workspace, type WorkspaceDeps } from "@/store/workspace/workspace";
import { MemoryStore } from "./memory-store";
import { TestEngine } from "./test-engine";

type Options = Pick<
  WorkspaceDeps,
  "beat" | "history" | "editor" | "editorState" | "findReadings" | "render" | "derive"
>;

type Opened = Options & Pick<KeptBeat, "passes">;

const repositories: Repository[] = [];
// Also after a test that failed: its timers and channels would keep the process.
afterAll(() => repositories.forEach((repository) => repository.close()));

let databases = 0;

export function newDatabaseName(): string {
  return `test ${++databases}`;
}

type Deps = Partial<RepositoryDeps> & { readonly database?: EchoPocketDatabase };

/** A page's repository, without other tabs. @param database of a browser; else there is a store in memory */
export function repositoryOf({ database, ...deps }: Deps): Repository {
  const store = database ? new DexieStore(database) : new MemoryStore();
  const none = { storage: undefined, locks: undefined, openChannel: () => undefined, limits: { retryMs: 5000 } };
  const repository = new Repository({ now: () => 1000, store, ...none, ...deps });
  repositories.push(repository);
  return repository;
}

export function newRepository(): Repository {
  return repositoryOf({});
}

/** A workspace over the real player and a store of its own. 125 BPM: a tick is half a millisecond, a bar 1920 ms. */
export function openWorkspace(
  repository = newRepository(),
  { beat = newBeat({ id: "b", name: "B", bpm: 125 }), passes: lost = [], ...more }: Partial<Opened> = {},
) {
  const workspace = new Workspace({
    beat,
    recoverable: lost,
    editorState: "editing",
    settings: DEFAULT_SETTINGS,
    repository,
    findReadings: async (...asked) => findReadings(...asked),
    render: async () => undefined,
    derive: async (id, { sampleRate, sounds }) => renderSound(id, sampleRate, {}, sounds),
    ...more,
  });
  const engine = new TestEngine();
  workspace.attachEngine(engine);
  return { workspace, engine, repository };
}

export function strike(workspace: Workspace, lane: number, timeMs: number): void {
  workspace.strike({ lane, velocity: 100, timeMs, device: "keys" });
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
