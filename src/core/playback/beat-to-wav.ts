import type { Beat, PatternRef } from "../beat/beat";
import { commonLapTicks } from "../beat/common-lap";
import { findPart } from "../beat/edit";
import { CoreError } from "../core-error";
import { MAX_RENDER_FRAMES } from "../limits";
import type { WavBits } from "../formats/wav/wav";
import { writeWav } from "../formats/wav/wav";
import type { SoundBank } from "../sound/signal/sound";
import { renderSounds } from "../sound/kits/render-sounds";
import { lapStream, type PartSound, type RenderMode } from "../sound/player/render";
import { ticksToSeconds } from "../time/tempo";
import { compileEvents } from "./compile-events";
import { partMix } from "./part-mix";
import { partLanes, soundsOfPlace, soundsStruck } from "./part-sounds";

export const RENDER_RATES = [44100, 48000, 88200, 96000] as const;

export interface WavOptions {
  readonly sampleRate: number;
  readonly bits: WavBits;
  readonly mode: RenderMode;
}

/**
 * @throws CoreError "bad-value"
 * @example parseSampleRate("48000") // 48000
 */
export function parseSampleRate(text: string): number {
  const rate = RENDER_RATES.find((candidate) => String(candidate) === text);
  if (!rate)
    throw new CoreError("bad-value", `The sample rate must be one of ${RENDER_RATES.join(", ")}, not ${text}.`);
  return rate;
}

/**
 * One lap of a pattern as a WAV file; of several, which are parts' that play together, one until they begin together again. The same arguments give the same bytes in a browser, a worker and on a server.
 * @param bank the sounds of these parts, rendered before at the same sample rate, or how to come by them; else they are made
 * @param mostFrames longer than anybody's loop; keeps a worker or a server from filling its memory
 * @throws CoreError "too-large" for a pattern that is longer
 */
export function beatToWav(
  beat: Beat,
  places: readonly PatternRef[],
  { sampleRate, bits, mode }: WavOptions,
  bank: SoundBank | (() => SoundBank) = () => renderSounds(soundsStruck(beat, places), sampleRate),
  mostFrames = MAX_RENDER_FRAMES,
): Uint8Array<ArrayBuffer> {
  const parts = partSounds(beat, places, sampleRate, mostFrames);
  const stream = lapStream(parts, typeof bank === "function" ? bank() : bank, mode);
  return writeWav(stream, bits, mode === "loop");
}

/**
 * What patterns that play together strike, and how loud.
 * @throws CoreError "too-large" for what takes more frames than that
 */
export function partSounds(
  beat: Beat,
  places: readonly PatternRef[],
  sampleRate: number,
  mostFrames = MAX_RENDER_FRAMES,
): readonly PartSound[] {
  const seconds = ticksToSeconds(commonLapTicks(beat, places), beat.bpm);
  const most = mostFrames / sampleRate;
  if (seconds > most) {
    throw new CoreError(
      "too-large",
      `${places.length === 1 ? "This pattern lasts" : "These patterns last"} ${Math.round(seconds)} s; ${Math.floor(most)} s at this rate are the most for a WAV file here.`,
    );
  }
  return places.map((patternRef) => {
    const part = findPart(beat, patternRef.partId);
    const sounds = soundsOfPlace(beat, patternRef);
    return { table: compileEvents(beat, patternRef), lanes: partLanes(beat, part), sounds, mix: partMix(beat, part) };
  });
}
