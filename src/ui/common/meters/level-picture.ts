import type { MeterReport } from "@/engine/protocol";
import { fall, levelShare, SILENT_DB } from "./fall";
import type { LevelColours } from "./level-colours";
import { meterContext } from "./meter-canvas";

const LOUD_FROM = 0.75;
const CLIPPED_FROM = 0.96;
const CORNER_PX = 2;

/** Which of the reported amplitudes a bar shows. */
export type PeakOf = (meter: MeterReport) => number;

interface Bar {
  readonly track: Element;
  readonly peakOf: PeakOf;
  /** The highest amplitude since it was drawn. */
  peak: number;
  levelDb: number;
}

/** Pixels of the screen, from the canvas's corner. */
interface Place {
  readonly x: number;
  readonly y: number;
  readonly width: number;
  readonly height: number;
}

/**
 * Level bars that lie near each other, drawn into one canvas over their tracks: a canvas a bar costs the page more than all that is drawn
 * in them.
 */
export class LevelPicture {
  private readonly bars = new Set<Bar>();
  private places: ReadonlyMap<Bar, Place> | undefined;
  private canvas: HTMLCanvasElement | undefined;
  private drawnAtMs = 0;
  private readonly resized: ResizeObserver;

  /** @param wake asks for a drawing soon */
  constructor(private readonly wake: () => void) {
    this.resized = new ResizeObserver(this.forgetPlaces);
  }

  /** @param canvas lies in a positioned box that it shares with the bars and is scrolled with @returns the undo */
  show(canvas: HTMLCanvasElement): () => void {
    const box = canvas.offsetParent ?? canvas;
    this.canvas = canvas;
    this.resized.observe(box);
    this.forgetPlaces();
    return () => {
      this.resized.unobserve(box);
      this.canvas = undefined;
    };
  }

  /** @param track the box that a level fills @returns the undo */
  add(track: Element, peakOf: PeakOf): () => void {
    const bar: Bar = { track, peakOf, peak: 0, levelDb: SILENT_DB };
    this.bars.add(bar);
    this.resized.observe(track);
    this.forgetPlaces();
    return () => {
      this.bars.delete(bar);
      this.resized.unobserve(track);
      this.forgetPlaces();
    };
  }

  /** Reports come more often than is drawn: none may be missed. */
  take(meter: MeterReport): void {
    for (const bar of this.bars) bar.peak = Math.max(bar.peak, bar.peakOf(meter));
  }

  /** @returns whether a level is still falling */
  draw(nowMs: number, colours: LevelColours): boolean {
    const elapsedMs = nowMs - this.drawnAtMs;
    this.drawnAtMs = nowMs;
    let hasChanged = !this.places;
    let falls = false;
    for (const bar of this.bars) {
      const levelDb = fall(bar.levelDb, bar.peak, elapsedMs);
      hasChanged ||= levelDb !== bar.levelDb;
      falls ||= levelDb > SILENT_DB;
      bar.levelDb = levelDb;
      bar.peak = 0;
    }
    if (hasChanged && this.canvas) this.paint(this.canvas, colours);
    return falls;
  }

  private readonly forgetPlaces = (): void => {
    this.places = undefined;
    this.wake();
  };

  private paint(canvas: HTMLCanvasElement, { usual, loud, clipped }: LevelColours): void {
    this.places ??= placeOver(canvas, this.bars);
    const context = meterContext(canvas);
    context.clearRect(0, 0, context.canvas.width, context.canvas.height);
    let from = 0;
    // Colours keep their places: what is loud is seen by how far the bar goes.
    for (const [colour, until] of [
      [usual, LOUD_FROM],
      [loud, CLIPPED_FROM],
      [clipped, 1],
    ] as const) {
      context.fillStyle = colour;
      for (const [{ levelDb }, { x, y, width, height }] of this.places) {
        const share = Math.min(levelShare(levelDb), until) - from;
        if (share > 0) context.fillRect(x + from * width, y, share * width, height);
      }
      from = until;
    }
  }
}

/** Lays the canvas over all bars, no larger than they need. @returns where in it each of them lies */
function placeOver(canvas: HTMLCanvasElement, bars: Iterable<Bar>): ReadonlyMap<Bar, Place> {
  const scale = devicePixelRatio;
  const boxes = [...bars].map((bar) => [bar, bar.track.getBoundingClientRect()] as const);
  const shown = boxes.filter(([, { width }]) => width > 0).map(([, box]) => box);
  const left = Math.min(...shown.map((box) => box.left));
  const top = Math.min(...shown.map((box) => box.top));
  const wide = Math.max(0, ...shown.map((box) => box.right - left));
  const high = Math.max(0, ...shown.map((box) => box.bottom - top));
  const parent = canvas.offsetParent;
  if (parent && shown.length > 0) {
    const from = parent.getBoundingClientRect();
    canvas.style.left = `${left - from.left - parent.clientLeft + parent.scrollLeft}px`;
    canvas.style.top = `${top - from.top - parent.clientTop + parent.scrollTop}px`;
  }
  canvas.style.width = `${wide}px`;
  canvas.style.height = `${high}px`;
  const context = meterContext(canvas);
  // The canvas is not the page's any more, and takes its size from here.
  context.canvas.width = Math.max(1, Math.round(wide * scale));
  context.canvas.height = Math.max(1, Math.round(high * scale));
  const places = boxes.map(([bar, box]) => {
    const pixels = (length: number) => Math.round(length * scale);
    const place = {
      x: pixels(box.left - left),
      y: pixels(box.top - top),
      width: pixels(box.width),
      height: pixels(box.height),
    };
    return [bar, place] as const;
  });
  roundCorners(
    context,
    places.map(([, place]) => place),
  );
  return new Map(places);
}

function roundCorners(context: ReturnType<typeof meterContext>, places: readonly Place[]): void {
  context.beginPath();
  for (const { x, y, width, height } of places)
    if (width > 0) context.roundRect(x, y, width, height, CORNER_PX * devicePixelRatio);
  context.clip();
}
