import type { Beat, PatternPlace } from "@/core/beat/beat";
import type { CoreErrorCode } from "@/core/core-error";
import type { WavOptions } from "@/core/playback/beat-to-wav";

/** What the server's render thread is given. */
export interface RenderJob {
  readonly beat: Beat;
  readonly place: PatternPlace;
  readonly options: WavOptions;
}

/** What it answers; an error crosses as its parts. */
export type RenderReply =
  | { readonly ok: true; readonly bytes: Uint8Array }
  | { readonly ok: false; readonly code: CoreErrorCode; readonly message: string };
