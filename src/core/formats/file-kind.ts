import { unzipSync } from "fflate";

/** The kinds of files that are told apart by how they begin. */
export type FileKind = "beat" | "kit" | "groove" | "midi" | "sound" | "zip" | "json" | "unknown";

/** The first bytes of files that hold sound, in the text that they are: RIFF, Ogg, FLAC, AIFF, MP3 with a tag (from memory). */
const SOUNDS = ["RIFF", "OggS", "fLaC", "FORM", "ID3"] as const;
/** A JSON file of ours says within so many bytes which of them it is. */
const LOOKED_AT_BYTES = 400;
const FORMAT = /^\s*\{[^{}[\]]*"format"\s*:\s*"echo-pocket-(beat|kit|groove)"/;
/** More entries than ours have are not looked through. */
const MOST_ENTRIES = 1000;

/** @example fileKind(new TextEncoder().encode('{"format":"echo-pocket-groove"')) // "groove" */
export function fileKind(bytes: Uint8Array): FileKind {
  const start = new TextDecoder("latin1").decode(bytes.subarray(0, LOOKED_AT_BYTES));
  if (start.startsWith("MThd")) return "midi";
  if (start.startsWith("PK")) return zipKind(bytes);
  if (SOUNDS.some((sign) => start.startsWith(sign))) return "sound";
  const format = FORMAT.exec(start)?.[1];
  if (format) return format as FileKind;
  return /^\s*[{[]/.test(start) ? "json" : "unknown";
}

function zipKind(bytes: Uint8Array): FileKind {
  let kind: FileKind = "zip";
  let entries = 0;
  try {
    unzipSync(bytes, {
      filter: ({ name }) => {
        if (++entries > MOST_ENTRIES) throw new Error("none of ours");
        if (name === "beat.json") kind = "beat";
        if (name === "kit.json") kind = "kit";
        return false;
      },
    });
  } catch {
    return "zip";
  }
  return kind;
}
