import type { DrumFamily } from "@/core/drums";
import { OUTLINES } from "../common/drum-shape";
import type { HitMark, LineMark, MaskedMark } from "./lane-layout";

/** Of a lane's height, how much the hardest hit's radius takes. */
const RADIUS_SHARE = 0.36;

export interface LanePicture {
  readonly lines: readonly LineMark[];
  readonly hits: readonly HitMark[];
  readonly masked: readonly MaskedMark[];
  readonly rowOf: ReadonlyMap<number, number>;
  /** Pads that make no sound now. */
  readonly silent: ReadonlySet<number>;
  readonly rows: number;
  readonly widthPx: number;
  readonly heightPx: number;
}

export type Colours = Readonly<Record<"paper" | "rule" | "rule-strong" | "ink" | "pocket" | DrumFamily, string>>;
const COLOUR_NAMES = [
  ...(["paper", "rule", "rule-strong", "ink", "pocket"] as const),
  ...(Object.keys(OUTLINES) as DrumFamily[]),
];

/** The theme's colours as the canvas wants them. */
export function readColours(element: Element): Colours {
  const style = getComputedStyle(element);
  return Object.fromEntries(COLOUR_NAMES.map((name) => [name, style.getPropertyValue(`--${name}`).trim()])) as Colours;
}

let outlines: Readonly<Record<DrumFamily, Path2D>> | undefined;
const outlinePaths = () =>
  (outlines ??= Object.fromEntries(
    Object.entries(OUTLINES).map(([family, path]) => [family, new Path2D(path)]),
  ) as Record<DrumFamily, Path2D>);

/** Draws the lanes: pockets and lines, then the hits with their whiskers. Hits that would cover each other are drawn once. */
export function paintLanes(context: CanvasRenderingContext2D, picture: LanePicture, colours: Colours): void {
  const { widthPx, heightPx, rows } = picture;
  const rowPx = heightPx / rows;
  context.clearRect(0, 0, widthPx, heightPx);
  paintLines(context, picture, colours);
  context.fillStyle = colours.rule;
  for (let row = 1; row <= rows; row++) context.fillRect(0, row * rowPx - 1, widthPx, 1);
  paintWhiskers(context, picture, colours, rowPx);
  paintHits(context, picture, colours, rowPx);
  paintMasked(context, picture, colours, rowPx);
}

/** A pad and a pixel as one small whole number, which a set finds fastest. */
function placeKey(padId: number, x: number): number {
  return padId * 32768 + Math.round(x) + 64;
}

function paintLines(context: CanvasRenderingContext2D, { lines, heightPx }: LanePicture, colours: Colours): void {
  const widths = { bar: 1.5, beat: 1, step: 1 };
  const inks = { bar: colours.ink, beat: colours["rule-strong"], step: colours.rule };
  for (const { x, kind, pocketPx } of lines) {
    context.fillStyle = colours.pocket;
    context.fillRect(x - pocketPx, 0, 2 * pocketPx, heightPx);
    context.fillStyle = inks[kind];
    context.fillRect(x - widths[kind] / 2, 0, widths[kind], heightPx);
  }
}

function paintHits(
  context: CanvasRenderingContext2D,
  { hits, rowOf, silent }: LanePicture,
  colours: Colours,
  rowPx: number,
): void {
  const paths = outlinePaths();
  const drawn = new Set<number>();
  // From the newest, which lies on top, so that what it hides need not be drawn.
  const seen = hits.toReversed().filter(({ padId, x, size, covered }) => {
    const key = placeKey(padId, 2 * x) * 32 + (covered ? 31 : Math.round(8 * size));
    return !drawn.has(key) && drawn.add(key);
  });
  for (const { padId, family, x, size, strength, covered } of seen.reverse()) {
    const radius = size * rowPx * RADIUS_SHARE;
    const colour = `color-mix(in oklab, ${colours[family]} ${Math.round(strength * 100)}%, ${colours.paper})`;
    context.save();
    context.translate(x, ((rowOf.get(padId) ?? 0) + 0.5) * rowPx);
    context.scale(radius, radius);
    if (covered || silent.has(padId)) {
      context.strokeStyle = colour;
      context.lineWidth = 1.5 / radius;
      context.stroke(paths[family]);
    } else {
      context.fillStyle = colour;
      context.fill(paths[family]);
    }
    context.restore();
  }
}

function paintWhiskers(
  context: CanvasRenderingContext2D,
  { hits, rowOf }: LanePicture,
  colours: Colours,
  rowPx: number,
): void {
  context.strokeStyle = colours.ink;
  context.lineWidth = 1.2;
  context.beginPath();
  const drawn = new Set<number>();
  for (const { padId, x, playedX } of hits) {
    const key = placeKey(padId, playedX) * 4096 + Math.round(x / 4);
    if (Math.abs(playedX - x) <= 0.5 || drawn.has(key)) continue;
    drawn.add(key);
    const y = ((rowOf.get(padId) ?? 0) + 0.5) * rowPx;
    context.moveTo(x, y);
    context.lineTo(playedX, y);
    context.moveTo(playedX, y - 0.44 * rowPx);
    context.lineTo(playedX, y + 0.44 * rowPx);
  }
  context.stroke();
}

/** A small cross for every double trigger: it is there, and it is not heard. */
function paintMasked(
  context: CanvasRenderingContext2D,
  { masked, rowOf }: LanePicture,
  colours: Colours,
  rowPx: number,
): void {
  context.strokeStyle = colours.ink;
  context.lineWidth = 1.5;
  context.beginPath();
  const drawn = new Set<number>();
  for (const { padId, x } of masked) {
    const key = placeKey(padId, x);
    if (drawn.has(key)) continue;
    drawn.add(key);
    const y = ((rowOf.get(padId) ?? 0) + 0.5) * rowPx;
    const arm = 0.14 * rowPx;
    context.moveTo(x - arm, y - arm);
    context.lineTo(x + arm, y + arm);
    context.moveTo(x + arm, y - arm);
    context.lineTo(x - arm, y + arm);
  }
  context.stroke();
}
