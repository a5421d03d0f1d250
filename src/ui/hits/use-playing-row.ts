"use client";

import { useRef } from "react";
import type { HitRow } from "@/core/editing/hit-rows";
import { wrap } from "@/core/time/ticks";
import { useMoving, useWorkspace } from "../workspace/use-workspace";

/** Turns to the hit that was heard last, where the player follows playback. */
export function usePlayingRow(rows: readonly HitRow[], turnTo: (row: number) => void): void {
  const workspace = useWorkspace();
  const shown = useRef(-1);
  useMoving((nowMs) => {
    const { follow, transport } = workspace.state;
    const audible = follow && transport.running ? workspace.playback.audibleAt(nowMs) : undefined;
    if (!audible) return follow && transport.running;
    const { span } = audible.anchor;
    const ticks = span.startTicks + wrap(audible.ticks, span.lengthTicks);
    const { patternId } = audible.anchor;
    const row = rows.findLastIndex((one) => one.patternId === patternId && one.ticks <= ticks);
    if (row >= 0 && row !== shown.current) {
      shown.current = row;
      turnTo(row);
    }
    return true;
  });
}
