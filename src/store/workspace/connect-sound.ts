import { startAudioEngine } from "@/engine/audio-engine";
import type { Workspace } from "./workspace";

/** Starts the audio thread for an open beat and gives it its sounds; where that fails the workspace says so. */
export async function connectSound(workspace: Workspace): Promise<void> {
  workspace.soundStarts();
  let engine: Awaited<ReturnType<typeof startAudioEngine>> | undefined;
  try {
    engine = await startAudioEngine();
    if (workspace.closed) return void engine.close();
    workspace.attachEngine(engine);
    await workspace.sounds.attach(engine.sampleRate);
  } catch (error) {
    console.error("No sound:", error);
    await engine?.close().catch(() => undefined);
    workspace.soundFailed();
  }
}
