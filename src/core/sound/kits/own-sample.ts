import type { Samples } from "../signal/dsp";
import { resample } from "../signal/resample";
import type { Sound } from "../signal/sound";

/** A sound of the player's own, as it was brought in. */
export interface OwnSample {
  readonly sampleRate: number;
  /** One, or left and right. */
  readonly channels: readonly Samples[];
}

/** By id. */
export type OwnSamples = Readonly<Record<string, OwnSample>>;

/** What of a sample is heard, and how. */
export interface Cut {
  /** In its own frames: from here on, up to there without that one. */
  readonly startFrame: number;
  readonly endFrame: number;
  /** At its end it goes out in so long, ms. */
  readonly fadeMs: number;
  readonly reversed: boolean;
}

/** So that neither end clicks. */
const START_FADE_MS = 0.4;
const LEAST_FADE_MS = 3;

/** One side of what is cut out of a sample, at a rate. @param channel 0 is left */
export function ownSound({ channels, sampleRate }: OwnSample, channel: number, cut: Cut, toRate: number): Sound {
  const { startFrame, endFrame, fadeMs, reversed } = cut;
  const piece = channels[Math.min(channel, channels.length - 1)]!.slice(startFrame, endFrame);
  if (reversed) piece.reverse();
  const samples = resample(piece, sampleRate / toRate);
  fadeEnds(samples, (START_FADE_MS * toRate) / 1000, (Math.max(LEAST_FADE_MS, fadeMs) * toRate) / 1000);
  return { layers: [[samples]], velocities: [127], gainLeft: 1, gainRight: 1, chokeGroup: 0 };
}

function fadeEnds(samples: Samples, inFrames: number, outFrames: number): void {
  const last = samples.length - 1;
  for (let frame = 0; frame <= last; frame++)
    samples[frame]! *= Math.min(1, frame / inFrames, (last - frame) / outFrames);
}
