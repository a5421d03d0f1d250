import type { Beat, PatternPlace } from "@/core/beat/beat";
import type { WavOptions } from "@/core/playback/beat-to-wav";
import type { Kit } from "@/core/sound/kit";

/** What the render worker does, seen from the page. */
export interface RenderApi {
  renderKit(sampleRate: number): Kit;
  renderWav(beat: Beat, place: PatternPlace, options: WavOptions): Uint8Array;
}
