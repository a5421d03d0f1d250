import { DRUM_IDS } from "@/core/drums";
import { seededRandom } from "@/core/random";
import type { Sound, SoundBank } from "@/core/sound/signal/sound";
import { drumSound } from "@/core/sound/kits/sound-sets";

/** Sixteen bursts of noise in the place of Deckhouse's drums: what is heard of them stays when a drum is voiced anew. */
export function standInKit(sampleRate: number): SoundBank {
  const sounds = DRUM_IDS.map((drum, index): readonly [string, Sound] => {
    const burst = (layer: number, variant: number) => {
      const random = seededRandom(1000 * index + 10 * layer + variant);
      const length = 2000 + 1500 * index;
      return Float32Array.from(
        { length },
        (_, frame) => (random() - 0.5) * 0.1 * (layer + 1) * (1 - frame / length) * Math.min(1, frame / 20),
      );
    };
    const layers = [0, 1, 2, 3].map((layer) => [0, 1, 2].map((variant) => burst(layer, variant)));
    const hat = drum === "closedHat" || drum === "openHat" || drum === "pedalHat";
    return [
      drumSound("deckhouse", drum),
      {
        layers,
        velocities: [34, 68, 100, 127],
        gainLeft: 1 - index / 32,
        gainRight: 0.5 + index / 32,
        chokeGroup: hat ? 1 : 0,
      },
    ];
  });
  return { sampleRate, sounds: Object.fromEntries(sounds) };
}
