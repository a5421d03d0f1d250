import type { Beat, PatternRef } from "@/core/beat/beat";
import type { StemSize } from "@/core/playback/beat-to-stems";
import type { WavOptions } from "@/core/playback/beat-to-wav";
import type { OwnSamples } from "@/core/sound/kits/own-sample";
import type { Sound, SoundBank, SoundId } from "@/core/sound/signal/sound";

/** What the render worker does, seen from the page. */
export interface RenderApi {
  renderSound(id: SoundId, sampleRate: number): Sound;
  /** Has these sounds, so that they are not made again. */
  putSounds(bank: SoundBank): void;
  /** Has these samples of the player's own. */
  putSamples(samples: OwnSamples): void;
  renderWav(beat: Beat, places: readonly PatternRef[], options: WavOptions): Uint8Array;
  /** A ZIP file. */
  renderStems(beat: Beat, places: readonly PatternRef[], size: StemSize, options: WavOptions): Uint8Array;
}
