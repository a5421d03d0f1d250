import type { ClickSettings } from "@/core/sound/player/click-track";
import type { EventTable } from "@/core/sound/player/event-table";
import type { PartPeak } from "@/core/sound/player/player";
import type { RepeatedNote, RepeatHold } from "@/core/sound/player/note-repeater";
import type { PartLanes, SoundId, Sounds } from "@/core/sound/signal/sound";
import type { LaneMix, QueuedChange, SwitchMoment } from "@/core/sound/player/track";
import type { Ticks } from "@/core/time/ticks";
import type { TransportAnchor } from "@/core/time/transport-anchor";

/** How the transport begins. */
export interface StartOrder {
  readonly segment: number;
  readonly countInBars: number;
  /** Stops by itself after so many laps; 0 runs on. */
  readonly laps: number;
  /** The frame at which the first downbeat was, when a stroke has begun the run; there is no count-in then. */
  readonly downbeatFrame?: number;
  /** Only the leading part begins: for a click without a beat. */
  readonly leadOnly?: true;
}

/** From the page to the audio thread. Taken between two blocks, in the order in which they were sent. */
export type ToEngine =
  /** Sounds that are there from here on, more of them as they are made. */
  | { readonly type: "sounds"; readonly sounds: Sounds }
  /** Sounds that are needed no more. */
  | { readonly type: "drop-sounds"; readonly ids: readonly SoundId[] }
  /** What the lanes of a part strike. */
  | { readonly type: "lanes"; readonly partId: number; readonly lanes: PartLanes }
  /** What parts play from here on, all of them at the same moment. */
  | { readonly type: "tables"; readonly tables: readonly EventTable[] }
  | { readonly type: "lead"; readonly partId: number }
  | { readonly type: "remove"; readonly partId: number }
  | { readonly type: "mix"; readonly partId: number; readonly mix: LaneMix }
  /** Another pattern of a part takes over; at the end of a lap that is one of another part's, where one is named. */
  | {
      readonly type: "queue";
      readonly table: EventTable;
      readonly segment: number;
      readonly moment: SwitchMoment;
      readonly lapOf?: number;
    }
  | { readonly type: "unqueue"; readonly segment: number }
  | { readonly type: "click"; readonly click: ClickSettings }
  | { readonly type: "start"; readonly order: StartOrder }
  | { readonly type: "stop" }
  /** All that is reported is measured anew; reports say since which of these. */
  | { readonly type: "measure"; readonly since: number }
  | ({ readonly type: "hit"; readonly velocity: number; readonly cutSeconds: number } & OnLane)
  | ({ readonly type: "let-go" } & OnLane)
  | ({ readonly type: "choke" } & OnLane)
  | { readonly type: "silence"; readonly partId: number; readonly lanes: readonly number[] }
  | { readonly type: "rate"; readonly stepTicks: Ticks }
  | { readonly type: "hold"; readonly partId: number; readonly hold: RepeatHold }
  | ({ readonly type: "release" } & OnLane)
  | ({ readonly type: "press"; readonly velocity: number } & OnLane);

interface OnLane {
  readonly partId: number;
  readonly lane: number;
}

/** What left the app since the last report. */
export interface MeterReport {
  /** Highest amplitude of each side. */
  readonly peakLeft: number;
  readonly peakRight: number;
  /** Of each part. */
  readonly parts: readonly PartPeak[];
  /** The limiter had to work: without it, it would have clipped, by so many dB at the most. */
  readonly limited: boolean;
  readonly overDb: number;
  /** How loud the music is, without the click: of the last 400 ms, and of all since it was measured anew; LUFS. */
  readonly momentaryLufs: number;
  readonly integratedLufs: number;
  /** The last order to measure anew. */
  readonly since: number;
}

/** From the audio thread to the page. */
export type FromEngine =
  | { readonly type: "anchor"; readonly anchor: TransportAnchor }
  | ({ readonly type: "queued" } & QueuedChange)
  | { readonly type: "ended"; readonly segment: number }
  | { readonly type: "repeated"; readonly note: RepeatedNote }
  | ({ readonly type: "meter" } & MeterReport);

export const PROCESSOR_NAME = "echo-pocket";
export const PROCESSOR_URL = "/engine/processor.js";
