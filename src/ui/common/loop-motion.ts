/** Further astray than this, a motion is put where it should be; the clock of the sound is read to some milliseconds. */
const ASTRAY_MS = 12;

/** A way that is gone in every lap. */
export interface Way {
  readonly keyframes: Keyframe[];
  /** Of one lap. */
  readonly durationMs: number;
}

/**
 * Something that moves with the loop. The browser's compositor moves it, without the page; now and then the page says where it has
 * to be.
 */
export class LoopMotion {
  private animation: Animation | undefined;
  private keyframes: Keyframe[] | undefined;

  /**
   * Moves an element, from where it should be at a moment of `performance.now()`.
   * @param share of the way, ratio 0..1
   */
  follow(element: Element, { keyframes, durationMs }: Way, share: number, nowMs: number): void {
    if (!this.animation || this.keyframes !== keyframes) {
      this.stop();
      this.animation = element.animate(keyframes, { duration: durationMs, iterations: Infinity });
      this.keyframes = keyframes;
    } else if (this.animation.effect!.getTiming().duration !== durationMs) {
      this.animation.effect!.updateTiming({ duration: durationMs });
    }
    const startMs = nowMs - share * durationMs;
    const { startTime } = this.animation;
    if (typeof startTime !== "number" || apart(startTime, startMs, durationMs) > ASTRAY_MS)
      this.animation.startTime = startMs;
  }

  stop(): void {
    this.animation?.cancel();
    this.animation = undefined;
  }
}

/** Distance of two moments of a loop, the shorter way round. */
function apart(aMs: number, bMs: number, loopMs: number): number {
  const by = Math.abs(aMs - bMs) % loopMs;
  return Math.min(by, loopMs - by);
}
