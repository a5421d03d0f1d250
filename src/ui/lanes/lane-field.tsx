"use client";

import { useMemo } from "react";
import type { LaneInfo } from "@/core/beat/lanes";
import { useBeat, useOpenPattern, useWorkspaceState } from "../workspace/use-workspace";
import { HitField } from "./hit-field";
import { layoutHits } from "./lane-layout";
import { LanePicture } from "./lane-picture";
import { useLaneScale } from "./use-lane-scale";

export interface LaneFieldProps {
  readonly pads: readonly LaneInfo[];
  readonly widthPx: number;
  readonly heightPx: number;
}

/** The hits of all lanes, painted, and what takes the pointer to them. */
export function LaneField({ pads, widthPx, heightPx }: LaneFieldProps) {
  const beat = useBeat();
  const pattern = useOpenPattern();
  const hearing = useWorkspaceState((state) => state.hearing);
  const scale = useLaneScale(widthPx);
  const hits = useMemo(
    () => (widthPx > 0 ? layoutHits(beat, pads, pattern, scale, hearing) : []),
    [beat, pads, pattern, scale, hearing, widthPx],
  );
  return (
    <>
      {widthPx > 0 && <LanePicture pads={pads} hits={hits} scale={scale} heightPx={heightPx} />}
      <HitField pads={pads} hits={hits} scale={scale} heightPx={heightPx} />
    </>
  );
}
