import { accentAt, barTicks, pulseTicks } from "../../time/meter";
import { nextLoopLine, patternTicksAt } from "../../time/loop-span";
import type { Ticks } from "../../time/ticks";
import { wrap } from "../../time/ticks";
import type { ClickSamples } from "./click";
import type { Samples } from "../signal/dsp";
import type { EventTable } from "./event-table";

/** What stands out: nothing, the first beat, or also the groups of the meter. */
export type ClickAccent = "none" | "bar" | "groups";

export interface ClickSettings {
  readonly on: boolean;
  /** Amplitude, 0..1 and a little above. */
  readonly gain: number;
  readonly accent: ClickAccent;
  /** Softer clicks this far apart between the beats; 0 for none. Whole. */
  readonly subdivisionTicks: number;
}

export const SILENT_CLICK: ClickSettings = { on: false, gain: 1, accent: "groups", subdivisionTicks: 0 };

/** The first click at or after a transport position: a beat or a subdivision, counted anew from every bar and lap. */
export function nextClickTicks({ meter, span }: EventTable, click: ClickSettings, position: Ticks): Ticks {
  const bar = barTicks(meter);
  const beat = nextLoopLine(position, pulseTicks(meter), bar, span);
  if (click.subdivisionTicks === 0) return beat;
  return Math.min(beat, nextLoopLine(position, click.subdivisionTicks as Ticks, bar, span)) as Ticks;
}

/** The sound of a click at a transport position. */
export function clickSound(
  { meter, span }: EventTable,
  { accent }: ClickSettings,
  ticks: Ticks,
  samples: ClickSamples,
): Samples {
  const strength = accentAt(wrap(patternTicksAt(ticks, span), barTicks(meter)) as Ticks, meter);
  if (strength === "between") return samples.between;
  if (strength === "bar") return accent === "none" ? samples.beat : samples.accent;
  return strength === "group" && accent === "groups" ? samples.group : samples.beat;
}
