import { expose, transfer } from "comlink";
import { beatToStems } from "@/core/playback/beat-to-stems";
import { beatToWav } from "@/core/playback/beat-to-wav";
import { soundsStruck } from "@/core/playback/part-sounds";
import type { RenderApi } from "./render-api";
import { SoundShelf } from "./sound-shelf";

const shelf = new SoundShelf();

const api: RenderApi = {
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
    const bytes = beatToWav(beat, places, options, bank);
    return transfer(bytes, [bytes.buffer as ArrayBuffer]);
  },
  renderStems(beat, places, size, options) {
    const bank = shelf.get(soundsStruck(beat, places), options.sampleRate);
    const bytes = beatToStems(beat, places, size, options, bank);
    return transfer(bytes, [bytes.buffer as ArrayBuffer]);
  },
};

expose(api);
