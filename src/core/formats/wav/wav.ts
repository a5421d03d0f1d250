import type { WaveFile } from "wavefile";
import wavefile from "wavefile/dist/wavefile.js";
import { CoreError } from "../../core-error";
import type { Samples } from "../../sound/signal/dsp";
import { BLOCK_FRAMES } from "../../sound/kernel/layout";
import { forEachBlock, type SoundStream } from "../../sound/player/render";

/** Hoisted: looking up a global per sample is slow, above all in a test's sandbox. */
const { max, min, round } = Math;

/** 32 is float, which nothing clips. */
export type WavBits = 16 | 24 | 32;
export const WAV_BITS: readonly WavBits[] = [16, 24, 32];

/**
 * @throws CoreError "bad-value"
 * @example parseWavBits("24") // 24
 */
export function parseWavBits(text: string): WavBits {
  const bits = WAV_BITS.find((candidate) => String(candidate) === text);
  if (!bits) throw new CoreError("bad-value", `WAV has 16, 24 or 32 bits, not ${text}.`);
  return bits;
}

/**
 * The library writes the chunks around no samples; the samples are packed into the file itself, because its way through
 * arrays of numbers takes most of the time of a render, and its copies most of the memory of a server.
 * @param stream is used up
 * @param loop marks the whole file as one endless loop (`smpl` chunk)
 */
export function writeWav(stream: SoundStream, bits: WavBits, loop: boolean): Uint8Array<ArrayBuffer> {
  const { sampleRate, frames } = stream;
  const file = emptyWav({ sampleRate, bits, loop, frames });
  const sounding = packStream(stream, bits, file.samples);
  if (sounding === frames) return file.bytes;
  const cut = emptyWav({ sampleRate, bits, loop, frames: sounding });
  cut.samples.set(file.samples.subarray(0, cut.samples.length));
  return cut.bytes;
}

interface WavShape {
  readonly sampleRate: number;
  readonly bits: WavBits;
  readonly loop: boolean;
  readonly frames: number;
}

/** A file whose `data` chunk is still silent, and that chunk. Sizes as RIFF has them (1991, from memory). */
function emptyWav(shape: WavShape): { bytes: Uint8Array<ArrayBuffer>; samples: Uint8Array } {
  const wav = new wavefile.WaveFile();
  wav.fromScratch(2, shape.sampleRate, shape.bits === 32 ? "32f" : String(shape.bits), []);
  wav.data = { chunkId: "data", chunkSize: 0, samples: new Uint8Array() };
  if (shape.bits === 32) setFloatHeader(wav, shape);
  if (shape.loop) setLoop(wav, shape);
  const chunks = wav.toBuffer();
  const size = (shape.frames * 2 * shape.bits) / 8;
  const start = String.fromCharCode(...chunks).indexOf("data") + 8;
  const bytes = new Uint8Array(chunks.length + size);
  bytes.set(chunks.subarray(0, start));
  bytes.set(chunks.subarray(start), start + size);
  const view = new DataView(bytes.buffer);
  view.setUint32(4, bytes.length - 8, true);
  view.setUint32(start - 4, size, true);
  return { bytes, samples: bytes.subarray(start, start + size) };
}

/** Little-endian frames, left before right. Returns how many frames there are without the silence at the end. */
function packStream(stream: SoundStream, bits: WavBits, bytes: Uint8Array): number {
  const pack = bits === 32 ? packFloats : packWhole;
  const [left, right] = [new Float32Array(BLOCK_FRAMES), new Float32Array(BLOCK_FRAMES)];
  let last = stream.leastFrames;
  forEachBlock(stream.frames, (from, count) => {
    const sound: Stereo = { left: left.subarray(0, count), right: right.subarray(0, count) };
    stream.next(sound.left, sound.right);
    pack(sound, bytes.subarray((from * 2 * bits) / 8, ((from + count) * 2 * bits) / 8), bits);
    for (let frame = count - 1; frame >= 0 && from + frame >= last; frame--) {
      if (left[frame] !== 0 || right[frame] !== 0) last = from + frame + 1;
    }
  });
  return last;
}

interface Stereo {
  readonly left: Samples;
  readonly right: Samples;
}

function packFloats({ left, right }: Stereo, bytes: Uint8Array): void {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  for (let frame = 0; frame < left.length; frame++) {
    view.setFloat32(8 * frame, left[frame]!, true);
    view.setFloat32(8 * frame + 4, right[frame]!, true);
  }
}

/** Whole numbers are rounded and clipped, never dithered. */
function packWhole({ left, right }: Stereo, bytes: Uint8Array, bits: number): void {
  const top = 2 ** (bits - 1);
  const shift = bits - 16;
  let at = 0;
  for (let sample = 0; sample < 2 * left.length; sample++) {
    const value = (sample & 1 ? right : left)[sample >> 1]!;
    const whole = max(-top, min(top - 1, round(value * top)));
    if (shift > 0) bytes[at++] = whole;
    bytes[at++] = whole >> shift;
    bytes[at++] = whole >> (shift + 8);
  }
}

/** RIFF 1994 addendum (from memory): what is not PCM has an extended `fmt ` of 18 bytes and a `fact` with its frames. */
function setFloatHeader(wav: WaveFile, { frames }: WavShape): void {
  wav.fmt = { ...wav.fmt, chunkSize: 18, cbSize: 0 };
  wav.fact = { chunkId: "fact", chunkSize: 4, dwSampleLength: frames };
}

/** RIFF 1994 addendum (from memory): the end is the last frame that plays, a count of 0 plays for ever. */
function setLoop(wav: WaveFile, { frames, sampleRate }: WavShape): void {
  wav.smpl = {
    chunkId: "smpl",
    chunkSize: 60,
    dwManufacturer: 0,
    dwProduct: 0,
    dwSamplePeriod: round(1e9 / sampleRate),
    dwMIDIUnityNote: 60,
    dwMIDIPitchFraction: 0,
    dwSMPTEFormat: 0,
    dwSMPTEOffset: 0,
    dwNumSampleLoops: 1,
    dwSamplerData: 0,
    loops: [{ dwName: 0, dwType: 0, dwStart: 0, dwEnd: frames - 1, dwFraction: 0, dwPlayCount: 0 }],
  };
}
