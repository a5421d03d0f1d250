import { memo } from "react";
import type { Beat, Pad, Part, Pattern } from "@/core/beat/beat";
import { lanesOf, padsOf, type LaneFamily } from "@/core/beat/lanes";
import { layoutHits, wholeScale, type HitMark } from "./lane-layout";
import { familyColor } from "../../common/drum-shape";

const WIDTH = 300;
const ROW = 6;
/** Sizes that can be told apart in so little room. */
const SIZE_STEPS = 4;

/** What a part plays. */
export interface MiniatureLoop {
  readonly part: Part;
  readonly pattern: Pattern;
}

export interface MiniatureProps {
  readonly beat: Beat;
  /** What plays together, as long as the longest of them: the others go round meanwhile. */
  readonly loops: readonly MiniatureLoop[];
  readonly className: string;
}

/** Loops at a glance, one part over the other: only the lanes that are used, the kick at the bottom. */
export const Miniature = memo(function Miniature({ beat, loops, className }: MiniatureProps) {
  const longest = Math.max(...loops.map(({ pattern }) => pattern.bars));
  const bands = loops.map((loop) => bandOf(beat, loop, longest)).toReversed();
  const rows = bands.reduce((sum, { used }) => sum + used.length, 0);
  const height = Math.max(8, rows) * ROW;
  let top = height - rows * ROW;
  const boxes = new Map<LaneFamily, Set<string>>();
  for (const { marks, used, starts } of bands) {
    const topOf = new Map(used.map((id, row) => [id, top + row * ROW]));
    for (const start of starts) addBoxes(boxes, marks, start, topOf);
    top += used.length * ROW;
  }
  return (
    <svg className={className} viewBox={`0 0 ${WIDTH} ${height}`} preserveAspectRatio="none" aria-hidden>
      {[...boxes].map(([family, one]) => (
        <path key={family} d={[...one].join("")} fill={familyColor(family)} />
      ))}
    </svg>
  );
}, sameLoops);

/** They look the same: of the beat only the meter shows. */
export function sameLoops(a: Pick<MiniatureProps, "beat" | "loops">, b: typeof a): boolean {
  const same = (one: MiniatureLoop, other: MiniatureLoop | undefined) =>
    one.pattern === other?.pattern && haveSameLanes(padsOf(one.part), padsOf(other.part));
  return (
    a.beat.meter === b.beat.meter &&
    a.loops.length === b.loops.length &&
    a.loops.every((loop, at) => same(loop, b.loops[at]))
  );
}

/** They are drawn in the same places and colours: a mute or a level shows nowhere in so little room. */
function haveSameLanes(a: readonly Pad[], b: readonly Pad[]): boolean {
  if (a === b) return true;
  return a.length === b.length && a.every(({ id, family }, at) => id === b[at]!.id && family === b[at]!.family);
}

/** The hits of a part, its lanes from the top, and where its laps begin. */
function bandOf(beat: Beat, { part, pattern }: MiniatureLoop, longestBars: number) {
  const width = (WIDTH * pattern.bars) / longestBars;
  const lanes = lanesOf(part);
  const marks = layoutHits(beat, lanes, pattern, wholeScale(pattern, beat.meter, width)).filter(
    ({ duplicateOnLine }) => !duplicateOnLine,
  );
  const hitLanes = new Set(marks.map(({ lane }) => lane));
  const used = lanes.flatMap(({ id }) => (hitLanes.has(id) ? [id] : [])).toReversed();
  const starts = Array.from({ length: Math.ceil(longestBars / pattern.bars) }, (_, lap) => lap * width);
  return { marks, used, starts };
}

/** One outline a family, and what would lie on top of its like but once: thousands of hits are few elements. */
function addBoxes(
  boxes: Map<LaneFamily, Set<string>>,
  marks: readonly HitMark[],
  start: number,
  topOf: ReadonlyMap<number, number>,
): void {
  for (const { lane, x, size, family } of marks) {
    if (start + x > WIDTH) continue;
    const step = Math.round(size * SIZE_STEPS) / SIZE_STEPS;
    const top = topOf.get(lane)! + (1 - step) * 2.5;
    const wide = 3 + 3 * step;
    const box = `M${Math.round(start + x) - 2} ${top.toFixed(1)}h${wide.toFixed(1)}v${(step * ROW - 1).toFixed(1)}h${(-wide).toFixed(1)}z`;
    boxes.set(family, (boxes.get(family) ?? new Set()).add(box));
  }
}
