import { createHash } from "node:crypto";
import { DRUM_IDS, type DrumId } from "../../drums";
import { KIT_IDS, type KitId } from "../../instruments";
import { renderClick } from "../player/click";
import { renderDrum } from "./kit";
import type { Samples } from "../signal/dsp";
import { loudestMoment } from "../loudness/sample-level";
import { hardestStroke } from "../signal/sound";

/** The beginning of a digest of samples, as bytes in the order of little-endian machines. */
function digest(samples: readonly Samples[]): string {
  const hash = createHash("sha256");
  for (const one of samples) hash.update(new Uint8Array(one.buffer, one.byteOffset, one.byteLength));
  return hash.digest("hex").slice(0, 16);
}

/** Of the softest and the hardest first stroke at 44.1 kHz, and where the drum stands; noted when the voices were made. */
const DECKHOUSE: Readonly<Record<DrumId, string>> = {
  kick: "92f66e7503377b01",
  snare: "3205a8b0121eb223",
  sideStick: "d83019d0aa904c31",
  clap: "6827b681037b5cfb",
  lowTom: "4b5905f2fefa55de",
  midTom: "2e64efa779f50bba",
  highTom: "b1ae0863501bdadf",
  conga: "fd80016408fe26f1",
  closedHat: "c7856d4496c26ea6",
  openHat: "cf38d16026d89832",
  pedalHat: "50f4c41b9294bfd0",
  ride: "93305e29400e04bb",
  crash: "42069c19df6e8599",
  tambourine: "9fa4e9dddf36ac96",
  shaker: "62bdbd0c45e22e33",
  cowbell: "d44226788a0506de",
};

/** The same of all sixteen drums of the other kits together. */
const OTHERS = { signalLamp: "b573feedaf537d8e", ropeAndCrate: "fe1fc4982c215afc" } as const;

function noted(kit: KitId, drum: DrumId): readonly Samples[] {
  const sound = renderDrum(kit, drum, 44_100);
  return [sound.layers[0]![0]!, ...hardestStroke(sound), Float32Array.of(sound.gainLeft, sound.gainRight)];
}

test.each(DRUM_IDS)("%s has the samples that it had on every other machine", (drum) => {
  expect(digest(noted("deckhouse", drum))).toBe(DECKHOUSE[drum]);
});

test.each(["signalLamp", "ropeAndCrate"] as const)("so has %s", (kit) => {
  expect(digest(DRUM_IDS.flatMap((drum) => noted(kit, drum)))).toBe(OTHERS[kit]);
});

// Balanced alike: who goes through kits changes the sound, and not how loud it is.
test.each(DRUM_IDS)("%s is as loud in every kit, within 1 LU, and sounds otherwise", (drum) => {
  const strokes = KIT_IDS.map((kit) => hardestStroke(renderDrum(kit, drum, 48_000)));
  const levels = strokes.map((stroke) => loudestMoment(stroke, 48_000));
  expect(Math.max(...levels) - Math.min(...levels)).toBeLessThan(1);
  // Their spectra have little in common: they are told apart at once.
  for (const [one, other] of [
    [0, 1],
    [0, 2],
    [1, 2],
  ] as const)
    expect(likeness(strokes[one]![0]!, strokes[other]![0]!)).toBeLessThan(0.9);
});

/** How far two sounds hang together at the most, when one is moved against the other by up to 3 ms: ratio 0..1. */
function likeness(a: Samples, b: Samples): number {
  const length = Math.min(a.length, b.length, 8000);
  const energy = (samples: Samples) => samples.subarray(0, length).reduce((sum, x) => sum + x * x, 0);
  let most = 0;
  for (let shift = -132; shift <= 132; shift += 2) {
    let sum = 0;
    for (let at = Math.max(0, -shift); at < length && at + shift < length; at++) sum += a[at]! * b[at + shift]!;
    most = Math.max(most, Math.abs(sum));
  }
  return most / Math.sqrt(energy(a) * energy(b));
}

test("so have the four clicks", () => {
  expect(digest(Object.values(renderClick(44_100)))).toBe("7ca667703ab47d1f");
});
