import type { Beat, PatternPlace } from "@/core/beat/beat";
import type { History } from "@/core/beat/history";
import type { OpenPass } from "@/core/record/record-stroke";
import type { TransportAnchor } from "@/core/time/transport-anchor";
import type { MeterReport } from "@/engine/protocol";
import type { JournalRecord } from "./database";
import type { MemoryReason } from "./repository";
import type { Settings } from "./settings";

/** `waiting`: the browser wants a gesture first. `failed`: no sound, all else works. */
export type SoundState = "loading" | "waiting" | "ready" | "failed";

/** What is on disk: all, not yet all, or nothing since the browser's store gave way. */
export type SaveState = "saved" | "saving" | "memory";

export interface Transport {
  /** Undefined while stopped; between the order to start and the audio thread's answer, too. */
  readonly anchor: TransportAnchor | undefined;
  readonly running: boolean;
  readonly recording: boolean;
}

/** Everything the workspace shows. Plain data, replaced and never changed. */
export interface WorkspaceState {
  readonly history: History<Beat>;
  readonly place: PatternPlace;
  readonly readOnly: boolean;
  readonly transport: Transport;
  /** Set from the first Record until it goes out. */
  readonly openPass: OpenPass | undefined;
  readonly saveState: SaveState;
  readonly memoryReason: MemoryReason | undefined;
  readonly sound: SoundState;
  readonly outputLatencyMs: number;
  readonly meter: MeterReport;
  /** Held until it is looked at, so that a clip in the second chorus is not missed. */
  readonly limitedOnce: boolean;
  readonly settings: Settings;
  /** A pass that an earlier page did not live to keep. */
  readonly lostPass: JournalRecord | undefined;
  /** What was just done or refused, for the status line. */
  readonly notice: string;
}

export const SILENT_METER: MeterReport = { peakLeft: 0, peakRight: 0, limited: false };
export const STOPPED: Transport = { anchor: undefined, running: false, recording: false };
