import { KIT_REVISION } from "@/core/sound/kit";
import { startAudioEngine } from "@/engine/audio-engine";
import { renderKitTogether } from "@/workers/render-client";
import type { Repository } from "./persistence/repository";
import type { Workspace } from "./workspace";

/** A kit is rendered once in a browser and kept, but not while the player is trying the first sounds. */
const KEEP_KIT_AFTER_MS = 5000;

/** Starts the audio thread for an open beat and gives it the kit; where that fails the workspace says so. */
export async function connectSound(workspace: Workspace, repository: Repository): Promise<void> {
  workspace.soundStarts();
  let engine: Awaited<ReturnType<typeof startAudioEngine>> | undefined;
  try {
    engine = await startAudioEngine();
    if (workspace.closed) return void engine.close();
    const key = `deckhouse ${KIT_REVISION} ${engine.sampleRate}`;
    const stored = await repository.readKit(key);
    if (workspace.closed) return void engine.close();
    workspace.attachEngine(engine, stored);
    if (stored) return;
    const kit = await renderKitTogether(engine.sampleRate, (drum, samples) => workspace.drumMade(drum, samples));
    workspace.kitMade(kit);
    setTimeout(() => void repository.writeKit(key, kit), KEEP_KIT_AFTER_MS);
  } catch (error) {
    console.error("No sound:", error);
    await engine?.close().catch(() => undefined);
    workspace.soundFailed();
  }
}
