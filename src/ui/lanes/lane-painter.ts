import type { LaneFamily } from "@/core/beat/lanes";
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

export type Colours = Readonly<Record<"paper" | "rule" | "rule-strong" | "ink" | "pocket" | LaneFamily, string>>;
const COLOUR_NAMES = [
  ...(["paper", "rule", "rule-strong", "ink", "pocket"] as const),
  ...(Object.keys(OUTLINES) as LaneFamily[]),
];

/** The theme's colours as the canvas wants them. */
export function readColours(element: Element): Colours {
  const style = getComputedStyle(element);
  return Object.fromEntries(COLOUR_NAMES.map((name) => [name, style.getPropertyValue(`--${name}`).trim()])) as Colours;
}

let outlines: Readonly<Record<LaneFamily, Path2D>> | undefined;
const outlinePaths = () =>
  (outlines ??= Object.fromEntries(
    Object.entries(OUTLINES).map(([family, path]) => [family, new Path2D(path)]),
  ) as Record<LaneFamily, Path2D>);

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

/** A table with a byte for every pixel of every row: what thousands of hits are looked up in to draw none in vain. */
function pixelTable(rows: number, widthPx: number) {
  const columns = Math.ceil(widthPx) + 1;
  const bytes = new Uint8Array(rows * columns);
  return {
    bytes,
    columns,
    at: (row: number, x: number) => row * columns + Math.max(0, Math.min(columns - 1, Math.round(x))),
  };
}

function paintHits(
  context: CanvasRenderingContext2D,
  { hits, rowOf, silent, rows, widthPx }: LanePicture,
  colours: Colours,
  rowPx: number,
): void {
  const stamp = stampMaker(context, colours, rowPx);
  const { bytes, at } = pixelTable(rows, widthPx);
  const seen: HitMark[] = [];
  // From the newest, which lies on top, so that what it hides need not be drawn.
  for (let index = hits.length - 1; index >= 0; index--) {
    const mark = hits[index]!;
    const place = at(rowOf.get(mark.padId) ?? 0, mark.x);
    const cover = mark.covered ? 1 : sizeStep(mark.size);
    if (bytes[place]! >= cover) continue;
    bytes[place] = cover;
    seen.push(mark);
  }
  for (const { padId, family, x, endX, size, strength, covered } of seen.reverse()) {
    const hollow = covered || silent.has(padId);
    if (endX !== undefined) {
      const bar = { x, endX, row: rowOf.get(padId) ?? 0, rowPx, size };
      paintNote(
        context,
        bar,
        `color-mix(in oklab, ${colours[family]} ${Math.round(strength * 100)}%, ${colours.paper})`,
        hollow,
      );
      continue;
    }
    const { picture, sidePx } = stamp(family, sizeStep(size), Math.round(strength * 100), hollow);
    const y = ((rowOf.get(padId) ?? 0) + 0.5) * rowPx;
    context.drawImage(picture, x - sidePx / 2, y - sidePx / 2, sidePx, sidePx);
  }
}

interface NoteBar {
  readonly x: number;
  readonly endX: number;
  readonly row: number;
  readonly rowPx: number;
  readonly size: number;
}

/** A note from its start to its end, the harder the higher; its head is drawn full, so that its start is seen. */
function paintNote(context: CanvasRenderingContext2D, bar: NoteBar, colour: string, hollow: boolean): void {
  const { x, endX, row, rowPx, size } = bar;
  const high = Math.max(4, size * rowPx * 0.78);
  const top = (row + 0.5) * rowPx - high / 2;
  const wide = Math.max(NOTE_HEAD_PX, endX - x);
  context.fillStyle = context.strokeStyle = colour;
  context.lineWidth = 1.5;
  if (hollow) return context.strokeRect(x + 0.75, top + 0.75, wide - 1.5, high - 1.5);
  context.globalAlpha = 0.55;
  context.fillRect(x, top, wide, high);
  context.globalAlpha = 1;
  context.fillRect(x, top, NOTE_HEAD_PX, high);
}

/** How wide the head of a note is. */
const NOTE_HEAD_PX = 4;

/** Sizes are told apart in so many steps. */
const SIZE_STEPS = 24;

function sizeStep(size: number): number {
  return Math.max(2, Math.round(size * SIZE_STEPS));
}

interface Stamp {
  readonly picture: HTMLCanvasElement;
  readonly sidePx: number;
}

const stamps = new WeakMap<Colours, Map<string, Stamp>>();

/** Drawn shapes, each made once for a theme and a height of rows: a copy costs a fraction of a drawing. */
function stampMaker(context: CanvasRenderingContext2D, colours: Colours, rowPx: number) {
  const known = stamps.get(colours) ?? new Map<string, Stamp>();
  stamps.set(colours, known);
  const scale = context.getTransform().a;
  return (family: LaneFamily, step: number, percent: number, hollow: boolean): Stamp => {
    const key = `${family} ${step} ${percent} ${hollow} ${rowPx} ${scale}`;
    const found = known.get(key);
    if (found) return found;
    const radius = (step / SIZE_STEPS) * rowPx * RADIUS_SHARE;
    const sidePx = Math.ceil(2 * radius + 4);
    const picture = document.createElement("canvas");
    picture.width = picture.height = Math.ceil(sidePx * scale);
    const brush = picture.getContext("2d")!;
    brush.scale(picture.width / sidePx, picture.width / sidePx);
    brush.translate(sidePx / 2, sidePx / 2);
    brush.scale(radius, radius);
    const colour = `color-mix(in oklab, ${colours[family]} ${percent}%, ${colours.paper})`;
    brush.strokeStyle = brush.fillStyle = colour;
    brush.lineWidth = 1.5 / radius;
    if (hollow) brush.stroke(outlinePaths()[family]);
    else brush.fill(outlinePaths()[family]);
    const stamp = { picture, sidePx };
    known.set(key, stamp);
    return stamp;
  };
}

const WHISKER_PX = 1.2;

/** From where hits sound to where they were played; those that go to one place share one line. */
function paintWhiskers(
  context: CanvasRenderingContext2D,
  { hits, rowOf, rows, widthPx }: LanePicture,
  colours: Colours,
  rowPx: number,
): void {
  context.fillStyle = colours.ink;
  const { bytes, columns, at } = pixelTable(rows, widthPx);
  const reach = new Map<number, { row: number; from: number; to: number }>();
  for (const { padId, x, playedX } of hits) {
    if (Math.abs(playedX - x) <= 0.5) continue;
    const row = rowOf.get(padId) ?? 0;
    bytes[at(row, playedX)] = 1;
    const known = reach.get(at(row, x));
    if (!known) reach.set(at(row, x), { row, from: Math.min(x, playedX), to: Math.max(x, playedX) });
    else if (playedX < known.from) known.from = playedX;
    else if (playedX > known.to) known.to = playedX;
  }
  // Neighbouring pixels in one stroke: a crowd of hits is one block.
  for (let place = bytes.indexOf(1); place >= 0; place = bytes.indexOf(1, place)) {
    const [row, from] = [Math.floor(place / columns), place % columns];
    while (bytes[place] === 1 && Math.floor(place / columns) === row) place++;
    const wide = ((place - 1) % columns) - from + WHISKER_PX;
    context.fillRect(from - WHISKER_PX / 2, (row + 0.06) * rowPx, wide, 0.88 * rowPx);
  }
  for (const { row, from, to } of reach.values())
    context.fillRect(from, (row + 0.5) * rowPx - WHISKER_PX / 2, to - from, WHISKER_PX);
}

/** Crosses nearer than this look like one. */
const CROSS_GAP_PX = 4;

/** A small cross for every double trigger: it is there, and it is not heard. */
function paintMasked(
  context: CanvasRenderingContext2D,
  { masked, rowOf, rows, widthPx }: LanePicture,
  colours: Colours,
  rowPx: number,
): void {
  context.strokeStyle = colours.ink;
  context.lineWidth = 1.5;
  const { bytes, at } = pixelTable(rows, widthPx);
  for (const { padId, x } of masked) {
    const row = rowOf.get(padId) ?? 0;
    const place = at(row, x);
    // One by one, because thousands in one outline take very long.
    if (bytes.subarray(place - CROSS_GAP_PX, place + CROSS_GAP_PX + 1).includes(1)) continue;
    bytes[place] = 1;
    const y = (row + 0.5) * rowPx;
    const arm = 0.14 * rowPx;
    context.beginPath();
    context.moveTo(x - arm, y - arm);
    context.lineTo(x + arm, y + arm);
    context.moveTo(x + arm, y - arm);
    context.lineTo(x - arm, y + arm);
    context.stroke();
  }
}
