import type { FreeHit, Reading, ReadingHints } from "@/core/recover/readings/reading";
import type { Meter } from "@/core/time/meter";

/** What the recover worker does, seen from the page. */
export interface RecoverApi {
  findReadings(hits: readonly FreeHit[], meters: readonly Meter[], hints: ReadingHints): readonly Reading[];
}
