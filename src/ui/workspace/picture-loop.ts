/** Pictures come no more often than this: each costs a part of the page's picture. */
const PICTURE_MS = 40;

/** @returns true as long as what it draws is not at rest */
export type Draw = (nowMs: number) => boolean;

/**
 * Draws what moves past React, some 25 times a second as long as anything does, and not at all otherwise. It asks the browser for no
 * pictures: most of what is drawn goes to canvases that are shown without the page.
 */
export class PictureLoop {
  private readonly draws = new Set<Draw>();
  private timer: ReturnType<typeof setTimeout> | undefined;
  private drawnAtMs = -PICTURE_MS;

  /** @returns the undo */
  add(draw: Draw): () => void {
    this.draws.add(draw);
    this.wake();
    return () => this.draws.delete(draw);
  }

  /** Something may move: a picture follows at once, or as soon as the last one is old enough. */
  readonly wake = (): void => {
    this.timer ??= setTimeout(() => this.draw(), Math.max(0, this.drawnAtMs + PICTURE_MS - performance.now()));
  };

  close(): void {
    clearTimeout(this.timer);
    this.draws.clear();
  }

  private draw(): void {
    this.timer = undefined;
    this.drawnAtMs = performance.now();
    let moves = false;
    for (const draw of this.draws) if (draw(this.drawnAtMs)) moves = true;
    if (moves) this.wake();
  }
}
