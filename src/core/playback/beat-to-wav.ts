import type { Beat, PatternPlace } from "../beat/beat";
import { patternLengthTicks } from "../beat/beat";
import { findPattern } from "../beat/edit";
import { CoreError } from "../core-error";
import type { WavBits } from "../formats/wav";
import { writeWav } from "../formats/wav";
import type { Kit } from "../sound/kit";
import { renderKit } from "../sound/kit";
import { renderLap, type RenderMode } from "../sound/render";
import { ticksToSeconds } from "../time/tempo";
import { compileEvents } from "./compile-events";

export const RENDER_RATES = [44100, 48000, 88200, 96000] as const;
/** Longer than anybody's loop; keeps a worker or a server from filling its memory. */
const MAX_RENDER_SECONDS = 15 * 60;

export interface WavOptions {
  readonly sampleRate: number;
  readonly bits: WavBits;
  readonly mode: RenderMode;
}

/** @throws CoreError "bad-value" */
export function parseSampleRate(text: string): number {
  const rate = RENDER_RATES.find((candidate) => String(candidate) === text);
  if (!rate)
    throw new CoreError("bad-value", `The sample rate must be one of ${RENDER_RATES.join(", ")}, not ${text}.`);
  return rate;
}

/**
 * One lap of a pattern as a WAV file. The same arguments give the same bytes in a browser, a worker and on a server.
 * @param kit rendered before at the same sample rate, if there is one
 * @throws CoreError "too-large" for a pattern of more than a quarter of an hour
 */
export function beatToWav(
  beat: Beat,
  place: PatternPlace,
  { sampleRate, bits, mode }: WavOptions,
  kit?: Kit,
): Uint8Array {
  const seconds = ticksToSeconds(patternLengthTicks(findPattern(beat, place), beat.meter), beat.bpm);
  if (seconds > MAX_RENDER_SECONDS) {
    throw new CoreError(
      "too-large",
      `This pattern lasts ${Math.round(seconds / 60)} minutes; ${MAX_RENDER_SECONDS / 60} are the most for a WAV file.`,
    );
  }
  const sound = renderLap(compileEvents(beat, place), kit ?? renderKit(sampleRate), mode);
  return writeWav(sound, bits, mode === "loop");
}
