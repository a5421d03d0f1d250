import type { Beat, Hit, PatternRef, QuantizeSettings } from "../beat";
import { editPattern, numberHit } from "../edit";
import { changeQuantize, type QuantizeChange } from "../quantize-settings";

/** What a change of quantize is for. */
export type QuantizeScope =
  | { readonly kind: "all" }
  | { readonly kind: "pass"; readonly passId: number }
  | { readonly kind: "pad"; readonly pad: number }
  | { readonly kind: "hits"; readonly ids: ReadonlySet<number> };

/**
 * Changes what corrects recorded hits. Passes take the change as theirs; pads and single hits get settings of their own, in
 * place of those of their pass. Played times stay.
 * @example findPattern(setQuantize(beat, patternRef, { kind: "pass", passId }, { strength: 0.5 }), patternRef).passes[0].quantize.strength // 0.5
 */
export function setQuantize(beat: Beat, patternRef: PatternRef, scope: QuantizeScope, change: QuantizeChange): Beat {
  const inScope = (hit: Hit) =>
    scope.kind === "pad" ? hit.lane === scope.pad : scope.kind === "hits" && scope.ids.has(hit.id);
  return editPattern(beat, patternRef, (pattern) => ({
    ...pattern,
    passes: pattern.passes.map((pass) => {
      if (scope.kind === "all" || (scope.kind === "pass" && scope.passId === pass.id))
        return { ...pass, quantize: changeQuantize(pass.quantize, change) };
      if (scope.kind === "pass" || !pass.hits.some(inScope)) return pass;
      // The same object for hits that had the same settings, so that thousands of them are made ready once.
      const known = new Map<QuantizeSettings, QuantizeSettings>();
      const own = (settings: QuantizeSettings) => {
        const next = known.get(settings) ?? changeQuantize(settings, change);
        known.set(settings, next);
        return next;
      };
      const hits = pass.hits.map((hit) =>
        inScope(hit) ? numberHit({ ...hit, quantize: own(hit.quantize ?? pass.quantize) }, hit.id) : hit,
      );
      return { ...pass, hits };
    }),
  }));
}

/** The settings that correct the hits of a scope now: those of the newest of them. */
export function quantizeOf(
  passes: Beat["parts"][number]["patterns"][number]["passes"],
  scope: QuantizeScope,
): QuantizeSettings | undefined {
  for (const pass of passes.toReversed()) {
    if (scope.kind === "all" || (scope.kind === "pass" && scope.passId === pass.id)) return pass.quantize;
    if (scope.kind === "pass") continue;
    const hit = pass.hits.findLast(({ id, lane }) => (scope.kind === "pad" ? lane === scope.pad : scope.ids.has(id)));
    if (hit) return hit.quantize ?? pass.quantize;
  }
  return undefined;
}
