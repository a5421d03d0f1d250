import { transfer } from "comlink";
import { beatToStems } from "@/core/playback/beat-to-stems";
import { beatToWav } from "@/core/playback/beat-to-wav";
import { soundsStruck } from "@/core/playback/part-sounds";
import type { RenderApi } from "./render-api";
import type { SoundShelf } from "./sound-shelf";

/** Answers of a render worker: samples and files change hands, and are not copied. */
export function renderService(shelf: SoundShelf): RenderApi {
  return {
    renderSound(id, sampleRate) {
      const sound = shelf.make(id, sampleRate);
      return transfer(
        sound,
        [...sound.layers, ...(sound.right ?? [])].flat().map(({ buffer }) => buffer as ArrayBuffer),
      );
    },
    putSounds: (bank) => shelf.put(bank),
    putSamples: (samples) => shelf.putSamples(samples),
    renderWav(beat, places, options) {
      const bank = shelf.get(soundsStruck(beat, places), options.sampleRate);
      return handedOver(beatToWav(beat, places, options, bank));
    },
    renderStems(beat, places, size, options) {
      const bank = shelf.get(soundsStruck(beat, places), options.sampleRate);
      return handedOver(beatToStems(beat, places, size, options, bank));
    },
  };
}

function handedOver(bytes: Uint8Array): Uint8Array {
  return transfer(bytes, [bytes.buffer as ArrayBuffer]);
}
