import { CoreError, type CoreErrorCode } from "@/core/core-error";
import { fileKind, type FileKind } from "@/core/formats/file-kind";

/** Says of each kind of file where it belongs; others are nowhere at home here. */
const PLACES: Partial<Readonly<Record<FileKind, string>>> = {
  beat: "This is a beat: drop it on the shelf.",
  kit: "This is a kit: open a beat, and import it under Sounds.",
  groove: "This is a groove: open a beat, and take it under Timing, Groove from…",
  midi: "This is a MIDI file: on the shelf it becomes a beat, and under Timing, Groove from…, a groove.",
  sound: "This is a sound: open a beat, and drop it on a pad.",
};

/**
 * Refuses a file of ours, or a sound, that was brought to the wrong place, and says which is the right one.
 * @param wanted here
 * @returns the file's kind: one that is wanted, or one that only reading it can tell more about
 * @throws CoreError with the code given
 */
export function refuseOthers(bytes: Uint8Array, wanted: readonly FileKind[], code: CoreErrorCode): FileKind {
  const kind = fileKind(bytes);
  const place = PLACES[kind];
  if (place !== undefined && !wanted.includes(kind)) throw new CoreError(code, place);
  return kind;
}
