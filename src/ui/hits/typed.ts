import { CoreError } from "@/core/core-error";
import { parseAccents } from "@/core/editing/typed/typed-entry";
import { changeTyped, type TypedField } from "@/core/editing/typed/typed-change";
import { accentHits } from "@/core/editing/weigh-hits";
import type { HitEditor } from "@/store/editing/hit-editor";

/** Does what was typed of hits, of the chosen ones where no others are named. @returns why it was not taken, in words */
export function typeInto(
  hits: HitEditor,
  field: TypedField,
  typed: string,
  ids?: ReadonlySet<number>,
): string | undefined {
  return refusalOf(() =>
    hits.apply("Change", (beat, patternRef, own) => changeTyped(beat, patternRef, own, field, typed), ids),
  );
}

/** @returns why it was not taken, in words */
export function typeAccents(hits: HitEditor, typed: string): string | undefined {
  return refusalOf(() => {
    const steps = parseAccents(typed);
    hits.apply("Accents on", (beat, patternRef, ids) => accentHits(beat, patternRef, ids, steps));
  });
}

/** @returns why something typed was not taken, in words */
export function refusalOf(take: () => void): string | undefined {
  try {
    take();
    return undefined;
  } catch (error) {
    if (error instanceof CoreError) return error.message;
    throw error;
  }
}
