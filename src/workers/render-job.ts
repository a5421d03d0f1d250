import type { CoreErrorCode } from "@/core/core-error";
import type { WavOptions } from "@/core/playback/beat-to-wav";

/** What a render thread of the server is given: a request as it came. */
export interface RenderJob {
  /** The text of a beat file. */
  readonly file: Uint8Array;
  readonly options: WavOptions;
}

/** What it answers: a WAV file, or an error as its parts. */
export type RenderReply = ArrayBuffer | RenderProblem;

export interface RenderProblem {
  readonly code: CoreErrorCode;
  readonly message: string;
  readonly problems: readonly string[];
}
