import type { WaveFile } from "wavefile";
import wavefile from "wavefile/dist/wavefile.js";
import { CoreError } from "../core-error";
import type { StereoSound } from "../sound/render";

/** Taken once: inside the loops over samples a look-up of a global each time is dear, above all in a test's sandbox. */
const { max, min, round } = Math;

/** 32 is float, which nothing clips. */
export type WavBits = 16 | 24 | 32;
export const WAV_BITS: readonly WavBits[] = [16, 24, 32];

/** @throws CoreError "bad-value" */
export function parseWavBits(text: string): WavBits {
  const bits = WAV_BITS.find((candidate) => String(candidate) === text);
  if (!bits) throw new CoreError("bad-value", `WAV has 16, 24 or 32 bits, not ${text}.`);
  return bits;
}

/**
 * The library writes the chunks; the samples are packed here, because its way through arrays of numbers takes most of
 * the time of a render.
 * @param loop marks the whole file as one endless loop (`smpl` chunk)
 */
export function writeWav(sound: StereoSound, bits: WavBits, loop: boolean): Uint8Array {
  const wav = new wavefile.WaveFile();
  wav.fromScratch(2, sound.sampleRate, bits === 32 ? "32f" : String(bits), []);
  const samples = packSamples(sound, bits);
  wav.data = { chunkId: "data", chunkSize: samples.length, samples };
  if (bits === 32) setFloatHeader(wav, sound);
  if (loop) setLoop(wav, sound);
  return wav.toBuffer();
}

/** Little-endian frames, left before right; whole numbers are rounded and clipped, never dithered. */
function packSamples({ left, right }: StereoSound, bits: WavBits): Uint8Array {
  const width = bits / 8;
  const bytes = new Uint8Array(left.length * 2 * width);
  const view = new DataView(bytes.buffer);
  const top = 2 ** (bits - 1);
  [left, right].forEach((channel, side) => {
    for (let frame = 0; frame < channel.length; frame++) {
      const at = (frame * 2 + side) * width;
      const whole = max(-top, min(top - 1, round(channel[frame] * top)));
      if (bits === 32) view.setFloat32(at, channel[frame], true);
      else if (bits === 16) view.setInt16(at, whole, true);
      else {
        view.setUint16(at, whole & 0xffff, true);
        view.setInt8(at + 2, whole >> 16);
      }
    }
  });
  return bytes;
}

/** RIFF 1994 addendum (from memory): what is not PCM has an extended `fmt ` of 18 bytes and a `fact` with its frames. */
function setFloatHeader(wav: WaveFile, { left }: StereoSound): void {
  wav.fmt = { ...wav.fmt, chunkSize: 18, cbSize: 0 };
  wav.fact = { chunkId: "fact", chunkSize: 4, dwSampleLength: left.length };
}

/** RIFF 1994 addendum (from memory): the end is the last frame that plays, a count of 0 plays for ever. */
function setLoop(wav: WaveFile, { left, sampleRate }: StereoSound): void {
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
    loops: [{ dwName: 0, dwType: 0, dwStart: 0, dwEnd: left.length - 1, dwFraction: 0, dwPlayCount: 0 }],
  };
}
