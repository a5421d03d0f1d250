import type { Beat } from "@/core/beat/beat";
import type { CoreErrorCode } from "@/core/core-error";
import type { BeatWithSamples } from "@/core/formats/beat-archive";
import type { KitWithSamples } from "@/core/formats/kit-file";

/** An error as its parts: what crosses threads keeps no class. */
export interface FileProblem {
  readonly code: CoreErrorCode;
  readonly message: string;
  readonly problems: readonly string[];
}

export type FileReply<T> = { readonly read: T } | { readonly problem: FileProblem };

export interface BeatFromMidi {
  readonly beat: Beat;
  readonly leftOut: readonly string[];
}

/** The file worker, seen from the page. */
export interface FileApi {
  beat(bytes: Uint8Array): FileReply<BeatWithSamples>;
  kit(bytes: Uint8Array): FileReply<KitWithSamples>;
  /** @param name of the beat that it becomes */
  midi(bytes: Uint8Array, id: string, name: string): FileReply<BeatFromMidi>;
}
