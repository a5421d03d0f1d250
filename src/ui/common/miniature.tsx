import { memo } from "react";
import type { Beat, Part, Pattern } from "@/core/beat/beat";
import { lanesOf, padsOf, type LaneFamily } from "@/core/beat/lanes";
import { layoutHits, wholeScale, type HitMark } from "../lanes/lane-layout";
import { familyColor } from "./drum-shape";

const WIDTH = 300;
const ROW = 6;
/** Sizes that can be told apart in so little room. */
const SIZE_STEPS = 4;

export interface MiniatureProps {
  readonly beat: Beat;
  readonly part: Part;
  readonly pattern: Pattern;
  readonly className: string;
}

/** A loop at a glance: only the lanes that are used, the kick at the bottom. */
export const Miniature = memo(function Miniature({ beat, part, pattern, className }: MiniatureProps) {
  const marks = layoutHits(beat, lanesOf(part), pattern, wholeScale(pattern, beat.meter, WIDTH)).filter(
    ({ covered }) => !covered,
  );
  const hitPads = new Set(marks.map(({ padId }) => padId));
  const used = lanesOf(part)
    .filter(({ id }) => hitPads.has(id))
    .toReversed();
  const rowOf = new Map(used.map(({ id }, row) => [id, row]));
  const height = Math.max(8, used.length) * ROW;
  const offset = height - used.length * ROW;
  return (
    <svg className={className} viewBox={`0 0 ${WIDTH} ${height}`} preserveAspectRatio="none" aria-hidden>
      {[...outlines(marks, (padId) => offset + rowOf.get(padId)! * ROW)].map(([family, boxes]) => (
        <path key={family} d={[...boxes].join("")} fill={familyColor(family)} />
      ))}
    </svg>
  );
}, sameLoop);

/** Of the beat only the meter shows. */
function sameLoop(a: MiniatureProps, b: MiniatureProps): boolean {
  return a.pattern === b.pattern && a.beat.meter === b.beat.meter && padsOf(a.part) === padsOf(b.part);
}

/** One outline a family, and what would lie on top of its like but once: thousands of hits are few elements. */
function outlines(marks: readonly HitMark[], topOf: (padId: number) => number) {
  const boxes = new Map<LaneFamily, Set<string>>();
  for (const { padId, x, size, family } of marks) {
    const step = Math.round(size * SIZE_STEPS) / SIZE_STEPS;
    const top = topOf(padId) + (1 - step) * 2.5;
    const wide = 3 + 3 * step;
    const box = `M${Math.round(x) - 2} ${top.toFixed(1)}h${wide.toFixed(1)}v${(step * ROW - 1).toFixed(1)}h${(-wide).toFixed(1)}z`;
    boxes.set(family, (boxes.get(family) ?? new Set()).add(box));
  }
  return boxes;
}
