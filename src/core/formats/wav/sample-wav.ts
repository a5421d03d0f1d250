import { SAMPLE_RATE } from "../../beat/beat";
import { CoreError } from "../../core-error";
import type { OwnSample } from "../../sound/kits/own-sample";

const HEADER_BYTES = 44;
const BYTES = 3;
const FULL_SCALE = 2 ** 23;

/**
 * A sample as a WAV file with 24 bits (RIFF as of 1991, from memory). What is beyond full scale is clipped.
 * @example writeSampleWav({ sampleRate: 48_000, channels: [Float32Array.of(0.5)] }).length // 44 + 3 + 1
 */
export function writeSampleWav({ sampleRate, channels }: OwnSample): Uint8Array<ArrayBuffer> {
  const frames = channels[0]!.length;
  const frameBytes = BYTES * channels.length;
  const size = frames * frameBytes;
  const bytes = new Uint8Array(HEADER_BYTES + size + (size % 2));
  const view = new DataView(bytes.buffer);
  const text = (at: number, value: string) => bytes.set(new TextEncoder().encode(value), at);
  text(0, "RIFF");
  view.setUint32(4, bytes.length - 8, true);
  text(8, "WAVEfmt ");
  view.setUint32(16, 16, true);
  view.setUint16(20, 1, true);
  view.setUint16(22, channels.length, true);
  view.setUint32(24, sampleRate, true);
  view.setUint32(28, sampleRate * frameBytes, true);
  view.setUint16(32, frameBytes, true);
  view.setUint16(34, 8 * BYTES, true);
  text(36, "data");
  view.setUint32(40, size, true);
  let at = HEADER_BYTES;
  for (let frame = 0; frame < frames; frame++)
    for (const channel of channels) {
      const value = Math.max(-FULL_SCALE, Math.min(FULL_SCALE - 1, Math.round(channel[frame]! * FULL_SCALE)));
      bytes[at++] = value & 255;
      bytes[at++] = (value >> 8) & 255;
      bytes[at++] = (value >> 16) & 255;
    }
  return bytes;
}

/** The inverse, for files that it wrote. @throws CoreError "bad-beat-file" for others */
export function readSampleWav(bytes: Uint8Array): OwnSample {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const channels = bytes.length > HEADER_BYTES ? view.getUint16(22, true) : 0;
  const size = bytes.length > HEADER_BYTES ? view.getUint32(40, true) : 0;
  const isOurs =
    (channels === 1 || channels === 2) &&
    view.getUint32(0) === 0x52494646 &&
    view.getUint32(36) === 0x64617461 &&
    view.getUint16(20, true) === 1 &&
    view.getUint16(34, true) === 8 * BYTES &&
    view.getUint32(24, true) === SAMPLE_RATE &&
    size > 0 &&
    size % (BYTES * channels) === 0 &&
    HEADER_BYTES + size <= bytes.length;
  if (!isOurs) throw new CoreError("bad-beat-file", "A sample in this file is no WAV file with 24 bits at 48 kHz.");
  return { sampleRate: SAMPLE_RATE, channels: unpack(view, channels, size / (BYTES * channels)) };
}

function unpack(view: DataView, channels: number, frames: number): readonly Float32Array[] {
  const sides = Array.from({ length: channels }, () => new Float32Array(frames));
  let at = HEADER_BYTES;
  for (let frame = 0; frame < frames; frame++)
    for (const side of sides) {
      side[frame] = (view.getUint16(at, true) | (view.getInt8(at + 2) << 16)) / FULL_SCALE;
      at += BYTES;
    }
  return sides;
}
