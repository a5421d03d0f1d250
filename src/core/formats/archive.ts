import { sha256 } from "@noble/hashes/sha2";
import { strFromU8, strToU8, unzipSync, zipSync, type UnzipFileInfo } from "fflate";
import { CoreError } from "../core-error";
import { MAX_BEAT_FILE_BYTES, MAX_SAMPLE_BYTES, MAX_SAMPLES } from "../limits";
import { readSampleWav } from "./wav/sample-wav";

/** WAV files of samples, by id. */
export type SampleFiles = Readonly<Record<string, Uint8Array<ArrayBuffer>>>;

export interface Archive {
  /** What its one JSON file says. */
  readonly text: string;
  readonly samples: SampleFiles;
}

/** Ours have a JSON file and samples; somebody's packer may have added some of its own. */
const MAX_ENTRIES = 1000;
const SAMPLE_NAME = /^samples\/([0-9a-f]{32})\.wav$/;

/**
 * The id of a sample: the first half of the SHA-256 digest (FIPS 180-4) of its WAV file.
 * @example sampleIdOf(Uint8Array.of(1, 2, 3)).length // 32
 */
export function sampleIdOf(wav: Uint8Array): string {
  return Array.from(sha256(wav).subarray(0, 16), (byte) => byte.toString(16).padStart(2, "0")).join("");
}

/** A ZIP file of a JSON file and samples. @param name of the JSON file */
export function writeArchive(name: string, text: string, samples: SampleFiles): Uint8Array<ArrayBuffer> {
  const files = Object.entries(samples).map(([id, wav]) => [`samples/${id}.wav`, wav] as const);
  // Every time the same bytes: ZIP has times from 1980 on.
  return zipSync(
    { [name]: strToU8(text), ...Object.fromEntries(files) },
    { mtime: "1980-01-02", level: 6 },
  ) as Uint8Array<ArrayBuffer>;
}

/** True where bytes begin as a ZIP file does. @example isArchive(Uint8Array.of(0x50, 0x4b, 3, 4)) // true */
export function isArchive(bytes: Uint8Array): boolean {
  return bytes[0] === 0x50 && bytes[1] === 0x4b;
}

/**
 * The inverse of writeArchive, for files from anywhere. Other files in it are left out.
 * @throws CoreError "too-large" over 1,000 files, over 64 samples, or 50 MB of them; "bad-beat-file" for what is no such
 *   archive, has two files of one name, or where a sample is not the one that its name says
 */
export function readArchive(bytes: Uint8Array, name: string): Archive {
  const files = unpack(bytes, name);
  const json = files[name];
  if (!json) throw new CoreError("bad-beat-file", `This ZIP file has no ${name}, so it is none of ours.`);
  const samples: Record<string, Uint8Array<ArrayBuffer>> = {};
  let size = 0;
  for (const [path, content] of Object.entries(files)) {
    const id = SAMPLE_NAME.exec(path)?.[1];
    if (!id) continue;
    // What a ZIP file says of sizes need not be so.
    size += content.length;
    if (size > MAX_SAMPLE_BYTES) throw tooLarge();
    if (sampleIdOf(content) !== id) throw new CoreError("bad-beat-file", `The sample ${path} is damaged.`);
    readSampleWav(content);
    samples[id] = content as Uint8Array<ArrayBuffer>;
  }
  return { text: strFromU8(json), samples };
}

/** Unpacks the wanted entries; the whole directory is checked before anything is unpacked. */
function unpack(bytes: Uint8Array, name: string): Record<string, Uint8Array> {
  try {
    const wanted = new Set(wantedEntries(bytes, name));
    return unzipSync(bytes, { filter: ({ name: path }) => wanted.has(path) });
  } catch (cause) {
    if (cause instanceof CoreError) throw cause;
    throw new CoreError("bad-beat-file", `This ZIP file can't be read: ${(cause as Error).message}.`, [], { cause });
  }
}

function wantedEntries(bytes: Uint8Array, name: string): readonly string[] {
  const names: string[] = [];
  let [entries, samples, sampleBytes] = [0, 0, 0];
  const look = ({ name: path, originalSize }: UnzipFileInfo) => {
    if (++entries > MAX_ENTRIES)
      throw new CoreError(
        "too-large",
        `This ZIP file has more than ${MAX_ENTRIES} files in it, so it is none of ours.`,
      );
    const isJson = path === name;
    if (!isJson && !SAMPLE_NAME.test(path)) return false;
    // Several that are one and the same would be unpacked one after the other.
    if (names.includes(path))
      throw new CoreError("bad-beat-file", `This ZIP file has two files that are called ${path}.`);
    names.push(path);
    if (isJson) {
      if (originalSize > MAX_BEAT_FILE_BYTES) throw tooLarge();
    } else if (++samples > MAX_SAMPLES || (sampleBytes += originalSize) > MAX_SAMPLE_BYTES) throw tooLarge();
    return false;
  };
  unzipSync(bytes, { filter: look });
  return names;
}

function tooLarge(): CoreError {
  return new CoreError("too-large", `A beat has ${MAX_SAMPLES} samples at the most, and 50 MB of them.`);
}
