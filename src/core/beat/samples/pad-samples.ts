import { remember } from "../../remember";
import type { Beat, KitPart, PadLayer } from "../beat";
import { padsOf } from "../lanes";

/** The ids of the samples that pads strike, each once. */
export function samplesOfPads(pads: readonly { readonly layers: readonly PadLayer[] }[]): readonly string[] {
  const sources = pads.flatMap(({ layers }) => layers.map(({ source }) => source));
  return [...new Set(sources.flatMap((source) => (source.kind === "sample" ? [source.sampleId] : [])))];
}

const ofPart = remember<KitPart["pads"], readonly string[]>();

/** The same of all parts of a beat. Pads are looked at once. */
export function samplesIn({ parts }: Beat): readonly string[] {
  const samples = parts.flatMap((part) => {
    const pads = padsOf(part);
    return ofPart(pads, [], () => samplesOfPads(pads));
  });
  return [...new Set(samples)];
}
