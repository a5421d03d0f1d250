import { KIT_REVISION } from "@/core/sound/kit";
import { startAudioEngine } from "@/engine/audio-engine";
import { RecoverClient } from "@/workers/recover-client";
import { renderKitTogether } from "@/workers/render-client";
import { takeEditorLock } from "./editor-lock";
import type { Repository } from "./repository";
import { Workspace } from "./workspace";

/** A kit is rendered once in a browser and kept, but not while the player is trying the first sounds. */
const KEEP_KIT_AFTER_MS = 5000;

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
  const recovery = new RecoverClient();
  const workspace = new Workspace({
    beat,
    settings,
    repository,
    findReadings: recovery.findReadings,
    readOnly: !lock.held,
  });
  void connectSound(workspace, repository);
  void workspace.devices.open();
  void workspace.timing.open();
  void workspace.echoes.open();
  return {
    workspace,
    async close() {
      await workspace.close();
      recovery.close();
      lock.release();
    },
  };
}

async function connectSound(workspace: Workspace, repository: Repository): Promise<void> {
  try {
    const engine = await startAudioEngine();
    if (workspace.closed) return void engine.close();
    const key = `deckhouse ${KIT_REVISION} ${engine.sampleRate}`;
    const stored = await repository.readKit(key);
    const kit = stored ?? (await renderKitTogether(engine.sampleRate));
    // The player may have left while the kit was being made.
    if (workspace.closed) return void engine.close();
    workspace.attachEngine(engine, kit);
    if (!stored) setTimeout(() => void repository.writeKit(key, kit), KEEP_KIT_AFTER_MS);
  } catch (error) {
    console.error("No sound:", error);
    workspace.soundFailed();
  }
}
