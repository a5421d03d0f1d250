import { memo } from "react";
import type { Beat, Part, Pattern } from "@/core/beat/beat";
import { layoutHits } from "../lanes/lane-layout";
import { familyColor } from "./drum-shape";

const WIDTH = 300;
const ROW = 6;

export interface MiniatureProps {
  readonly beat: Beat;
  readonly part: Part;
  readonly pattern: Pattern;
  readonly className: string;
}

/** A loop at a glance: only the lanes that are used, the kick at the bottom. */
export const Miniature = memo(function Miniature({ beat, part, pattern, className }: MiniatureProps) {
  const marks = layoutHits(beat, part.pads, pattern, WIDTH).filter(({ covered }) => !covered);
  const used = part.pads.filter(({ id }) => marks.some(({ padId }) => padId === id)).toReversed();
  const rowOf = new Map(used.map(({ id }, row) => [id, row]));
  const height = Math.max(8, used.length) * ROW;
  const offset = height - used.length * ROW;
  return (
    <svg className={className} viewBox={`0 0 ${WIDTH} ${height}`} preserveAspectRatio="none" aria-hidden>
      {marks.map(({ id, padId, x, size, family }) => (
        <rect
          key={id}
          x={x - 2}
          y={offset + rowOf.get(padId)! * ROW + (1 - size) * 2.5}
          width={3 + 3 * size}
          height={Math.max(1.5, size * ROW - 1)}
          rx="1"
          fill={familyColor(family)}
        />
      ))}
    </svg>
  );
}, sameLoop);

/** Of the beat only the meter shows. */
function sameLoop(a: MiniatureProps, b: MiniatureProps): boolean {
  return a.pattern === b.pattern && a.beat.meter === b.beat.meter && a.part.pads === b.part.pads;
}
