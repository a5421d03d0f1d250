/** A stroke from any device, as it came in. */
export interface PlayedHit {
  readonly pad: number;
  /** 1..127 */
  readonly velocity: number;
  /** The event's own time stamp, on the clock of `performance.now()`. */
  readonly timeMs: number;
  readonly device: "keys" | "pointer";
}

/** The same pad let go. */
export interface PadRelease {
  readonly pad: number;
  readonly timeMs: number;
}

export interface PadListener {
  strike(hit: PlayedHit): void;
  release(release: PadRelease): void;
}
