import { createHash } from "node:crypto";
import { DRUM_IDS, type DrumId } from "../drums";
import { renderClick } from "./click";
import { renderDrum } from "./kit";
import type { Samples } from "./dsp";

/** The beginning of a digest of samples, as bytes in the order of little-endian machines. */
function digest(samples: readonly Samples[]): string {
  const hash = createHash("sha256");
  for (const one of samples) hash.update(new Uint8Array(one.buffer, one.byteOffset, one.byteLength));
  return hash.digest("hex").slice(0, 16);
}

/** Of the softest and the hardest first stroke at 44.1 kHz, and where the drum stands; noted when the voices were made. */
const NOTED: Readonly<Record<DrumId, string>> = {
  kick: "fbe878e8b4ea80b2",
  snare: "d69f0cb967f90f4a",
  sideStick: "e7a0dead858e44a9",
  clap: "c09d57e39a8e5fc3",
  lowTom: "2597115fa28786a8",
  midTom: "47a68754bacdd30b",
  highTom: "8a296c8317fbe36f",
  conga: "fbf84dec2414b926",
  closedHat: "227bbb0bc1be8793",
  openHat: "32d4f24be67e9cd1",
  pedalHat: "926d045fa17f8c73",
  ride: "62c6acd41ba430b7",
  crash: "71ac04496b796ca3",
  tambourine: "42e926432aef4bde",
  shaker: "a66a7bcfcd215827",
  cowbell: "8aa157679a0bee22",
};

test.each(DRUM_IDS)("%s has the samples that it had on every other machine", (drum) => {
  const { layers, gainLeft, gainRight } = renderDrum("deckhouse", drum, 44_100);
  expect(digest([layers[0]![0]!, layers.at(-1)![0]!, Float32Array.of(gainLeft, gainRight)])).toBe(NOTED[drum]);
});

test("so have the four clicks", () => {
  expect(digest(Object.values(renderClick(44_100)))).toBe("d5fdf1bdef6dff76");
});
