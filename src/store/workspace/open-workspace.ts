import type { PatternRef } from "@/core/beat/beat";
import type { StemSize } from "@/core/playback/beat-to-stems";
import type { WavOptions } from "@/core/playback/beat-to-wav";
import { connectSound } from "./connect-sound";
import type { DamagedBeat } from "../persistence/rows/kept-beat";
import type { Repository } from "../persistence/repository";
import { Workspace } from "./workspace";

export interface OpenedWorkspace {
  readonly status: "open";
  readonly workspace: Workspace;
  /** Where it is kept. */
  readonly repository: Repository;
  /** Asks the tab that edits the beat for it, and takes it where there is no answer. */
  takeOver(): Promise<void>;
  /** A pattern of the beat as a WAV file. @throws WorkerStoppedError, CoreError */
  renderWav(places: readonly PatternRef[], options: WavOptions): Promise<Uint8Array>;
  /** The same taken apart, as a ZIP file. @throws WorkerStoppedError, CoreError */
  renderStems(places: readonly PatternRef[], size: StemSize, options: WavOptions): Promise<Uint8Array>;
  /** Tries again to have sound. */
  restartSound(): void;
  close(): Promise<void>;
}

export type Opened =
  | OpenedWorkspace
  | ({ readonly status: "damaged" } & DamagedBeat)
  | { readonly status: "missing" | "unanswered" | "unchecked" };

/** Opens a beat for editing, or only for playing while another tab has it. */
export async function openWorkspace(beatId: string, repository: Repository): Promise<Opened> {
  // This page may just be leaving the same beat.
  await repository.settled();
  const seat = await repository.editors.open(beatId);
  const editorState = seat.state;
  const loaded = await repository.load(beatId);
  if (loaded.status !== "found") {
    seat.close();
    return loaded;
  }
  const settings = await repository.readSettings();
  // Nobody waits for them to see the page.
  const recovery = once(async () => new (await import("@/workers/recover-client")).RecoverClient());
  const rendering = once(
    async () => new (await import("@/workers/render-client")).RenderClient((ids) => repository.samples.read(ids)),
  );
  const workspace = new Workspace({
    beat: loaded.beat,
    history: loaded.history,
    recoverable: editorState === "editing" ? loaded.passes : [],
    editorState,
    editor: seat.token,
    settings,
    repository,
    findReadings: async (...asked) => (await recovery.get()).findReadings(...asked),
    render: async (...asked) => (await import("@/workers/render-client")).renderTogether(...asked),
    derive: async (...asked) => (await rendering.get()).makeSound(...asked),
  });
  seat.attach(workspace.document);
  // The beat was let go of while it was read.
  if (seat.state !== editorState) void workspace.document.begin();
  void connectSound(workspace);
  void workspace.devices.open();
  void workspace.timing.open();
  void workspace.echoes.open();
  return {
    status: "open",
    workspace,
    repository,
    async takeOver() {
      await seat.takeOver();
    },
    renderWav: async (places, options) =>
      (await rendering.get()).renderWav(workspace.beat, places, options, workspace.sounds.bank),
    renderStems: async (places, size, options) =>
      (await rendering.get()).renderStems(workspace.beat, places, size, options, workspace.sounds.bank),
    restartSound: () => void connectSound(workspace),
    async close() {
      await workspace.close();
      await Promise.all([recovery.close(), rendering.close()]);
      seat.close();
    },
  };
}

/** What is made when it is asked for first. */
function once<T extends { close(): void }>(make: () => Promise<T>) {
  let made: Promise<T> | undefined;
  return {
    get: () =>
      (made ??= make().catch((error: unknown) => {
        // What did not come may come the next time.
        made = undefined;
        throw error;
      })),
    close: async () => (await made?.catch(() => undefined))?.close(),
  };
}
