import type { Pad } from "@/core/beat/beat";
import type { StrokeCounts } from "@/core/record/record-stroke";

/**
 * What one lap of a recording is called where it is taken back.
 * @param lap from 0
 * @example lapLabel(2, { 8: 15, 9: 1 }, pads) // "lap 3, 16 hats"
 */
export function lapLabel(lap: number, counts: StrokeCounts, pads: readonly Pad[]): string {
  const struck = pads.filter(({ id }) => counts[id]! > 0);
  const total = struck.reduce((sum, { id }) => sum + counts[id]!, 0);
  const nouns = new Set(struck.map(nounOf));
  const noun = nouns.size === 1 ? [...nouns][0]! : "hit";
  return `lap ${lap + 1}, ${total} ${total === 1 ? noun : plural(noun)}`;
}

function nounOf({ name, family }: Pad): string {
  return family === "hat" ? "hat" : name.toLowerCase();
}

function plural(noun: string): string {
  return noun.endsWith("sh") ? `${noun}es` : `${noun}s`;
}
