import type { Bpm } from "./tempo";
import { framesPerTick } from "./tempo";
import type { LoopSpan } from "./loop-span";
import type { Ticks } from "./ticks";

/**
 * One stretch of running transport without a jump or a tempo change: at `frame` the position was exactly `ticks`.
 * Every position is computed from its anchor, so nothing adds up over an evening.
 */
export interface TransportAnchor {
  /** Counts the starts of the transport and the changes of pattern; laps of different runs have nothing in common. */
  readonly segment: number;
  /** With its fraction: patterns change where the music does, not where a block begins. */
  readonly frame: number;
  readonly ticks: Ticks;
  readonly bpm: Bpm;
  /** What was played from there on. */
  readonly partId: number;
  readonly patternId: number;
  readonly span: LoopSpan;
}

/**
 * @returns the position at a frame, with its fraction
 * @example anchorTicksAt({ frame: 48_000, ticks: 0, bpm: 120 }, 72_000, 48_000) // 960
 */
export function anchorTicksAt(anchor: TransportAnchor, frame: number, sampleRate: number): Ticks {
  return (anchor.ticks + (frame - anchor.frame) / framesPerTick(anchor.bpm, sampleRate)) as Ticks;
}

/**
 * @returns the frame of a position, not rounded
 * @example anchorFrameAt({ frame: 48_000, ticks: 0, bpm: 120 }, 960, 48_000) // 72000
 */
export function anchorFrameAt(anchor: TransportAnchor, ticks: Ticks, sampleRate: number): number {
  return anchor.frame + (ticks - anchor.ticks) * framesPerTick(anchor.bpm, sampleRate);
}
