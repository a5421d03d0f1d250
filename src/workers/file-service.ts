import { CoreError } from "@/core/core-error";
import { readBeatArchive } from "@/core/formats/beat-archive";
import { readKitFile } from "@/core/formats/kit-file";
import { midiToBeat } from "@/core/formats/midi/midi-to-beat";
import type { FileApi, FileReply } from "./file-api";

/** Reads files of all kinds; what is wrong with one is an answer, too. */
export const fileService: FileApi = {
  beat: (bytes) => reply(() => readBeatArchive(bytes)),
  kit: (bytes) => reply(() => readKitFile(bytes)),
  midi: (bytes, id, name) => reply(() => midiToBeat(bytes, id, name)),
};

function reply<T>(read: () => T): FileReply<T> {
  try {
    return { read: read() };
  } catch (error) {
    if (!(error instanceof CoreError)) throw error;
    const { code, message, problems } = error;
    return { problem: { code, message, problems } };
  }
}
