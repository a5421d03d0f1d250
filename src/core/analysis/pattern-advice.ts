import type { Beat, Hit, Pattern, PatternRef, QuantizeSettings } from "../beat/beat";
import type { Swing } from "../beat/feel";
import { findPart, findPattern } from "../beat/edit";
import { quantizeOf, type QuantizeScope } from "../beat/edits/quantize-edit";
import { changeQuantize, type QuantizeChange } from "../beat/quantize-settings";
import { groupBy } from "../group-by";
import { remember } from "../remember";
import { barTicks, type Meter } from "../time/meter";
import { secondsToTicks, type Bpm } from "../time/tempo";
import { asSeconds, type Ticks } from "../time/ticks";
import { warpTicks } from "../time/warp";
import { surroundingsOf } from "../timing/corrected-hits";
import { startOf } from "../timing/resolved-hit";
import { gridMisses, gridsOf, quantizer } from "../timing/quantize";
import { adviseGrid, MIN_ADVISED_HITS, movedBy, type GridAdvice, type SetGrid } from "./grid-advice";

/** Notes of one hand that begin within so long are a chord. */
const CHORD_SECONDS = asSeconds(0.035);

/** What the newest so many hits say is enough, and quick. */
const MAX_HITS = 300;

/** Advice about hits of a pattern, and the change that it offers. */
export interface PatternAdvice extends GridAdvice {
  /** The hits that it speaks of. */
  readonly scope: QuantizeScope;
  /** The pass that they are of, where it is one. */
  readonly pass: string | undefined;
  /** The change that leaves no hit moved; undefined where none is, or no change does. */
  readonly take: AdvisedChange | undefined;
}

/** A grid for the hits, and a swing for the pattern where it has neither swing nor groove. */
export interface AdvisedChange {
  readonly quantize: QuantizeChange;
  readonly swing: Swing | undefined;
}

const advices = remember<Pattern, PatternAdvice | undefined>();

/**
 * The grid that hits of a pattern were played on, beside the one that corrects them. Worked out once for a pattern that does not
 * change.
 * @param scope undefined: the newest pass that sounds and has enough hits
 * @param set what would correct them, where that is not what does
 */
export function advisePattern(
  beat: Beat,
  patternRef: PatternRef,
  scope: QuantizeScope | undefined,
  set?: QuantizeSettings,
): PatternAdvice | undefined {
  const { bpm, meter } = beat;
  const pattern = findPattern(beat, patternRef);
  const newest = pattern.passes.findLast(({ muted, hits }) => !muted && hits.length >= MIN_ADVISED_HITS);
  const asked: QuantizeScope | undefined = scope ?? (newest && { kind: "pass", passId: newest.id });
  if (!asked) return undefined;
  const key = JSON.stringify([bpm, meter, set, asked, asked.kind === "hits" ? [...asked.ids] : []]);
  return advices(pattern, [key], () => {
    const hits = hitsOf(pattern, asked);
    const tonal = findPart(beat, patternRef.partId).kind === "tonal";
    const advised = hits.map(({ hit }) => ({ id: hit.id, ticks: startOf(hit) }));
    const strokes = tonal ? chordStrokes(hits, bpm) : undefined;
    const settings = set ?? quantizeOf(pattern.passes, asked) ?? beat.inputQuantize;
    const setBy = ({ quantize, swing }: AdvisedChange) =>
      setGrid(hits, swing ? { ...pattern, swing } : pattern, meter, changeQuantize(settings, quantize));
    const advice = adviseGrid(advised, bpm, barTicks(meter), setBy({ quantize: {}, swing: undefined }), strokes);
    if (!advice) return undefined;
    const pass = asked.kind === "pass" ? pattern.passes.find(({ id }) => id === asked.passId)!.name : undefined;
    const harmless = (change: AdvisedChange) => movedBy(advised, advice.lineOf, setBy(change), bpm).length === 0;
    const offered = advice.moved.length > 0 || settings.grid === "off";
    const take = offered ? changesBy(advice, pattern, asked).find(harmless) : undefined;
    return { ...advice, scope: asked, pass, take };
  });
}

/** Changes that may leave no hit moved, the smallest first. A swing moves all hits of a pattern, and is offered where it speaks of all of them. */
function changesBy(
  advice: GridAdvice,
  { swing, groove, passes }: Pattern,
  scope: QuantizeScope,
): readonly AdvisedChange[] {
  const { grid, mix, family, swingPercent, swingUnit } = advice;
  const quantize: QuantizeChange = { grid, mix, adaptive: mix.length > 0 ? true : undefined };
  const alone = { quantize, swing: undefined };
  if (family !== "swung") return [alone];
  const thirds = { quantize: { grid: `${swingUnit!}T`, mix: [] } as const, swing: undefined };
  const others = passes.filter(({ id, hits }) => hits.length > 0 && scope.kind === "pass" && scope.passId !== id);
  const ofAll = scope.kind === "all" || (scope.kind === "pass" && others.length === 0);
  const played = { ratio: Math.round(swingPercent) / 100, unit: swingUnit! };
  return [alone, thirds, ...(ofAll && !swing && !groove ? [{ quantize, swing: played }] : [])];
}

/** The lines that some settings have for the hits of a pattern. */
function setGrid(hits: readonly HitOfPass[], pattern: Pattern, meter: Meter, settings: QuantizeSettings): SetGrid {
  const surroundings = surroundingsOf(pattern, meter, "grooved");
  const starts = hits.map(({ hit }) => startOf(hit));
  const correct = quantizer(
    settings,
    surroundings,
    gridMisses(() => starts, surroundings),
  );
  const lanes = new Map(hits.map(({ hit }) => [hit.id, hit.lane]));
  return {
    name: settings.grid === "off" ? undefined : gridsOf(settings, surroundings.feelGrid).join(" + "),
    strength: settings.strength,
    lineOf({ id, ticks }) {
      const { line } = correct(ticks);
      return line === undefined ? undefined : { line, felt: warpTicks(surroundings.feels(lanes.get(id)!).warp, line) };
    },
  };
}

interface HitOfPass {
  readonly hit: Hit;
  readonly passId: number;
}

function hitsOf({ passes }: Pattern, scope: QuantizeScope): HitOfPass[] {
  return passes
    .filter(({ id, muted }) => (scope.kind === "pass" ? id === scope.passId : !muted))
    .flatMap(({ id: passId, hits }) => hits.map((hit) => ({ hit, passId })))
    .filter(
      // What was made on a grid, or meant as the downbeat whatever the grid, says nothing about the player's.
      ({ hit: { id, lane, masked, quantize, downbeatTicks } }) =>
        !masked &&
        !quantize &&
        downbeatTicks === undefined &&
        (scope.kind !== "pad" || scope.pad === lane) &&
        (scope.kind !== "hits" || scope.ids.has(id)),
    )
    .slice(-MAX_HITS);
}

/**
 * Where a hand came down on keys: notes of one lap of a pass that begin together are one stroke, where the first of them is. Counted
 * one by one, a chord would say the same as often as it has notes.
 */
function chordStrokes(hits: readonly HitOfPass[], bpm: Bpm): Ticks[] {
  const within = secondsToTicks(CHORD_SECONDS, bpm);
  const byLap = groupBy(hits, ({ hit: { lap = 0 }, passId }) => `${passId} ${lap}`);
  return [...byLap.values()].flatMap((notes) => {
    const starts = notes.map(({ hit }) => startOf(hit)).sort((a, b) => a - b);
    let chord = -Infinity;
    return starts.filter((start) => {
      if (start - chord <= within) return false;
      chord = start;
      return true;
    });
  });
}
