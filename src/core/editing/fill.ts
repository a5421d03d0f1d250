import type { Beat, KitPart, Lane, Pad, PatternRef } from "../beat/beat";
import { patternLengthTicks } from "../beat/beat";
import { findPart, findPattern } from "../beat/edit";
import { removeHits } from "../beat/edits/pass-edit";
import { seededRandom, type Random } from "../random";
import { GRID_TICKS, gridLines, isTriplet } from "../time/grid";
import { barTicks, beatTicks } from "../time/meter";
import { asTicks, type Ticks } from "../time/ticks";
import { resolvedHits } from "../timing/resolve-timing";
import { writeHits, type WrittenHit, type Written } from "./write-hits";

/** How much of the last bar a fill takes. */
export const FILL_LENGTHS = ["beat", "half bar", "bar"] as const;
export type FillLength = (typeof FILL_LENGTHS)[number];

/** A step of a fill: which drum, from the snare (0) down to the lowest tom (1), or none; and how hard, 1..127. */
interface FillStep {
  readonly drum: number | "kick" | "rest";
  readonly velocity: number;
}

/** A way of filling. @param at the step's place in the fill, ratio 0 <= at < 1 @param onBeat it lies on a beat */
type FillShape = (at: number, onBeat: boolean, random: Random) => FillStep;

/** Common practice, no source: rolls that grow, ways down the drums, and hands that answer the foot. */
const SHAPES: readonly FillShape[] = [
  (at, onBeat) => ({ drum: at, velocity: (onBeat ? 112 : 92) + 8 * at }),
  (at, onBeat) => ({ drum: 0, velocity: 52 + 60 * at + (onBeat ? 12 : 0) }),
  (at, onBeat, random) => {
    if (onBeat) return { drum: at, velocity: 114 };
    return random() < 0.4 ? { drum: "kick", velocity: 96 } : { drum: at * random(), velocity: 84 };
  },
  (_, onBeat, random) => {
    const drum = !onBeat && random() < 0.35 ? "rest" : random();
    return { drum, velocity: onBeat ? 116 : 78 + 24 * random() };
  },
];

/**
 * Writes a fill into the end of a kit's loop, in place of all that is heard there but the kick, which goes on unless the
 * fill strikes it itself. It steps in sixteenths, or eighth triplets where the input grid is one of triplets.
 * @param seed the same one makes the same fill; each of four in a row has another shape
 * @returns the same beat for a part without a pad that could be struck
 */
export function writeFill(beat: Beat, patternRef: PatternRef, length: FillLength, seed: number): Written {
  const part = findPart(beat, patternRef.partId);
  const drums = part.kind === "kit" ? fillDrums(part) : undefined;
  if (!drums) return { beat, ids: [] };
  const end = patternLengthTicks(findPattern(beat, patternRef), beat.meter);
  const from = asTicks(end - fillTicks(beat, length));
  const hits = fillHits(beat, drums, from, end, seed);
  return writeHits(cleared(beat, patternRef, from, drums.kick, hits), patternRef, hits);
}

function fillTicks({ meter }: Beat, length: FillLength): Ticks {
  const [beatLong, bar] = [beatTicks(meter), barTicks(meter)];
  // Of an odd bar the larger half.
  const half = Math.ceil(meter.beats / 2) * beatLong;
  // An eighth would hold no more than two steps.
  const short = Math.min(bar, Math.max(beatLong, GRID_TICKS["1/4"]));
  return asTicks({ beat: short, "half bar": half, bar }[length]);
}

interface FillDrums {
  /** From the snare down to the lowest tom. */
  readonly down: readonly Lane[];
  readonly kick: Lane | undefined;
}

/** @returns undefined for a kit without pads that could be struck */
function fillDrums({ pads }: KitPart): FillDrums | undefined {
  const has = (role: Pad["role"]) => pads.filter((pad) => pad.role === role);
  const toms = has("tom").toSorted((a, b) => b.note - a.note);
  const hands = [...has("snare").slice(0, 1), ...toms];
  const struck = hands.length > 0 ? hands : pads.filter(({ role }) => role !== "kick").slice(0, 3);
  return struck.length === 0 ? undefined : { down: struck.map(({ id }) => id), kick: has("kick")[0]?.id };
}

function fillHits({ meter, inputQuantize }: Beat, drums: FillDrums, from: Ticks, end: Ticks, seed: number) {
  const { grid } = inputQuantize;
  const step = asTicks(GRID_TICKS[isTriplet(grid) ? "1/8T" : "1/16"]);
  const random = seededRandom(seed);
  const shape = SHAPES[seed % SHAPES.length]!;
  const beatLong = Math.max(beatTicks(meter), GRID_TICKS["1/4"]);
  const lines = gridLines(step, barTicks(meter), end).filter((ticks) => ticks >= from);
  return lines.flatMap((ticks): readonly WrittenHit[] => {
    const onBeat = (ticks - from) % beatLong === 0;
    const { drum, velocity } = shape((ticks - from) / (end - from), onBeat, random);
    const lane = laneOf(drums, drum);
    if (lane === undefined) return [];
    return [{ lane, ticks, velocity: Math.min(127, Math.round(velocity)), lengthTicks: step }];
  });
}

function laneOf({ down, kick }: FillDrums, drum: FillStep["drum"]): Lane | undefined {
  if (drum === "rest") return undefined;
  return drum === "kick" ? kick : down[Math.floor(drum * down.length)];
}

/** What the fill stands in place of. */
function cleared(
  beat: Beat,
  patternRef: PatternRef,
  from: Ticks,
  kick: Lane | undefined,
  hits: readonly WrittenHit[],
): Beat {
  const kickLines = new Set(hits.filter(({ lane }) => lane === kick).map(({ ticks }) => ticks));
  const pattern = findPattern(beat, patternRef);
  const silent = new Set(pattern.silentLanes);
  const gone = new Set(
    resolvedHits(pattern, beat.meter)
      .filter(({ hit, straightTicks }) => straightTicks >= from && !silent.has(hit.lane))
      .filter(({ hit, straightTicks }) => hit.lane !== kick || kickLines.has(asTicks(Math.round(straightTicks))))
      .map(({ hit }) => hit.id),
  );
  return removeHits(beat, patternRef, ({ id }) => gone.has(id));
}
