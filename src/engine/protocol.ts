import type { EventTable } from "@/core/sound/event-table";
import type { Kit } from "@/core/sound/kit";
import type { ClickSettings } from "@/core/sound/player";
import type { TransportAnchor } from "@/core/time/transport-anchor";

/** From the page to the audio thread. Taken between two blocks, in the order in which they were sent. */
export type ToEngine =
  | { readonly type: "kit"; readonly kit: Kit }
  | { readonly type: "table"; readonly table: EventTable }
  | { readonly type: "click"; readonly click: ClickSettings }
  | { readonly type: "start"; readonly run: number; readonly countInBars: number }
  | { readonly type: "stop" }
  | { readonly type: "hit"; readonly drum: number; readonly velocity: number };

/** What left the app since the last report. */
export interface MeterReport {
  /** Highest amplitude of each side. */
  readonly peakLeft: number;
  readonly peakRight: number;
  /** The limiter had to work: without it, it would have clipped. */
  readonly limited: boolean;
}

/** From the audio thread to the page. */
export type FromEngine =
  | { readonly type: "anchor"; readonly anchor: TransportAnchor | undefined }
  | ({ readonly type: "meter" } & MeterReport);

export const PROCESSOR_NAME = "echo-pocket";
export const PROCESSOR_URL = "/engine/processor.js";
