/**
 * Readings kept; the middle one counts, so that one or two bad readings move nothing, and after a dropout of the device,
 * which shifts all that follows, three are enough to follow it.
 */
const READINGS = 5;
/**
 * Two readings in a row that are off by more than this, and alike, are a new stretch of sound (a suspended context, another
 * device). A single one is a bad reading.
 */
const JUMP_MS = 20;
/** Readings that are nearer to each other than this say the same. */
const ALIKE_MS = 8;

/**
 * Tells which moment of the audio was audible at a moment of the page's clock, from pairs of both read now and then
 * (Web Audio: getOutputTimestamp). Both clocks run at the same speed over the seconds that the readings span.
 */
export class AudioClock {
  private readonly offsetsMs: number[] = [];
  private lastSeconds = -1;
  /** A reading that jumped, and waits for one like it. */
  private jumpedMs: number | undefined;
  /** Where the sound stood still, and since when; what is asked for after that moment is no earlier. */
  private stood: { readonly seconds: number; readonly sinceMs: number } | undefined;

  /** Two readings agree, and the last one does not contradict them. */
  get settled(): boolean {
    return this.offsetsMs.length >= 2 && this.jumpedMs === undefined;
  }

  /** A reading that was taken before counts once, however often it is asked for. */
  observe(contextSeconds: number, performanceMs: number): void {
    if (contextSeconds === this.lastSeconds) return;
    this.lastSeconds = contextSeconds;
    const offset = contextSeconds * 1000 - performanceMs;
    if (!isNear(offset, this.offsetMs(), JUMP_MS)) {
      const agreed = this.jumpedMs !== undefined && isNear(offset, this.jumpedMs, ALIKE_MS);
      const jumpedMs = this.jumpedMs;
      this.jumpedMs = offset;
      if (!agreed) return;
      this.offsetsMs.length = 0;
      this.offsetsMs.push(jumpedMs!);
    }
    this.jumpedMs = undefined;
    this.offsetsMs.push(offset);
    if (this.offsetsMs.length > READINGS) this.offsetsMs.shift();
  }

  /** The sound stands still, or comes from another device: what was read before says nothing of what comes. */
  reset(performanceMs: number): void {
    const seconds = this.audibleSecondsAt(performanceMs);
    if (seconds !== undefined) this.stood = { seconds, sinceMs: performanceMs };
    this.offsetsMs.length = 0;
    this.jumpedMs = undefined;
  }

  /** @returns undefined before the first reading */
  audibleSecondsAt(performanceMs: number): number | undefined {
    const offset = this.offsetMs();
    if (offset === undefined) return undefined;
    const seconds = (performanceMs + offset) / 1000;
    // What was struck while nothing sounded belongs where the sound stood.
    return this.stood && performanceMs >= this.stood.sinceMs ? Math.max(this.stood.seconds, seconds) : seconds;
  }

  private offsetMs(): number | undefined {
    const sorted = this.offsetsMs.toSorted((a, b) => a - b);
    return sorted.length === 0 ? undefined : sorted[Math.floor(sorted.length / 2)];
  }
}

/** True also where nothing is known to be far from. */
function isNear(offsetMs: number, knownMs: number | undefined, withinMs: number): boolean {
  return knownMs === undefined || Math.abs(offsetMs - knownMs) <= withinMs;
}
