import { CoreError } from "@/core/core-error";
import { SAMPLE_RATE } from "@/core/beat/beat";
import { MAX_SAMPLE_BYTES, MAX_SAMPLE_SECONDS } from "@/core/limits";
import type { OwnSample } from "@/core/sound/kits/own-sample";

/** Longer than this nothing is unpacked at all: it would fill the page's memory. */
const MOST_SECONDS = 600;
/** How long a file may take to say how long it is. */
const LENGTH_LIMIT_MS = 3000;

/** What the browser makes of a file. */
export interface DecodedAudio {
  readonly sampleRate: number;
  readonly channels: readonly Float32Array[];
}

export interface Decoder {
  /** How long a file says it is; undefined where it says nothing. */
  seconds(file: Blob): Promise<number | undefined>;
  /** @throws whatever the browser throws for what it can't decode */
  decode(bytes: ArrayBuffer): Promise<DecodedAudio>;
}

export interface ReadSample {
  readonly sample: OwnSample;
  /** What was left out of it, in sentences. */
  readonly leftOut: readonly string[];
}

/** The browser's own. */
export const browserDecoder: Decoder = {
  seconds(file) {
    const url = URL.createObjectURL(file);
    const audio = new Audio();
    const known = new Promise<number | undefined>((done) => {
      audio.onloadedmetadata = () => done(Number.isFinite(audio.duration) ? audio.duration : undefined);
      audio.onerror = () => done(undefined);
      setTimeout(() => done(undefined), LENGTH_LIMIT_MS);
      audio.preload = "metadata";
      audio.src = url;
    });
    return known.finally(() => {
      audio.removeAttribute("src");
      URL.revokeObjectURL(url);
    });
  },
  async decode(bytes) {
    const buffer = await new OfflineAudioContext(1, 1, SAMPLE_RATE).decodeAudioData(bytes);
    const channels = Array.from({ length: buffer.numberOfChannels }, (_, at) => buffer.getChannelData(at));
    return { sampleRate: buffer.sampleRate, channels };
  },
};

/**
 * An audio file as a sample at 48 kHz: one channel, or left and right, a minute at the most.
 * @throws CoreError "too-large" for files over 50 MB or ten minutes; "bad-sample" for what is no sound, or silent
 */
export async function readAudioFile(file: File, decoder: Decoder = browserDecoder): Promise<ReadSample> {
  if (file.size > MAX_SAMPLE_BYTES) throw new CoreError("too-large", "It is larger than 50 MB.");
  const seconds = await decoder.seconds(file);
  if (seconds !== undefined && seconds > MOST_SECONDS)
    throw new CoreError("too-large", `It lasts ${Math.round(seconds / 60)} minutes; ten are the most.`);
  const decoded = await decoder.decode(await file.arrayBuffer()).catch((cause: unknown) => {
    throw new CoreError("bad-sample", "The browser can’t read it as sound.", [], { cause });
  });
  return trimmed(decoded);
}

function trimmed({ sampleRate, channels }: DecodedAudio): ReadSample {
  const leftOut: string[] = [];
  const most = MAX_SAMPLE_SECONDS * sampleRate;
  const [first] = channels;
  if (!first || first.length === 0) throw new CoreError("bad-sample", "It is empty.");
  if (channels.length > 2) leftOut.push(`of its ${channels.length} channels the first two are taken`);
  if (first.length > most)
    leftOut.push(`of its ${Math.round(first.length / sampleRate)} s the first ${MAX_SAMPLE_SECONDS} are taken`);
  const sides = channels.slice(0, 2).map((channel) => channel.slice(0, most).map(finite));
  if (sides.every((side) => side.every((sample) => Math.abs(sample) < SILENT)))
    throw new CoreError("bad-sample", "It is silent.");
  const [left, right] = sides as [Float32Array, Float32Array?];
  // Two that are the same are one.
  const mono = !right || right.every((sample, at) => sample === left[at]);
  return { sample: { sampleRate, channels: mono ? [left] : [left, right] }, leftOut };
}

/** Below this a WAV file with 24 bits holds nothing. */
const SILENT = 2 ** -23;

function finite(sample: number): number {
  return Number.isFinite(sample) ? sample : 0;
}
