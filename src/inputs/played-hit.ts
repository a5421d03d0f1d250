/** The device names of what every computer has; MIDI devices have the names they tell. */
export const KEYS_DEVICE = "Computer keys";
export const POINTER_DEVICE = "Pointer and touch";

/** A stroke from any device, as it came in. */
export interface PlayedHit {
  readonly lane: number;
  /** 1..127 */
  readonly velocity: number;
  /** The event's own time stamp, on the clock of `performance.now()`. */
  readonly timeMs: number;
  readonly device: string;
  /** The part that its device plays; the open one where it is left out. */
  readonly partId?: number;
  /** A second note of one stroke: kept and marked, but silent. */
  readonly masked?: true;
  /** The sound is cut off after so long, as of a half-closed hat. */
  readonly cutSeconds?: number;
}

/** The same pad let go, or a cymbal grabbed. */
export interface PadRelease {
  readonly lane: number;
  readonly timeMs: number;
  readonly device: string;
  readonly partId?: number;
}

/** Where all devices bring what is played. */
export interface PadListener {
  strike(hit: PlayedHit): void;
  release(release: PadRelease): void;
  /** The sound of a pad is stopped by hand. */
  choke(release: PadRelease): void;
  /** A held pad is pressed harder or softer. @param velocity 1..127 */
  press(lane: number, velocity: number, partId?: number): void;
}
