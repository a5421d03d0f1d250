import type { Beat } from "@/core/beat/beat";
import { firstPlaces } from "@/core/beat/new-beat";
import { demoSamples } from "@/core/demo/demo-sounds";
import { readSamples } from "@/core/formats/beat-archive";
import { soundsStruck } from "@/core/playback/part-sounds";
import { renderSounds } from "@/core/sound/render-sounds";
import type { SoundBank } from "@/core/sound/sound";

/** What a demo beat strikes, its samples included. */
export function demoBank(beat: Beat, sampleRate: number): SoundBank {
  return renderSounds(soundsStruck(beat, firstPlaces(beat)), sampleRate, {}, readSamples(demoSamples()));
}
