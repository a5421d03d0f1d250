import type { Beat, PatternPlace } from "@/core/beat/beat";
import type { WavOptions } from "@/core/playback/beat-to-wav";
import type { DrumId } from "@/core/drums";
import type { DrumSamples, Kit } from "@/core/sound/kit";

/** What the render worker does, seen from the page. */
export interface RenderApi {
  renderDrum(drum: DrumId, sampleRate: number): DrumSamples;
  /** Has the kit of a rate, so that it is not made again. */
  setKit(kit: Kit): void;
  renderWav(beat: Beat, places: readonly PatternPlace[], options: WavOptions): Uint8Array;
}
