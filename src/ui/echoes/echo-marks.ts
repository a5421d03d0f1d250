import type { Echo } from "@/core/recover/echo";

const MAX_MARKS = 600;
const MARK_WIDTH = 2.5;

/**
 * A phrase as an outline: the pads that were struck from below, harder is larger.
 * @param xOf where a moment stands
 */
export function echoMarks({ hits }: Pick<Echo, "hits">, xOf: (timeMs: number) => number, height: number): string {
  const pads = [...new Set(hits.map(({ pad }) => pad))].sort((a, b) => a - b);
  const row = height / Math.max(4, pads.length);
  return hits
    .slice(0, MAX_MARKS)
    .map(({ timeMs, pad, velocity }) => {
      const high = row * (0.35 + (0.6 * velocity) / 127);
      const y = (height - (pads.indexOf(pad) + 0.5) * row - high / 2).toFixed(1);
      return `M${(xOf(timeMs) - MARK_WIDTH / 2).toFixed(1)} ${y}h${MARK_WIDTH}v${high.toFixed(1)}h-${MARK_WIDTH}z`;
    })
    .join("");
}
