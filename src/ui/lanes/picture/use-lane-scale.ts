"use client";

import { useMemo } from "react";
import { patternLengthTicks } from "@/core/beat/beat";
import { viewRange } from "@/core/time/zoom";
import { useOfBeat, useOfPattern, useWorkspaceState } from "../../workspace/use-workspace";
import type { LaneScale } from "./lane-layout";

/** The part of the open pattern that the lanes show, on so many pixels. */
export function useLaneScale(widthPx: number): LaneScale {
  const meter = useOfBeat((beat) => beat.meter);
  const zoom = useWorkspaceState((state) => state.zoom);
  const lengthTicks = useOfPattern((pattern) => patternLengthTicks(pattern, meter));
  return useMemo(() => ({ ...viewRange(zoom, lengthTicks), widthPx }), [zoom, lengthTicks, widthPx]);
}
