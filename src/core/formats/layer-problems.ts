import type { PadSound } from "../beat/beat";

/**
 * Finds what a schema cannot: cuts of samples without a length, and velocity ranges that run backwards.
 * @param at where in the file their `pads` are
 */
export function* layerProblems(pads: readonly Pick<PadSound, "layers">[], at: string): Generator<string> {
  for (const [p, { layers }] of pads.entries())
    for (const [n, { source, velocities: [from, to] = [1, 127] }] of layers.entries()) {
      const layerAt = `${at}/pads/${p}/layers/${n}`;
      if (from > to) yield `${layerAt}/velocities: ${from} is above ${to}`;
      if (source.kind === "sample" && source.startFrame >= source.endFrame)
        yield `${layerAt}/source/endFrame: must be > ${source.startFrame}, got ${source.endFrame}`;
    }
}
