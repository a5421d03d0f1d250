import { loudest, type Samples } from "../signal/dsp";
import { LoudnessMeter } from "./loudness";

/** What is measured at a time, for the loudest stretch: a tenth of a second, as momentary loudness is. */
const STEP_SECONDS = 0.1;
/** So much room is left over a sample that is turned up. */
const HEADROOM_DB = 1;
/** No sample is turned up or down further. */
const MOST_DB = 40;
/** As loud as a tom, for who has nothing to compare with. */
export const USUAL_LUFS = -24;

/**
 * The loudness of the loudest 400 ms of something, which is taken for as long where it is shorter (ITU-R BS.1770-4, momentary).
 * @param channels one, which sounds on both sides, or left and right
 * @returns LUFS; -Infinity for silence
 */
export function loudestMoment(channels: readonly Samples[], sampleRate: number): number {
  const [left, right = left] = channels as [Samples, Samples?];
  const meter = new LoudnessMeter(sampleRate);
  const step = Math.round(STEP_SECONDS * sampleRate);
  const steps = Math.max(4, Math.ceil(left.length / step));
  let most = -Infinity;
  for (let at = 0; at < steps; at++) {
    const [a, b] = [new Float32Array(step), new Float32Array(step)];
    a.set(left.subarray(at * step, (at + 1) * step));
    b.set(right.subarray(at * step, (at + 1) * step));
    meter.add(a, b);
    most = Math.max(most, meter.momentary);
  }
  return most;
}

/** By how many dB a sample is to be turned up or down to be as loud as something else, its peak below full scale. */
export function gainToMatch(channels: readonly Samples[], sampleRate: number, targetLufs: number): number {
  const moment = loudestMoment(channels, sampleRate);
  if (moment === -Infinity) return 0;
  const peakDb = 20 * Math.log10(Math.max(...channels.map(loudest)));
  const gain = Math.min(targetLufs - moment, -HEADROOM_DB - peakDb, MOST_DB);
  return Number(Math.max(-MOST_DB, gain).toFixed(1));
}
