import type { AdvisedChange } from "@/core/analysis/pattern-advice";

/** @example wordsOfTake({ quantize: { grid: "1/8", mix: [] }, swing: { ratio: 0.62, unit: "1/8" } }) // "1/8, swing 62 %" */
export function wordsOfTake({ quantize: { grid, mix = [] }, swing }: AdvisedChange): string {
  return [[grid, ...mix].join(" + "), ...(swing ? [`swing ${Math.round(100 * swing.ratio)} %`] : [])].join(", ");
}
