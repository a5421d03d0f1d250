import type { Beat, PadLayer } from "./beat";
import { padsOf } from "./lanes";

/** The ids of the samples that pads strike, each once. */
export function samplesOfPads(pads: readonly { readonly layers: readonly PadLayer[] }[]): readonly string[] {
  const sources = pads.flatMap(({ layers }) => layers.map(({ source }) => source));
  return [...new Set(sources.flatMap((source) => (source.kind === "sample" ? [source.sampleId] : [])))];
}

/** The same of all parts of a beat. */
export function samplesIn({ parts }: Beat): readonly string[] {
  return [...new Set(parts.flatMap((part) => samplesOfPads(padsOf(part))))];
}
