/**
 * Readings kept; the middle one counts, so that one or two bad readings move nothing, and after a dropout of the device,
 * which shifts all that follows, three are enough to follow it.
 */
const READINGS = 5;
/**
 * Two readings in a row that are off by more than this, and alike, are a new stretch of sound (a suspended context, another
 * device). A single one is a bad reading.
 */
const JUMP_MS = 100;

/**
 * Tells which moment of the audio was audible at a moment of the page's clock, from pairs of both read now and then
 * (Web Audio: getOutputTimestamp). Both clocks run at the same speed over the seconds that the readings span.
 */
export class AudioClock {
  private readonly offsetsMs: number[] = [];
  private lastSeconds = -1;
  /** A reading that jumped, and waits for one like it. */
  private jumpedMs: number | undefined;

  /** A reading that was taken before counts once, however often it is asked for. */
  observe(contextSeconds: number, performanceMs: number): void {
    if (contextSeconds === this.lastSeconds) return;
    this.lastSeconds = contextSeconds;
    const offset = contextSeconds * 1000 - performanceMs;
    if (!isNear(offset, this.offsetMs())) {
      const agreed = this.jumpedMs !== undefined && isNear(offset, this.jumpedMs);
      this.jumpedMs = offset;
      if (!agreed) return;
      this.offsetsMs.length = 0;
    }
    this.jumpedMs = undefined;
    this.offsetsMs.push(offset);
    if (this.offsetsMs.length > READINGS) this.offsetsMs.shift();
  }

  /** @returns undefined before the first reading */
  audibleSecondsAt(performanceMs: number): number | undefined {
    const offset = this.offsetMs();
    return offset === undefined ? undefined : (performanceMs + offset) / 1000;
  }

  private offsetMs(): number | undefined {
    const sorted = this.offsetsMs.toSorted((a, b) => a - b);
    return sorted.length === 0 ? undefined : sorted[Math.floor(sorted.length / 2)];
  }
}

/** True also where nothing is known to be far from. */
function isNear(offsetMs: number, knownMs: number | undefined): boolean {
  return knownMs === undefined || Math.abs(offsetMs - knownMs) <= JUMP_MS;
}
