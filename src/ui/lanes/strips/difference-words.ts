import type { Lane } from "@/core/beat/beat";
import type { PatternDifference } from "@/core/editing/pattern-difference";

/** @example differenceInWords(patternDifference(original, alternate, meter)) // "3 added, 1 moved, 1 lane silent" */
export function differenceInWords(difference: PatternDifference): string {
  const { added, gone, moved, weighed, silenced, unsilenced } = difference;
  const lanes = ({ length }: readonly Lane[]) => (length === 1 ? "lane" : "lanes");
  const counts = [
    [added.length, "added"],
    [gone.length, "gone"],
    [moved.length, "moved"],
    [weighed.length, "softer or louder"],
    [silenced.length, `${lanes(silenced)} silent`],
    [unsilenced.length, `${lanes(unsilenced)} no longer silent`],
  ] as const;
  const said = counts.filter(([count]) => count > 0).map(([count, what]) => `${count} ${what}`);
  return said.length > 0 ? said.join(", ") : "no difference";
}
