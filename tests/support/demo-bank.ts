import type { Beat } from "@/core/beat/beat";
import { firstPlaces } from "@/core/beat/new-beat";
import { demoSamples } from "@/core/demo/demo-sounds";
import { readSamples } from "@/core/formats/beat-archive";
import { soundsStruck } from "@/core/playback/part-sounds";
import { renderSounds } from "@/core/sound/kits/render-sounds";
import type { SoundBank, Sounds } from "@/core/sound/signal/sound";

/** By rate, what was made for another beat. */
const made = new Map<number, Sounds>();

/** What a demo beat strikes, its samples included. */
export function demoBank(beat: Beat, sampleRate: number): SoundBank {
  const samples = readSamples(demoSamples());
  const have = made.get(sampleRate);
  const bank = renderSounds(soundsStruck(beat, firstPlaces(beat)), sampleRate, have, samples);
  made.set(sampleRate, { ...have, ...bank.sounds });
  return bank;
}
