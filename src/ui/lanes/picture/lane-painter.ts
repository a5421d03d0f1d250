import type { LaneFamily } from "@/core/beat/lanes";
import { OUTLINES } from "../../common/drum-shape";
import type { HitMark, LineMark, MaskedMark } from "./lane-layout";

/** Of a lane's height, how much the hardest hit's radius takes. */
const RADIUS_SHARE = 0.36;

export interface LanePicture {
  readonly lines: readonly LineMark[];
  /** The lane of each row. */
  readonly lanes: readonly number[];
  /** By row. */
  readonly hits: readonly (readonly HitMark[])[];
  readonly masked: readonly (readonly MaskedMark[])[];
  /** Pads that make no sound now. */
  readonly silent: ReadonlySet<number>;
  readonly widthPx: number;
  readonly heightPx: number;
}

/** A row in which something differs, and from where to where. */
export interface ChangedRow {
  readonly row: number;
  readonly fromX: number;
  readonly toX: number;
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

/** More rows than this are not worth drawing one by one. */
const FEW_ROWS = 4;

/**
 * Draws the lanes: pockets and lines, then the hits with their whiskers. Hits that would cover each other are drawn once.
 * @param rows where it is drawn anew, over the picture that is there; all of it where they are left out
 */
export function paintLanes(
  context: CanvasRenderingContext2D,
  picture: LanePicture,
  colours: Colours,
  rows?: readonly ChangedRow[],
): void {
  const rowPx = picture.heightPx / picture.lanes.length;
  if (!rows || rows.length > FEW_ROWS) return paintRows(context, picture, colours, [...picture.lanes.keys()], rowPx);
  const edge = edgesOf(context, rowPx);
  const wholePx = edgesOf(context, 1);
  for (const { row, fromX, toX } of rows) {
    // No mark is wider than a row is high.
    const left = Math.max(0, wholePx(Math.floor(fromX - rowPx)));
    const right = Math.min(picture.widthPx, wholePx(Math.ceil(toX + rowPx)));
    context.save();
    context.beginPath();
    context.rect(left, edge(row), right - left, edge(row + 1) - edge(row));
    context.clip();
    const hits = picture.hits.with(row, marksNear(picture.hits[row]!, left - 2 * rowPx, right + 2 * rowPx));
    paintRows(context, { ...picture, hits }, colours, [row], rowPx);
    context.restore();
  }
}

/** The marks of which something may lie in a stretch. */
function marksNear(marks: readonly HitMark[], left: number, right: number): readonly HitMark[] {
  return marks.filter(
    ({ x, playedX, endX = x }) => Math.max(x, playedX, endX) >= left && Math.min(x, playedX) <= right,
  );
}

/**
 * Where rows begin, on whole pixels of the device: so lines are sharp, and what is drawn over a picture is to the pixel what a
 * new one would have there.
 */
function edgesOf(context: CanvasRenderingContext2D, rowPx: number): (row: number) => number {
  const { d: scale } = context.getTransform();
  return (row) => Math.round(row * rowPx * scale) / scale;
}

function paintRows(
  context: CanvasRenderingContext2D,
  picture: LanePicture,
  colours: Colours,
  rows: readonly number[],
  rowPx: number,
): void {
  const { widthPx, heightPx, lanes } = picture;
  context.clearRect(0, 0, widthPx, heightPx);
  paintLines(context, picture, colours);
  context.fillStyle = colours.rule;
  const edge = edgesOf(context, rowPx);
  for (let row = 1; row <= lanes.length; row++) context.fillRect(0, edge(row) - 1, widthPx, 1);
  const stamp = stampMaker(context, colours, rowPx);
  for (const row of rows) {
    paintWhiskers(context, picture, row, colours.ink, rowPx);
    paintHits(context, picture, row, colours, rowPx, stamp);
    paintMasked(context, picture, row, colours.ink, rowPx);
  }
}

function paintLines(context: CanvasRenderingContext2D, { lines, heightPx }: LanePicture, colours: Colours): void {
  const widths = { bar: 1.5, group: 0.75, beat: 1, step: 1 };
  const inks = { bar: colours.ink, group: colours.ink, beat: colours["rule-strong"], step: colours.rule };
  for (const { x, kind, pocketPx } of lines) {
    context.fillStyle = colours.pocket;
    context.fillRect(x - pocketPx, 0, 2 * pocketPx, heightPx);
    context.fillStyle = inks[kind];
    context.fillRect(x - widths[kind] / 2, 0, widths[kind], heightPx);
  }
}

/** A byte for every pixel of a row: what thousands of hits are looked up in to draw none in vain. */
function pixelRow(widthPx: number) {
  const columns = Math.ceil(widthPx) + 1;
  return {
    bytes: new Uint8Array(columns),
    at: (x: number) => Math.max(0, Math.min(columns - 1, Math.round(x))),
  };
}

function paintHits(
  context: CanvasRenderingContext2D,
  { hits, silent, widthPx }: LanePicture,
  row: number,
  colours: Colours,
  rowPx: number,
  stamp: StampMaker,
): void {
  const { bytes, at } = pixelRow(widthPx);
  const seen: HitMark[] = [];
  const marks = hits[row]!;
  // From the newest, which lies on top, so that what it hides need not be drawn.
  for (let index = marks.length - 1; index >= 0; index--) {
    const mark = marks[index]!;
    const place = at(mark.x);
    const cover = mark.duplicateOnLine ? 1 : sizeStep(mark.size);
    if (bytes[place]! >= cover) continue;
    bytes[place] = cover;
    seen.push(mark);
  }
  for (const { lane, family, x, endX, size, opacity, duplicateOnLine } of seen.reverse()) {
    const hollow = duplicateOnLine || silent.has(lane);
    const percent = Math.round(opacity * 100);
    if (endX !== undefined) {
      const colour = `color-mix(in oklab, ${colours[family]} ${percent}%, ${colours.paper})`;
      paintNote(context, { x, endX, row, rowPx, size }, colour, hollow);
      continue;
    }
    const { picture, sidePx } = stamp(family, sizeStep(size), percent, hollow);
    context.drawImage(picture, x - sidePx / 2, (row + 0.5) * rowPx - sidePx / 2, sidePx, sidePx);
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

type StampMaker = (family: LaneFamily, step: number, percent: number, hollow: boolean) => Stamp;

/** Drawn shapes, each made once for a theme and a height of rows: a copy costs a fraction of a drawing. */
function stampMaker(context: CanvasRenderingContext2D, colours: Colours, rowPx: number): StampMaker {
  const known = stamps.get(colours) ?? new Map<string, Stamp>();
  stamps.set(colours, known);
  const scale = context.getTransform().a;
  return (family, step, percent, hollow) => {
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
  { hits, widthPx }: LanePicture,
  row: number,
  ink: string,
  rowPx: number,
): void {
  context.fillStyle = ink;
  const { bytes, at } = pixelRow(widthPx);
  const reach = new Map<number, { from: number; to: number }>();
  for (const { x, playedX } of hits[row]!) {
    if (Math.abs(playedX - x) <= 0.5) continue;
    bytes[at(playedX)] = 1;
    const known = reach.get(at(x));
    if (!known) reach.set(at(x), { from: Math.min(x, playedX), to: Math.max(x, playedX) });
    else if (playedX < known.from) known.from = playedX;
    else if (playedX > known.to) known.to = playedX;
  }
  // Neighbouring pixels in one stroke: a crowd of hits is one block.
  for (let place = bytes.indexOf(1); place >= 0; place = bytes.indexOf(1, place)) {
    const from = place;
    while (bytes[place] === 1) place++;
    context.fillRect(from - WHISKER_PX / 2, (row + 0.06) * rowPx, place - 1 - from + WHISKER_PX, 0.88 * rowPx);
  }
  for (const { from, to } of reach.values())
    context.fillRect(from, (row + 0.5) * rowPx - WHISKER_PX / 2, to - from, WHISKER_PX);
}

/** Crosses nearer than this look like one. */
const CROSS_GAP_PX = 4;

/** A small cross for every double trigger: it is there, and it is not heard. */
function paintMasked(
  context: CanvasRenderingContext2D,
  { masked, widthPx }: LanePicture,
  row: number,
  ink: string,
  rowPx: number,
): void {
  context.strokeStyle = ink;
  context.lineWidth = 1.5;
  const { bytes, at } = pixelRow(widthPx);
  for (const { x } of masked[row]!) {
    const place = at(x);
    // One by one, because thousands in one outline take very long.
    if (bytes.subarray(Math.max(0, place - CROSS_GAP_PX), place + CROSS_GAP_PX + 1).includes(1)) continue;
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
