import { createHash } from "node:crypto";
import { DRUM_IDS, type DrumId } from "../drums";
import { KIT_IDS, type KitId } from "../instruments";
import { renderClick } from "./click";
import { renderDrum } from "./kit";
import type { Samples } from "./dsp";
import { loudestMoment } from "./sample-level";

/** The beginning of a digest of samples, as bytes in the order of little-endian machines. */
function digest(samples: readonly Samples[]): string {
  const hash = createHash("sha256");
  for (const one of samples) hash.update(new Uint8Array(one.buffer, one.byteOffset, one.byteLength));
  return hash.digest("hex").slice(0, 16);
}

/** Of the softest and the hardest first stroke at 44.1 kHz, and where the drum stands; noted when the voices were made. */
const DECKHOUSE: Readonly<Record<DrumId, string>> = {
  kick: "9e92ecccc59d0561",
  snare: "4e9d73b669ad4cdd",
  sideStick: "16088eabcb58c9d8",
  clap: "7d2d16cd1f4db1eb",
  lowTom: "d859cc9e1131d66a",
  midTom: "e06d02e88827371a",
  highTom: "9d9eb47caf49d8a6",
  conga: "6607e3f1b1322ff6",
  closedHat: "e8c4d60bd9d68648",
  openHat: "e09e4261f85a437e",
  pedalHat: "9e6a77b45c645780",
  ride: "81e766e8a225c34c",
  crash: "8142772da10c4828",
  tambourine: "a4b82f1de412ceb9",
  shaker: "a6a637a6c51fb200",
  cowbell: "d580bc5a4764c28a",
};

/** The same of all sixteen drums of the other kits together. */
const OTHERS = { signalLamp: "6582e3a794848f0c", ropeAndCrate: "5931609f08ecdbca" } as const;

function noted(kit: KitId, drum: DrumId): readonly Samples[] {
  const { layers, gainLeft, gainRight } = renderDrum(kit, drum, 44_100);
  return [layers[0]![0]!, layers.at(-1)![0]!, Float32Array.of(gainLeft, gainRight)];
}

test.each(DRUM_IDS)("%s has the samples that it had on every other machine", (drum) => {
  expect(digest(noted("deckhouse", drum))).toBe(DECKHOUSE[drum]);
});

test.each(["signalLamp", "ropeAndCrate"] as const)("so has %s", (kit) => {
  expect(digest(DRUM_IDS.flatMap((drum) => noted(kit, drum)))).toBe(OTHERS[kit]);
});

// Balanced alike: who goes through kits changes the sound, and not how loud it is.
test.each(DRUM_IDS)("%s is as loud in every kit, within 1 LU, and sounds otherwise", (drum) => {
  const strokes = KIT_IDS.map((kit) => renderDrum(kit, drum, 48_000).layers.at(-1)![0]!);
  const levels = strokes.map((stroke) => loudestMoment([stroke], 48_000));
  expect(Math.max(...levels) - Math.min(...levels)).toBeLessThan(1);
  // Their spectra have little in common: they are told apart at once.
  for (const [one, other] of [
    [0, 1],
    [0, 2],
    [1, 2],
  ] as const)
    expect(likeness(strokes[one]!, strokes[other]!)).toBeLessThan(0.9);
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
  expect(digest(Object.values(renderClick(44_100)))).toBe("30791da41f14858e");
});
