import { sameSound } from "@/core/playback/same-sound";
import { sameItems } from "@/core/remember";
import type { ResolvedHit } from "@/core/timing/resolved-hit";

/** What a part's table is made of, and the hits of what it plays and goes on with. */
export interface TableSource {
  readonly madeOf: readonly unknown[];
  readonly hits: readonly (readonly ResolvedHit[])[];
}

/** By part, what the audio thread has already. */
export class SentTables {
  private readonly sent = new Map<number, TableSource>();

  /**
   * True where a part would sound otherwise than by what was sent last; what is asked about counts as sent from then on.
   * @param ringsOut how long a hit was held changes nothing
   */
  markIfChanged(partId: number, source: TableSource, ringsOut: boolean): boolean {
    const before = this.sent.get(partId);
    this.sent.set(partId, source);
    if (!before || !sameItems(before.madeOf, source.madeOf)) return true;
    return !source.hits.every((these, index) => sameSound(before.hits[index]!, these, ringsOut));
  }

  forget(partId: number): void {
    this.sent.delete(partId);
  }

  clear(): void {
    this.sent.clear();
  }
}
