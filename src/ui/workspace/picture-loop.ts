/** Pictures come no more often than this: each costs a part of the page's picture. */
const PICTURE_MS = 40;

/** @returns true as long as what it draws is not at rest */
export type Draw = (nowMs: number) => boolean;

/** Draws what moves past React, some 25 times a second as long as anything does, and not at all otherwise. */
export class PictureLoop {
  private readonly draws = new Set<Draw>();
  private timer: ReturnType<typeof setTimeout> | undefined;
  private frame: number | undefined;
  private drawnAtMs = -PICTURE_MS;

  /** @returns the undo */
  add(draw: Draw): () => void {
    this.draws.add(draw);
    this.wake();
    return () => this.draws.delete(draw);
  }

  /** Something may move: a picture follows at once, or as soon as the last one is old enough. */
  readonly wake = (): void => {
    if (this.timer !== undefined || this.frame !== undefined) return;
    const waitMs = this.drawnAtMs + PICTURE_MS - performance.now();
    if (waitMs <= 0) return this.ask();
    this.timer = setTimeout(() => {
      this.timer = undefined;
      this.ask();
    }, waitMs);
  };

  close(): void {
    clearTimeout(this.timer);
    if (this.frame !== undefined) cancelAnimationFrame(this.frame);
    this.draws.clear();
  }

  private ask(): void {
    this.frame = requestAnimationFrame(() => {
      this.frame = undefined;
      // The callback's own stamp is the picture's start; what is audible is asked for the moment it is drawn.
      this.drawnAtMs = performance.now();
      let moves = false;
      for (const draw of this.draws) if (draw(this.drawnAtMs)) moves = true;
      if (moves) this.wake();
    });
  }
}
