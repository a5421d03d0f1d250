import { expose, transfer } from "comlink";
import type { Beat, PatternPlace } from "@/core/beat/beat";
import type { DrumId } from "@/core/drums";
import { beatToWav, type WavOptions } from "@/core/playback/beat-to-wav";
import { renderDrum, renderKit, type Kit } from "@/core/sound/kit";
import type { RenderApi } from "./render-api";

const kits = new Map<number, Kit>();

/** Renders once a rate; a second export does not wait for the kit again. */
function kitFor(sampleRate: number): Kit {
  const kit = kits.get(sampleRate) ?? renderKit(sampleRate);
  kits.set(sampleRate, kit);
  return kit;
}

const api: RenderApi = {
  renderDrum(drum: DrumId, sampleRate: number) {
    const samples = renderDrum(drum, sampleRate);
    return transfer(
      samples,
      samples.layers.flat().map(({ buffer }) => buffer as ArrayBuffer),
    );
  },
  renderWav(beat: Beat, place: PatternPlace, options: WavOptions) {
    const bytes = beatToWav(beat, place, options, kitFor(options.sampleRate));
    return transfer(bytes, [bytes.buffer as ArrayBuffer]);
  },
};

expose(api);
