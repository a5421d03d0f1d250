import { KIT_REVISION, type Kit } from "@/core/sound/kit";
import { startAudioEngine } from "@/engine/audio-engine";
import { startRenderWorker } from "@/workers/render-client";
import { takeEditorLock } from "./editor-lock";
import type { Repository } from "./repository";
import { Workspace } from "./workspace";

export interface OpenedWorkspace {
  readonly workspace: Workspace;
  close(): Promise<void>;
}

/** Opens a beat for editing, or only for playing when another tab has it. @returns undefined when there is no such beat */
export async function openWorkspace(beatId: string, repository: Repository): Promise<OpenedWorkspace | undefined> {
  const lock = await takeEditorLock(beatId);
  const [beat, settings] = await Promise.all([repository.load(beatId), repository.readSettings()]);
  if (!beat) {
    lock.release();
    return undefined;
  }
  const workspace = new Workspace({ beat, settings, repository, readOnly: !lock.held });
  void connectSound(workspace, repository);
  return {
    workspace,
    async close() {
      await workspace.close();
      lock.release();
    },
  };
}

async function connectSound(workspace: Workspace, repository: Repository): Promise<void> {
  try {
    const engine = await startAudioEngine();
    if (workspace.closed) return void engine.close();
    workspace.attachEngine(engine, await loadKit(engine.sampleRate, repository));
  } catch (error) {
    console.error("No sound:", error);
    workspace.soundFailed();
  }
}

/** Rendered once in this browser and kept; a changed voice has a new key. */
async function loadKit(sampleRate: number, repository: Repository): Promise<Kit> {
  const key = `deckhouse ${KIT_REVISION} ${sampleRate}`;
  const stored = await repository.readKit(key);
  if (stored) return stored;
  const worker = startRenderWorker();
  try {
    const kit = await worker.api.renderKit(sampleRate);
    await repository.writeKit(key, kit);
    return kit;
  } finally {
    worker.close();
  }
}
