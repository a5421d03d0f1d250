import type { Part } from "@/core/beat/beat";
import { lanesOf, type LaneInfo } from "@/core/beat/lanes";

/** How often each lane was struck. */
export type StrokeCounts = Readonly<Record<number, number>>;

/** What was struck in one part. */
export interface StruckPart {
  readonly part: Part;
  readonly counts: StrokeCounts;
}

/**
 * What one lap of a recording is called where it is taken back; of several parts each with its name.
 * @param lap from 0
 * @example lapLabel(2, [{ part, counts: { 8: 15, 9: 1 } }]) // "lap 3, 16 hats"
 */
export function lapLabel(lap: number, struck: readonly StruckPart[]): string {
  const said = struck.map(({ part, counts }) => {
    const hits = countLabel(counts, lanesOf(part));
    return struck.length > 1 ? `${part.name} ${hits}` : hits;
  });
  return `lap ${lap + 1}, ${said.join(", ")}`;
}

function countLabel(counts: StrokeCounts, lanes: readonly LaneInfo[]): string {
  const struck = lanes.filter(({ id }) => counts[id]! > 0);
  const total = struck.reduce((sum, { id }) => sum + counts[id]!, 0);
  const nouns = new Set(struck.map(nounOf));
  const noun = nouns.size === 1 ? [...nouns][0]! : "hit";
  return `${total} ${total === 1 ? noun : plural(noun)}`;
}

function nounOf({ name, family }: LaneInfo): string {
  if (family === "pitch") return "note";
  return family === "hat" ? "hat" : name.toLowerCase();
}

function plural(noun: string): string {
  return noun.endsWith("sh") ? `${noun}es` : `${noun}s`;
}
