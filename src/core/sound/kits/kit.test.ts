import { powerSpectrum } from "../../../../tests/support/spectrum";
import { DRUM_IDS, type DrumId } from "../../drums";
import { seededRandom } from "../../random";
import { DECKHOUSE } from "../drums/deckhouse";
import { KIT_IDS, type KitId } from "../../instruments";
import { renderDrum } from "./kit";
import { loudestMoment } from "../loudness/sample-level";
import type { Samples } from "../signal/dsp";
import { hardestStroke, layerFor, layerGain, velocityDb, type Sound } from "../signal/sound";
import { strokeLoudness } from "../loudness/stroke-loudness";

const RATE = 48_000;
const KITS = Object.fromEntries(
  KIT_IDS.map((kit) => [kit, Object.fromEntries(DRUM_IDS.map((drum) => [drum, renderDrum(kit, drum, RATE)]))]),
) as unknown as Record<KitId, Record<DrumId, Sound>>;
const EVERY = KIT_IDS.flatMap((kit) => DRUM_IDS.map((drum) => [kit, drum] as const));

test.each(EVERY)(
  "%s %s: every velocity is louder than the one before, whichever variants sound, by what the law says",
  (kit, drum) => {
    const { layers, right, velocities } = KITS[kit][drum];
    const strokes = layers.map((variants, layer) =>
      variants.map((samples, variant) => (right ? [samples, right[layer]![variant]!] : [samples])),
    );
    const levels = strokes.map((variants) => variants.map((sides) => strokeLoudness(sides, RATE)));
    const at = (velocity: number) => {
      const layer = layerFor(velocities, velocity);
      return levels[layer]!.map((lufs) => lufs + 20 * Math.log10(layerGain(velocities[layer]!, velocity)));
    };
    for (let velocity = 2; velocity <= 127; velocity++) {
      const [before, now] = [at(velocity - 1), at(velocity)];
      expect(Math.min(...now)).toBeGreaterThan(Math.max(...before));
      // Also over the seam between two layers.
      expect(Math.max(...now) - Math.min(...before) - velocityDb(velocity) + velocityDb(velocity - 1)).toBeLessThan(
        0.1,
      );
    }
    // By the 400 ms of the standard, too, variants are as loud as each other.
    for (const variants of strokes) {
      // All of them are loudest in their first second.
      const moments = variants.map((sides) =>
        loudestMoment(
          sides.map((side) => side.subarray(0, RATE)),
          RATE,
        ),
      );
      expect(Math.max(...moments) - Math.min(...moments)).toBeLessThan(0.7);
    }
  },
);

/** Noise is chance; what rings on two sides is mostly not, and takes its time. */
const STROKES = { noise: 6, plate: 2 };

/** The mean power of some hard strokes in each octave, in dB. */
function octavesOf(drum: DrumId, rate: number): readonly number[] {
  const length = 2 ** 15;
  const sums = [63, 125, 250, 500, 1000, 2000, 4000, 8000].map(() => 0);
  const strokes = KITS.deckhouse[drum].right ? STROKES.plate : STROKES.noise;
  for (let seed = 0; seed < strokes; seed++) {
    const random = seededRandom(seed);
    const [samples] = DECKHOUSE[drum].voice({ sampleRate: rate, random })({ force: 1, random });
    // As much of it at every rate.
    const spectrum = powerSpectrum(samples!.subarray(0, Math.round(0.3 * rate)), length, false);
    sums.forEach((_, octave) => {
      const edge = (factor: number) => Math.round((62.5 * 2 ** octave * factor * length) / rate);
      const band = spectrum.subarray(edge(Math.SQRT1_2), edge(Math.SQRT2));
      sums[octave]! += band.reduce((sum, power) => sum + power, 0) / rate;
    });
  }
  return sums.map((power) => 10 * Math.log10(power));
}

test.each(DRUM_IDS)("%s is the same drum at 44.1, 48 and 96 kHz: what counts of its octaves within 1 dB", (drum) => {
  const [own, ...others] = [48_000, 44_100, 96_000].map((rate) => octavesOf(drum, rate)) as [number[], ...number[][]];
  const most = Math.max(...own);
  for (const other of others)
    own.forEach((level, octave) => {
      if (level > most - 12) expect(Math.abs(level - other[octave]!)).toBeLessThan(1);
    });
});

test.each(["closedHat", "openHat", "pedalHat", "ride", "crash"] as const)(
  "%s stands between two sides, which hang together by 0.4 to 0.7",
  (drum) => {
    const [left, right] = hardestStroke(KITS.deckhouse[drum]) as [Samples, Samples];
    const product = (a: Samples, b: Samples) => a.reduce((sum, sample, at) => sum + sample * b[at]!, 0);
    const together = product(left, right) / Math.sqrt(product(left, left) * product(right, right));
    expect(together).toBeGreaterThan(0.4);
    expect(together).toBeLessThan(0.7);
  },
);
