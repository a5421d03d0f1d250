import { findPattern } from "@/core/beat/edit";
import type { ClickSettings } from "@/core/sound/player/click-track";
import { fromDb } from "@/core/sound/signal/gain";
import { gridTicks } from "@/core/time/grid";
import type { WorkspaceState } from "../state/workspace-state";

/** How it clicks now. @param alone a click without a beat, for tapping along */
export function clickSettings(state: WorkspaceState, alone: boolean): ClickSettings {
  const { settings, transport, tapped, preview, history, patternRef } = state;
  // An empty pattern has nothing else by which one hears that it plays.
  const empty = findPattern(history.present, patternRef).passes.every(({ hits }) => hits.length === 0);
  const wanted =
    settings.clickWhen === "always" || (settings.clickWhen === "recording" && (transport.writing !== "off" || empty));
  return {
    on: alone || tapped !== undefined || preview !== undefined || (settings.clickOn && wanted),
    gain: fromDb(settings.clickDb),
    accent: settings.clickAccent,
    subdivisionTicks: alone ? 0 : (gridTicks(settings.clickSubdivision) ?? 0),
  };
}
