import { expose, transfer } from "comlink";
import { beatToWav } from "@/core/playback/beat-to-wav";
import { renderDrum } from "@/core/sound/kit";
import { KitShelf } from "./kit-shelf";
import type { RenderApi } from "./render-api";

const kits = new KitShelf();

const api: RenderApi = {
  renderDrum(drum, sampleRate) {
    const samples = renderDrum(drum, sampleRate);
    return transfer(
      samples,
      samples.layers.flat().map(({ buffer }) => buffer as ArrayBuffer),
    );
  },
  setKit: (kit) => kits.put(kit),
  renderWav(beat, places, options) {
    const bytes = beatToWav(beat, places, options, kits.get(options.sampleRate));
    return transfer(bytes, [bytes.buffer as ArrayBuffer]);
  },
};

expose(api);
