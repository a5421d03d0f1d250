import type { Random } from "../../random";
import type { Samples } from "../dsp";

/** What a stroke is made with. */
export interface StrokeContext {
  readonly sampleRate: number;
  /** Ratio 0..1; a harder stroke is brighter and longer, its level is set afterwards. */
  readonly force: number;
  readonly random: Random;
}

/** Makes one stroke. */
export type DrumVoice = (stroke: StrokeContext) => Samples;

/** A factor near 1: the small difference between two strokes of one player. */
export function vary(random: Random, amount: number): number {
  return 1 + (random() * 2 - 1) * amount;
}
