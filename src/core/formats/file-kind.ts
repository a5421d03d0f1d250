import { unzipSync } from "fflate";

/** What a file is, as far as its beginning tells. */
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

/** Where a file belongs that was brought to another place. */
const WHERE: Readonly<Record<Exclude<FileKind, "json" | "unknown" | "zip">, string>> = {
  beat: "This is a beat: drop it on the shelf.",
  kit: "This is a kit: open a beat, and import it under Sounds.",
  groove: "This is a groove: open a beat, and take it under Timing, Groove from…",
  midi: "This is a MIDI file: on the shelf it becomes a beat, and under Timing, Groove from…, a groove.",
  sound: "This is a sound: open a beat, and drop it on a pad.",
};

/** @returns what a file is and where it goes, in a sentence; undefined for what is nowhere at home here */
export function whereItGoes(bytes: Uint8Array): string | undefined {
  const kind = fileKind(bytes);
  return kind === "json" || kind === "unknown" || kind === "zip" ? undefined : WHERE[kind];
}
