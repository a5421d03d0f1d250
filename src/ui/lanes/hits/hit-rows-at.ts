import type { LaneInfo } from "@/core/beat/lanes";
import type { HitMark } from "../picture/lane-layout";

/** So near the pointer means that hit; a finger is wider, 44 pixels in all. */
const NEAR_PX = 11;
const NEAR_TOUCH_PX = 22;
/** So much of a note's end is held to make it longer. */
export const HIT_END_PX = 7;

/** The hits as they lie on the screen. */
export interface HitRows {
  readonly pads: readonly LaneInfo[];
  readonly hits: readonly HitMark[];
  readonly rowOf: ReadonlyMap<number, number>;
  readonly rowPx: number;
}

/** The row at a height, 0 on top; beyond the last one there is none. */
export function rowAt({ rowPx }: Pick<HitRows, "rowPx">, y: number): number {
  return Math.floor(y / rowPx);
}

/** The hit that is meant by a place: at its middle, or along a note. Of equals the newest, which lies on top. */
export function hitNear({ hits, rowOf, rowPx }: HitRows, x: number, y: number, touch: boolean): HitMark | undefined {
  const near = touch ? NEAR_TOUCH_PX : NEAR_PX;
  const slack = touch ? Math.max(0, NEAR_TOUCH_PX - rowPx / 2) : 0;
  let best: HitMark | undefined;
  let bestPx = Infinity;
  for (const mark of hits) {
    const middle = ((rowOf.get(mark.lane) ?? -9) + 0.5) * rowPx;
    const off = Math.abs(y - middle);
    if (off > rowPx / 2 + slack) continue;
    const along = x < mark.x ? mark.x - x : Math.max(0, x - Math.max(mark.x, mark.endX ?? mark.x));
    const distance = along + (off > rowPx / 2 ? off : 0);
    if (along > near || distance > bestPx) continue;
    best = mark;
    bestPx = distance;
  }
  return best;
}
